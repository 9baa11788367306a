/** A visit on a lane: where, how it stands, and the way there. */
import type { CSSProperties } from "react";
import { useTranslation } from "react-i18next";
import type { Board, BoardVisit, KindMark } from "../../types";
import { duration, time } from "../../ui/format";
import { Glyph, Mark } from "../../ui/Glyph";
import { useSettings } from "../queries";
import type { ShownVisit } from "./filters";
import { kindText, markClass, markOf } from "./kindMark";
import { bar, minute, momentAt, type Scale, secondsOf } from "./scale";
import { drawnAt, movable } from "./stops";
import { useStanding } from "./useStanding";

interface Props {
  visit: BoardVisit;
  board: Board;
  scale: Scale;
  row: CSSProperties;
  chosen: boolean;
  onChoose: (id: string, more?: boolean) => void;
}

export function Stop({ visit: v, board, scale, row, chosen, onChoose }: Props) {
  const { t } = useTranslation();
  const now = secondsOf(scale, board.now);
  const at = drawnAt(v, scale, now);
  const standing = useStanding(v, board, scale);
  const free = movable(v, scale);
  const shown = v as ShownVisit;
  const settings = useSettings().data;
  const mark = markOf(settings, v.kind);
  return (
    <li style={row}>
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
        {mark && <KindBand mark={mark} kind={kindText(settings, v.kind)} />}
        <span className="trip-site">
          <Glyph stage={v.stage} /> {v.site}
        </span>
        <span className="lane-stage">
          {v.flags > 0 && <Mark kind="warn" />}
          {[mark?.word, v.parts && t("board.part", { part: v.part, parts: v.parts }), shown.drafted ? t("plandraft.mark") : standing.text]
            .filter(Boolean)
            .join(" · ")}
        </span>
        {at.done > 0 && <span className="trip-done" aria-hidden="true" style={{ width: `${at.done * 100}%` }} />}
        {free && <span className="trip-end" data-stretch="" aria-hidden="true" title={t("board.stretch")} />}
      </button>
    </li>
  );
}

/** The band at the side of a stop that says what kind of work it is. */
function KindBand({ mark, kind }: { mark: KindMark; kind: string }) {
  return <span className={`kind-mark ${markClass(mark)}`}>{!mark.word && <span className="visually-hidden">{kind}</span>}</span>;
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
      <span className="visually-hidden">{t("board.drive", { time: duration(seconds) })}</span>
      {there - off >= written && <span aria-hidden="true">{Math.round(seconds / 60)}</span>}
    </span>
  );
}
