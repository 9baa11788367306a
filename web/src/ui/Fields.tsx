import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { at, type Field } from "../records";
import type { Word } from "../words/i18n";

interface Props {
  record: unknown;
  fields: Field[];
  values: Record<string, string>;
  onChange: (values: Record<string, string>) => void;
  readOnly?: boolean;
}

/** The fields of a record to type into. values holds those that were typed in. */
export function Fields({ record, fields, values, onChange, readOnly }: Props) {
  const { t } = useTranslation();
  return fields.map((f) => (
    <TextField
      key={f.path}
      label={t(`field.${f.path}` as Word)}
      value={values[f.path] ?? at(record, f.path)}
      type={f.type}
      multiline={!!f.lines}
      minRows={f.lines}
      slotProps={{ inputLabel: f.type === "date" ? { shrink: true } : undefined, htmlInput: { readOnly } }}
      onChange={(e) => onChange({ ...values, [f.path]: e.target.value })}
    />
  ));
}
