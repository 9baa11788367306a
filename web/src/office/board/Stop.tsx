/** A visit on a lane: where, how it stands, and the way there. */
import { useTranslation } from "react-i18next";
import type { Board, BoardVisit } from "../../types";
import { duration, time } from "../../ui/format";
import { Glyph, Mark } from "../../ui/Glyph";
import { useSettings } from "../queries";
import type { ShownVisit } from "./filters";
import { markClass, markOf } from "./kindMark";
import { bar, minute, momentAt, type Scale, secondsOf } from "./scale";
import { drawnAt, movable } from "./stops";
import { useStanding } from "./useStanding";

interface Props {
  visit: BoardVisit;
  board: Board;
  scale: Scale;
  chosen: boolean;
  onChoose: (id: string, more?: boolean) => void;
}

export function Stop({ visit: v, board, scale, chosen, onChoose }: Props) {
  const { t } = useTranslation();
  const now = secondsOf(scale, board.now);
  const at = drawnAt(v, scale, now);
  const standing = useStanding(v, board, scale);
  const free = movable(v, scale);
  const shown = v as ShownVisit;
  const mark = markOf(useSettings().data, v.kind);
  return (
    <li>
      <Way visit={v} scale={scale} now={now} from={at.from} />
      {at.planned !== undefined && <span className="trip-planned" aria-hidden="true" style={bar(scale, at.planned, at.planned + v.minutes * minute)} />}
      <button
        type="button"
        className={`trip ${v.stage}${standing.bad ? " bad" : ""}${shown.faded ? " faded" : ""}${shown.drafted ? " drafted" : ""}${mark ? " marked" : ""}`}
        style={bar(scale, at.from, at.to)}
        aria-pressed={chosen}
        data-take={free ? v.id : undefined}
        data-visit={v.id}
        title={`${v.site}, ${v.problem}, ${time(momentAt(scale, at.from))}–${time(momentAt(scale, at.to))}`}
        onClick={(e) => onChoose(v.id, e.shiftKey || e.ctrlKey || e.metaKey)}
      >
        {mark && <span className={`kind-mark ${markClass(mark)}`} aria-hidden="true" />}
        <span className="trip-site">
          <Glyph stage={v.stage} /> {v.site}
        </span>
        <span className="lane-stage">
          {v.flags > 0 && <Mark kind="warn" />}
          {[mark?.word, shown.drafted ? t("plandraft.mark") : standing.text].filter(Boolean).join(" · ")}
        </span>
        {at.done > 0 && <span className="trip-done" aria-hidden="true" style={{ width: `${at.done * 100}%` }} />}
        {free && <span className="trip-end" data-stretch="" aria-hidden="true" title={t("board.stretch")} />}
      </button>
    </li>
  );
}

/** The shortest way whose minutes are written on it. */
const written = 10 * minute;

/** The way to a visit, as it was driven or will be. */
function Way({ visit: v, scale, now, from }: { visit: BoardVisit; scale: Scale; now: number; from: number }) {
  const { t } = useTranslation();
  const off = v.setOff ? secondsOf(scale, v.setOff) : v.drive && secondsOf(scale, v.drive.setOff);
  if (off === undefined) return null;
  const there = v.setOff ? (v.arrived ? secondsOf(scale, v.arrived) : Math.max(now, from)) : secondsOf(scale, v.drive!.arrive);
  const seconds = v.setOff && v.arrived ? there - off : (v.drive?.seconds ?? there - off);
  if (there <= off) return null;
  return (
    <span className={`drive-line${v.setOff ? " driven" : ""}`} style={bar(scale, off, there)}>
      <span className="hidden">{t("board.drive", { time: duration(seconds) })}</span>
      {there - off >= written && <span aria-hidden="true">{Math.round(seconds / 60)}</span>}
    </span>
  );
}
