import { useDeferredValue, useState } from "react";
import { useTranslation } from "react-i18next";
import { TimeField } from "../../form/dates";
import type { FreeTime } from "../../types";
import { isoDate, time } from "../../ui/format";
import { FreeTimes } from "../FreeTimes";
import { weekdayName, weekdays } from "../upkeep/rule";
import { Choices } from "./Choices";
import { type Call, made } from "./call";
import css from "./Intake.module.css";

interface Props {
  call: Call;
  change: (patch: Partial<Call>) => void;
}

/** How long after a free time somebody may still come when it is promised, in milliseconds. */
const window = 3_600_000;

/** Weekdays as digits, Monday first. */
const days = ["1", "2", "3", "4", "5", "6", "0"];

/** When somebody could come, at times that suit whoever is on the telephone: what is chosen is promised. */
export function FreeAtCall({ call, change }: Props) {
  const { t } = useTranslation();
  const [open, setOpen] = useState(call.suitDays + call.suitAfter + call.suitBefore !== "");
  const minutes = useDeferredValue(Math.min(20160, Math.max(1, Math.round(Number(call.minutes)) || 60)));
  if (!call.site || call.site === made) return null;
  const { suitDays, suitAfter, suitBefore } = call;
  const promise = (f: FreeTime) => change({ day: isoDate(f.start), from: time(f.start), to: time(Date.parse(f.start) + window) });
  const turn = (day: string) => change({ suitDays: suitDays.includes(day) ? suitDays.replace(day, "") : suitDays + day });
  return (
    <>
      <details className={css.suits} open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
        <summary>{t("free.suits")}</summary>
        <Choices
          label={t("free.days")}
          choices={days.map((id, i) => ({ id, text: weekdayName(weekdays[i]).slice(0, 3) }))}
          pressed={(id) => suitDays.includes(id)}
          onPress={turn}
        />
        <div className="pair">
          <TimeField label={t("free.after")} value={suitAfter} onChange={(to) => change({ suitAfter: to })} />
          <TimeField label={t("free.before")} value={suitBefore} onChange={(to) => change({ suitBefore: to })} />
        </div>
      </details>
      <FreeTimes
        asked={{ site: call.site, minutes, skills: call.skills.join(","), days: suitDays, after: suitAfter, before: suitBefore }}
        label={t("free.promise")}
        onTake={promise}
      />
    </>
  );
}
