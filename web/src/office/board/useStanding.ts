import { useTranslation } from "react-i18next";
import type { Board, BoardVisit } from "../../types";
import { duration, time } from "../../ui/format";
import { reasonText } from "../../ui/reasons";
import { useSettings } from "../queries";
import { minute, momentAt, type Scale, secondsOf } from "./scale";
import { drawnAt } from "./stops";

/** How a visit stands, in a few words: its stage, until when it lasts, and what is wrong with it. */
export function useStanding(v: BoardVisit, board: Board, scale: Scale): { text: string; bad: boolean } {
  const { t } = useTranslation();
  const settings = useSettings().data;
  const now = secondsOf(scale, board.now);
  const at = drawnAt(v, scale, now);
  const stage = t(`stage.${v.stage}`);
  const done = ["finished", "withdrawn", "declined"].includes(v.stage);
  const promised = v.promise ? secondsOf(scale, v.promise) : undefined;
  const late = promised !== undefined && !done && !v.arrived ? Math.max(at.from, Math.min(now, scale.length)) - promised : 0;
  if (late > 0) return { text: `${stage} · ${t("board.afterPromise", { time: duration(late) })}`, bad: true };
  const after = v.doneBy && !done ? at.to - secondsOf(scale, v.doneBy) : 0;
  if (after >= minute) return { text: `${stage} · ${t("board.doneAfter", { time: duration(after) })}`, bad: true };
  if (v.drive?.risk === "tight") return { text: `${stage} · ${t("board.risk.tight")}`, bad: true };
  const words = [stage];
  if (v.left || v.reason) {
    const site = v.for?.visit && board.people.flatMap((p) => p.visits).find((x) => x.id === v.for?.visit)?.site;
    const code = settings?.time.indirect?.find((c) => c.id === v.for?.code)?.text;
    const reasons = (v.stage === "declined" ? settings?.visits.declines : settings?.time.pauses) ?? [];
    words.push(v.left ? (site ? t("board.wentOn", { site }) : (code ?? t("dock.stoppedClock"))) : reasonText(reasons, v.reason ?? ""));
  } else if (v.arrived && !done) {
    const over = now - secondsOf(scale, v.arrived) - v.minutes * minute;
    words.push(over >= minute ? t("board.longer", { time: duration(over) }) : t("board.until", { time: time(momentAt(scale, at.to)) }));
  } else if (at.planned !== undefined && !done && !v.arrived) {
    words.push(t("board.expected", { time: time(momentAt(scale, at.from)) }));
  }
  return { text: words.filter(Boolean).join(" · "), bad: v.stage === "declined" };
}
