import { TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { DateField } from "../form/dates";
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
  return fields.map((f) => {
    const label = t(`field.${f.path}` as Word);
    const value = values[f.path] ?? at(record, f.path);
    const change = (typed: string) => onChange({ ...values, [f.path]: typed });
    if (f.type === "date") return <DateField key={f.path} label={label} value={value} disabled={readOnly} onChange={change} />;
    return (
      <TextField
        key={f.path}
        label={label}
        value={value}
        type={f.type}
        multiline={!!f.lines}
        minRows={f.lines}
        slotProps={{ htmlInput: { readOnly } }}
        onChange={(e) => change(e.target.value)}
      />
    );
  });
}
