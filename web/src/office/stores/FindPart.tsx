import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { nameOf, numberOf } from "../../catalogue/catalogue";
import { SideDrawer } from "../../ui/SideDrawer";
import { useCatalogue } from "./queries";

/** Finds a part of the catalogue. */
export function FindPart({ title, onPick, onClose }: { title: string; onPick: (part: string) => void; onClose: () => void }) {
  const { t } = useTranslation();
  const catalogue = useCatalogue();
  const [find, setFind] = useState("");
  const found = catalogue?.find(find).filter((i) => i.part) ?? [];
  return (
    <SideDrawer title={title} onClose={onClose}>
      <TextField
        label={t("parts.find")}
        value={find}
        autoFocus
        onChange={(e) => setFind(e.target.value)}
        onKeyDown={(e) => e.key === "Enter" && found[0] && onPick(found[0].id)}
        slotProps={{ htmlInput: { autoComplete: "off" } }}
      />
      <ul className="stores-scroll">
        {found.map((i) => (
          <li key={i.key}>
            <button type="button" className="choice" onClick={() => onPick(i.id)}>
              <span>
                <span className="strong">{nameOf(i)}</span>
                <span className="tiny quiet block">{numberOf(i)}</span>
              </span>
              <span className="small quiet">{i.part?.unit}</span>
            </button>
          </li>
        ))}
        {catalogue && found.length === 0 && <li className="empty">{t("parts.noMatch")}</li>}
      </ul>
    </SideDrawer>
  );
}
