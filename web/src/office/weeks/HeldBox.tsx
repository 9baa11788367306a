import { useTranslation } from "react-i18next";
import type { Weeks } from "../../types";
import { shortDate, time } from "../../ui/format";
import { fitWords } from "../../ui/planReasons";
import type { useWeekDrag } from "./useWeekDrag";
import css from "./Weeks.module.css";

/** What is held while it is moved over the weeks, and what it would come to where it is. */
export function HeldBox({ weeks, drag }: { weeks: Weeks; drag: ReturnType<typeof useWeekDrag> }) {
  const { t } = useTranslation();
  const { held, over, fit } = drag;
  return (
    <div className={css.held}>
      <b>{held?.visit?.site ?? held?.order?.site}</b>
      {over && fit && (
        <span className="small block">
          {weeks.people.find((p) => p.id === over.person)?.short}{" "}
          {fit.fit ? `${shortDate(fit.start ?? 0)} ${time(fit.start ?? 0)} · ${fitWords(fit.fit, weeks.skills)}` : t("board.noFit")}
        </span>
      )}
    </div>
  );
}
