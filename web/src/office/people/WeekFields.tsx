import { TextField } from "@mui/material";
import { useState } from "react";
import { useTranslation } from "react-i18next";
import { DateField } from "../../form/dates";
import type { HourStretch, WeekHours } from "../../types";
import { dayName, emptyWeek, readStretches, weekDays, weekMinutes, writeStretches } from "../../ui/hours";
import css from "./People.module.css";

interface Props {
  weeks: WeekHours[];
  may: boolean;
  /** the day from which another week holds, when one is added */
  from: string;
  onChange: (weeks: WeekHours[]) => void;
}

/** Weeks of hours, each from a date on. */
export function WeekFields({ weeks, may, from, onChange }: Props) {
  const { t } = useTranslation();
  return (
    <>
      {may && weeks.length > 0 && <p className="small quiet">{t("planned.hoursHint")}</p>}
      {weeks.map((w, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: weeks have nothing else that tells them apart
        <fieldset className={css.week} key={i} disabled={!may}>
          <legend className="small quiet">
            {t("planned.weekSum", { hours: (weekMinutes(w) / 60).toLocaleString("en-GB", { maximumFractionDigits: 1 }) })}
          </legend>
          <DateField label={t("planned.from")} value={w.from ?? ""} disabled={!may} onChange={(v) => onChange(weeks.with(i, { ...w, from: v || undefined }))} />
          <DateField label={t("planned.to")} value={w.to ?? ""} disabled={!may} onChange={(v) => onChange(weeks.with(i, { ...w, to: v || undefined }))} />
          <DayHours days={w.days} onChange={(days) => onChange(weeks.with(i, { ...w, days }))} />
          {may && (
            <button type="button" className="link" onClick={() => onChange(weeks.toSpliced(i, 1))}>
              {t("planned.dropWeek")}
            </button>
          )}
        </fieldset>
      ))}
      {may && (
        <button type="button" className="link" onClick={() => onChange([...weeks, weeks.length > 0 ? { ...weeks[weeks.length - 1], from } : emptyWeek("")])}>
          {t("planned.addWeek")}
        </button>
      )}
    </>
  );
}

/** The hours of each day of a week. */
export function DayHours({ days, onChange }: { days: WeekHours["days"]; onChange: (days: WeekHours["days"]) => void }) {
  return weekDays.map((d) => (
    <Day key={d} name={dayName(d)} value={days[d]} onChange={(s) => onChange(days.map((had, k) => (k === d ? s : (had ?? []))) as WeekHours["days"])} />
  ));
}

/** The hours of a day, as text. What can't be read stays in the field, and is not taken. */
function Day({ name, value, onChange }: { name: string; value: HourStretch[] | null; onChange: (s: HourStretch[]) => void }) {
  const [typed, setTyped] = useState<string>();
  const bad = typed !== undefined && readStretches(typed) === undefined;
  return (
    <TextField
      label={name}
      value={typed ?? writeStretches(value)}
      error={bad}
      onChange={(e) => {
        setTyped(e.target.value);
        const read = readStretches(e.target.value);
        if (read) onChange(read);
      }}
      onBlur={() => !bad && setTyped(undefined)}
      slotProps={{ htmlInput: { maxLength: 120, autoComplete: "off" } }}
    />
  );
}
