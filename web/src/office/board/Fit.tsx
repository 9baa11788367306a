import { useTranslation } from "react-i18next";
import type { Board, PlanFit } from "../../types";
import { duration, time } from "../../ui/format";
import { planReasons } from "../../ui/planReasons";
import { momentAt, type Scale } from "./scale";

/** How much longer somebody drives, or how much less. */
export function driving(fit: PlanFit): string {
  const d = fit.adds.drive;
  return `${d < 0 ? "−" : "+"}${duration(Math.abs(d))}`;
}

interface Props {
  fit: PlanFit;
  board: Board;
  scale: Scale;
}

/** A fit in a line: who, when, how much driving it adds, and what else there is to know. */
export function FitLine({ fit, board, scale }: Props) {
  const { t } = useTranslation();
  const who = board.people.find((p) => p.id === fit.lane);
  return (
    <>
      <b>
        {who?.short} {time(momentAt(scale, fit.begin))}
      </b>{" "}
      · {t("fit.drive", { time: driving(fit) })}
      {planReasons(fit.why, board.skills).map((r) => (
        <span key={r}> · {r}</span>
      ))}
    </>
  );
}
