import { Button } from "@mui/material";
import { useTranslation } from "react-i18next";
import { DateField } from "../form/dates";
import type { Settings } from "../types";
import { isDate, nextDate } from "../ui/format";
import { weekOn } from "../ui/hours";
import { useSettings } from "./queries";

interface Props {
  /** the day that they come after */
  first: string;
  days: string[];
  onChange: (days: string[]) => void;
}

/** Further days on which the same is done: the next on which the company works is offered. */
export function MoreDays({ first, days, onChange }: Props) {
  const { t } = useTranslation();
  const settings = useSettings().data;
  const add = () => {
    let day = nextDate([first, ...days].filter(isDate).toSorted().at(-1) ?? first);
    for (let i = 0; i < 14 && settings && isFree(settings, day); i++) day = nextDate(day);
    onChange([...days, day]);
  };
  return (
    <fieldset className="more-days">
      <legend className="small">{t("plan.moreDays")}</legend>
      {days.map((d, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a day is what is typed here
        <div key={i}>
          <DateField label={t("plan.dayOf", { number: i + 2 })} value={d} onChange={(v) => onChange(days.with(i, v))} required />
          <button type="button" className="link small" onClick={() => onChange(days.toSpliced(i, 1))}>
            {t("plan.dayLess")}
          </button>
        </div>
      ))}
      <Button size="small" disabled={!isDate(first) || days.length >= mostDays} onClick={add}>
        {t("plan.dayMore")}
      </Button>
    </fieldset>
  );
}

/** Whether the company does not work on a date, as far as it says. */
function isFree(settings: Settings, date: string): boolean {
  const week = weekOn(settings.planning.hours, date);
  return (settings.pay.holidays ?? []).includes(date) || week?.days[new Date(`${date}T12:00:00Z`).getUTCDay()].length === 0;
}

/** How many further days are planned at once. */
const mostDays = 30;
