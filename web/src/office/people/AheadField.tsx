import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Ahead } from "../../types";

interface Props {
  value: Ahead | "";
  /** what it is when nothing is said: for one person as for all, for all everything */
  nothing: "company" | "all";
  disabled?: boolean;
  onChange: (to: Ahead | "") => void;
}

const all: Ahead[] = ["all", "today", "next"];

/** How far ahead technicians see their plan. */
export function AheadField({ value, nothing, disabled, onChange }: Props) {
  const { t } = useTranslation();
  const choices = all.filter((a) => a !== nothing);
  return (
    <TextField
      select
      size="small"
      label={t("seesAhead.label")}
      helperText={t("seesAhead.hint")}
      value={value === nothing ? "" : value}
      disabled={disabled}
      onChange={(e) => onChange(e.target.value as Ahead | "")}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">{t(`seesAhead.${nothing}`)}</MenuItem>
      {choices.map((a) => (
        <MenuItem key={a} value={a}>
          {t(`seesAhead.${a}`)}
        </MenuItem>
      ))}
    </TextField>
  );
}
