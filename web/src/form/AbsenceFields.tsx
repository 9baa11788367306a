import { MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import type { Choice } from "../types";
import { DateField, TimeField } from "./dates";

export const noAbsence = { from: "", to: "", begin: "", end: "", why: "", note: "" };

type Absence = typeof noAbsence;

/** Whether an absence can be entered: it begins, and does not end before. */
export const absenceReady = ({ from, to, begin, end }: Absence) =>
  from !== "" && (to === "" || to >= from) && !(begin !== "" && end !== "" && (to || from) === from && end <= begin);

/** What is recorded of it: one day when no last one is given, without what was left empty. */
export const absenceBody = (v: Absence) =>
  Object.fromEntries(Object.entries({ ...v, to: v.to || v.from }).filter(([, x]) => x !== "")) as { from: string; to: string };

interface Props {
  value: Absence;
  reasons: Choice[];
  onChange: (to: Partial<Absence>) => void;
}

/** From when until when somebody is off, and why. */
export function AbsenceFields({ value: v, reasons, onChange }: Props) {
  const { t } = useTranslation();
  return (
    <>
      <DateField label={t("absence.from")} value={v.from} onChange={(from) => onChange({ from })} />
      <DateField label={t("absence.to")} value={v.to} onChange={(to) => onChange({ to })} />
      <TimeField label={t("absence.begin")} value={v.begin} onChange={(begin) => onChange({ begin })} />
      <TimeField label={t("absence.end")} value={v.end} onChange={(end) => onChange({ end })} />
      {reasons.length > 0 && (
        <TextField select label={t("absence.why")} value={v.why} onChange={(e) => onChange({ why: e.target.value })}>
          <MenuItem value="">{t("absence.noWhy")}</MenuItem>
          {reasons.map((r) => (
            <MenuItem key={r.id} value={r.id}>
              {r.text}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField
        label={t("absence.note")}
        value={v.note}
        multiline
        onChange={(e) => onChange({ note: e.target.value })}
        slotProps={{ htmlInput: { maxLength: 500 } }}
      />
    </>
  );
}
