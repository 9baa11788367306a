import { useTranslation } from "react-i18next";
import type { PersonDay } from "../../types";
import { absenceWhy } from "../../ui/absence";
import { duration } from "../../ui/format";
import { useSettings } from "../queries";
import css from "./Weeks.module.css";

/** How full somebody's day is: their work with its driving against their hours. */
export function Load({ day }: { day: PersonDay }) {
  const { t } = useTranslation();
  const reasons = useSettings().data?.planning.absences ?? [];
  const over = day.hours > 0 && day.work > day.hours;
  const share = (seconds: number) => `${day.hours > 0 ? Math.min(100, (seconds / day.hours) * 100) : 0}%`;
  return (
    <span className={`${css.load} tiny${over ? " over" : ""}`}>
      {day.off ? (
        t("board.off", { why: absenceWhy(reasons, day.off) })
      ) : day.hours === 0 && !day.always ? (
        <span className="quiet">{day.work > 0 ? duration(day.work) : t("board.notWorking")}</span>
      ) : day.always ? (
        duration(day.work)
      ) : (
        <>
          <span className={css.bar} aria-hidden="true">
            <span style={{ width: share(day.work - day.drive) }} />
            <span className={css.drive} style={{ width: share(day.drive) }} />
          </span>
          {t("weeks.load", { work: duration(day.work), hours: duration(day.hours) })}
        </>
      )}
      {(day.late ?? 0) > 0 && <span className={css.late}> {t("weeks.late", { time: duration(day.late ?? 0) })}</span>}
    </span>
  );
}
