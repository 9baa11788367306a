/** When the program plans the coming days by itself, and into whose draft. */
import { Checkbox, FormControlLabel, MenuItem, TextField } from "@mui/material";
import { useTranslation } from "react-i18next";
import { TimeField } from "../../form/dates";
import type { Timetable } from "../../types";
import { useQuestion } from "../queries";
import css from "./RuleLines.module.css";

const usual: Timetable = { at: "05:00", days: 3, person: "" };
const most = 14;

export const timetableFine = (x?: Timetable) => !x || (/^\d\d:\d\d$/.test(x.at) && x.days >= 1 && x.days <= most && x.person !== "");

interface Props {
  timetable?: Timetable;
  disabled: boolean;
  onChange: (to?: Timetable) => void;
}

export function TimetableFields({ timetable: now, disabled, onChange }: Props) {
  const { t } = useTranslation();
  const people = useQuestion("/api/office/people", {}).data ?? [];
  return (
    <section className="sec" aria-label={t("timetable.title")}>
      <h2>{t("timetable.title")}</h2>
      <p className="small quiet">{t("timetable.hint")}</p>
      <FormControlLabel
        disabled={disabled}
        control={<Checkbox checked={now !== undefined} onChange={(e) => onChange(e.target.checked ? { ...usual, person: people[0]?.id ?? "" } : undefined)} />}
        label={t("timetable.on")}
      />
      {now && (
        <div className={css.fields}>
          <TimeField label={t("timetable.at")} value={now.at} disabled={disabled} onChange={(at) => onChange({ ...now, at })} />
          <TextField
            type="number"
            size="small"
            label={t("timetable.days")}
            value={now.days || ""}
            disabled={disabled}
            error={now.days < 1 || now.days > most}
            onChange={(e) => onChange({ ...now, days: Math.round(Number(e.target.value)) || 0 })}
            slotProps={{ htmlInput: { min: 1, max: most } }}
          />
          <TextField
            select
            size="small"
            label={t("timetable.person")}
            value={people.some((p) => p.id === now.person) ? now.person : ""}
            disabled={disabled}
            onChange={(e) => onChange({ ...now, person: e.target.value })}
          >
            {people.map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
          <FormControlLabel
            disabled={disabled}
            control={<Checkbox checked={now.move ?? false} onChange={(e) => onChange({ ...now, move: e.target.checked || undefined })} />}
            label={t("solution.move")}
          />
        </div>
      )}
    </section>
  );
}
