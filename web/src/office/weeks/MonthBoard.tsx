/** A month: what is free, promised, due and booked on each day, and who is off. */
import { useTranslation } from "react-i18next";
import type { WeekDay, Weeks } from "../../types";
import { absenceWhy } from "../../ui/absence";
import { dayOfMonth, duration, momentOf, weekday } from "../../ui/format";
import { Tag } from "../../ui/Glyph";
import { useSettings } from "../queries";
import { sumOf } from "./rows";
import css from "./Weeks.module.css";

interface Props {
  weeks: Weeks;
  month: string; // 2006-01
  skill?: string;
  onDay: (date: string) => void;
}

const perWeek = 7;

export function MonthBoard({ weeks, month, skill, onDay }: Props) {
  const { t } = useTranslation();
  const lines = Array.from({ length: weeks.days.length / perWeek }, (_, i) => weeks.days.slice(i * perWeek, (i + 1) * perWeek));
  return (
    <div className={css.scroll}>
      <table className={`${css.grid} ${css.month}`}>
        <thead>
          <tr>
            {lines[0]?.map((d) => (
              <th key={d.date} scope="col">
                {weekday(momentOf(d.date, "12:00"))}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {lines.map((days) => (
            <tr key={days[0].date}>
              {days.map((d) => (
                <td key={d.date} className={`${d.date.startsWith(month) ? "" : css.other} ${d.date === weeks.now.slice(0, 10) ? css.today : ""}`}>
                  <MonthDay day={d} weeks={weeks} skill={skill} onDay={onDay} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {weeks.more > 0 && <p className="small">{t("weeks.notCounted", { count: weeks.more })}</p>}
    </div>
  );
}

/** How many names a day has room for. */
const most = 3;

function MonthDay({ day: d, weeks, skill, onDay }: { day: WeekDay; weeks: Weeks; skill?: string; onDay: (date: string) => void }) {
  const { t } = useTranslation();
  const reasons = useSettings().data?.planning.absences ?? [];
  const sum = sumOf(weeks, weeks.days.indexOf(d));
  const left = skill ? (sum.leftBy[skill] ?? 0) : sum.left;
  const due = d.due[skill ?? ""];
  const past = d.date < weeks.now.slice(0, 10);
  const bySkill = weeks.skills.filter((s) => !skill && (sum.leftBy[s.id] ?? 0) > 0);
  return (
    <>
      <button type="button" className="link" onClick={() => onDay(d.date)}>
        {dayOfMonth(momentOf(d.date, "12:00"))}
      </button>
      {past ? (
        <span className="tiny quiet block">{sum.work > 0 && t("weeks.planned", { time: duration(sum.work) })}</span>
      ) : sum.hours > 0 ? (
        <>
          <span className="small block">
            <b>{duration(left)}</b> {t("weeks.freeOf", { hours: duration(sum.hours) })}
          </span>
          {bySkill.length > 0 && <span className="tiny quiet block">{bySkill.map((s) => `${s.text} ${duration(sum.leftBy[s.id])}`).join(" · ")}</span>}
        </>
      ) : (
        <span className="tiny quiet block">{t("weeks.free")}</span>
      )}
      {d.promised.length > 0 && (
        <span className="small block">
          <Tag kind="warn">{t("weeks.promised", { count: d.promised.length })}</Tag>
        </span>
      )}
      {due && <span className="small block">{t("weeks.due", { count: due.jobs, time: duration(due.minutes * 60) })}</span>}
      {sum.off.length > 0 && (
        <span className="tiny block">
          {sum.off
            .slice(0, most)
            .map((o) => t("weeks.off", { name: o.name, why: absenceWhy(reasons, o.off) }))
            .join(", ")}
          {sum.off.length > most && ` +${sum.off.length - most}`}
        </span>
      )}
      {d.things.length > 0 && <span className="tiny quiet block">{d.things.map((x) => `${x.name} ×${x.visits}`).join(", ")}</span>}
    </>
  );
}
