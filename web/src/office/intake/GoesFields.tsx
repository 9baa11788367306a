/** How many people work takes, and what goes along: folded, since most takes one with their van. */
import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { useThings } from "../things";
import { Choices } from "./Choices";
import css from "./GoesFields.module.css";

interface Props {
  crew: string;
  things: string[];
  onChange: (change: { crew?: string; things?: string[] }) => void;
}

export function GoesFields({ crew, things, onChange }: Props) {
  const { t } = useTranslation();
  const all = useThings();
  const [open, setOpen] = useState(crew !== "" || things.length > 0);
  return (
    <details className={css.goes} open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="small">{t("intake.goes")}</summary>
      {open && (
        <>
          <TextField
            type="number"
            label={t("intake.crew")}
            value={crew}
            placeholder="1"
            onChange={(e) => onChange({ crew: e.target.value })}
            slotProps={{ htmlInput: { min: 1, max: 20 }, inputLabel: { shrink: true } }}
          />
          <Choices
            label={t("board.things")}
            choices={all}
            pressed={(id) => things.includes(id)}
            onPress={(id) => onChange({ things: things.includes(id) ? things.filter((x) => x !== id) : [...things, id] })}
          />
        </>
      )}
    </details>
  );
}
