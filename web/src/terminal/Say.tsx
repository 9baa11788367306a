import { Button, MenuItem, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { useTranslation } from "react-i18next";
import { useRecord } from "../field/device";
import type { VisitView } from "../types";
import { typedNumber } from "../ui/decimal";
import { LayerDrawer } from "../ui/Layers";
import type { Present } from "./people";

interface Props {
  what: "note" | "part";
  person: Present;
  date: string;
  views: VisitView[];
  onDone: () => void;
}

/** A note to the office, or a part that is asked for. */
export function Say({ what, person, date, views, onDone }: Props) {
  const { t } = useTranslation();
  const record = useRecord();
  const [text, setText] = useState("");
  const [quantity, setQuantity] = useState("1");
  const [visit, setVisit] = useState(views[0]?.id ?? "");
  const send = async (e: FormEvent) => {
    e.preventDefault();
    const as = { as: person };
    const done =
      what === "note"
        ? await record("note.to_office", { type: "timecard", id: `${person.person}+${date}` }, { text: text.trim() }, as)
        : await record("part.requested", visit, { text: text.trim(), quantity: typedNumber(quantity) }, as);
    if (done) onDone();
  };
  return (
    <LayerDrawer anchor="bottom" onClose={onDone}>
      <form className="choices field fix" onSubmit={send}>
        <h2>{t(what === "note" ? "terminal.note" : "terminal.part")}</h2>
        {what === "part" && (
          <>
            <TextField select label={t("terminal.partFor")} value={visit} onChange={(e) => setVisit(e.target.value)}>
              {views.map((v) => (
                <MenuItem key={v.id} value={v.id}>
                  {v.order.number} · {v.site.name}
                </MenuItem>
              ))}
            </TextField>
            <TextField label={t("parts.quantity")} type="number" value={quantity} onChange={(e) => setQuantity(e.target.value)} />
          </>
        )}
        <TextField
          label={t(what === "note" ? "notes.add" : "terminal.partWhich")}
          value={text}
          autoFocus
          multiline
          minRows={2}
          onChange={(e) => setText(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 500 } }}
        />
        <Button type="submit" variant="contained" disabled={!text.trim()}>
          {t("tell.send")}
        </Button>
        <button type="button" className="link" onClick={onDone}>
          {t("choose.cancel")}
        </button>
      </form>
    </LayerDrawer>
  );
}
