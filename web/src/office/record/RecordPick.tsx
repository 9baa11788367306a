import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import type { FoundRecord } from "../../types";
import { useFind } from "../queries";

interface Props {
  type: "customer" | "site" | "asset";
  label: string;
  hint?: string;
  /** what is picked is called; "" while nothing is */
  name: string;
  /** that is not offered */
  except?: string;
  onPick: (hit?: FoundRecord) => void;
}

/** Finds a customer, site or machine by part of its name, and what it hangs on. */
export function RecordPick({ type, label, hint, name, except, onPick }: Props) {
  const { t } = useTranslation();
  const [text, setText] = useState("");
  const asked = text.trim().length > 1 ? text.trim() : "";
  const query = useFind(asked);
  const hits = (query.data?.hits ?? []).filter((h) => h.type === type && h.id !== except);
  if (name) {
    return (
      <p className="line">
        <span className="grow">
          <b>{name}</b>
        </span>
        <button type="button" className="link" onClick={() => onPick()}>
          {t("intake.change")}
        </button>
      </p>
    );
  }
  return (
    <div>
      <TextField label={label} helperText={hint} value={text} onChange={(e) => setText(e.target.value)} slotProps={{ htmlInput: { autoComplete: "off" } }} />
      {asked &&
        hits.map((h) => (
          <button type="button" className="choice" key={h.id} onClick={() => onPick(h)}>
            <span>
              <span className="strong block">{h.title}</span>
              <span className="small quiet">{h.detail}</span>
            </span>
          </button>
        ))}
      {asked && query.data && hits.length === 0 && <p className="small quiet">{t("pick.none")}</p>}
    </div>
  );
}
