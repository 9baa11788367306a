import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Ahead } from "../../types";

interface Props {
  value: Ahead | "";
  /** what it is when nothing is said */
  nothing: string;
  disabled?: boolean;
  onChange: (to: Ahead | "") => void;
}

const all: Ahead[] = ["all", "today", "next"];

/** How far ahead technicians see their plan. */
export function AheadField({ value, nothing, disabled, onChange }: Props) {
  const { t } = useTranslation();
  return (
    <TextField
      select
      size="small"
      label={t("seesAhead.label")}
      helperText={t("seesAhead.hint")}
      value={value}
      disabled={disabled}
      onChange={(e) => onChange(e.target.value as Ahead | "")}
      slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
    >
      <MenuItem value="">{nothing}</MenuItem>
      {all.map((a) => (
        <MenuItem key={a} value={a}>
          {t(`seesAhead.${a}`)}
        </MenuItem>
      ))}
    </TextField>
  );
}
