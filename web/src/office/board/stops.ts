/** Where stops lie on the board: as it was planned, and as it is and will be. */
import type { CSSProperties } from "react";
import type { Board, BoardVisit, Code } from "../../types";
import { minute, type Scale, secondsOf } from "./scale";

/** From when to when a visit is drawn, in seconds of the day, and how much of it is done. */
export interface Drawn {
  from: number;
  to: number;
  /** where it was planned, when that is elsewhere and it is not over */
  planned?: number;
  done: number; // 0 to 1
}

/** How far off its plan a stop is before that is drawn. */
const off = 5 * minute;

/** How long the shortest stop is drawn. */
const least = 15 * minute;

export function drawnAt(v: BoardVisit, s: Scale, now: number): Drawn {
  const planned = secondsOf(s, v.start);
  const length = v.minutes * minute;
  const arrived = v.arrived ? secondsOf(s, v.arrived) : undefined;
  const ended = v.ended ? secondsOf(s, v.ended) : v.left ? secondsOf(s, v.since) : undefined;
  const expected = v.drive ? secondsOf(s, v.drive.arrive) : undefined;
  const from = arrived ?? (expected !== undefined && Math.abs(expected - planned) >= off ? expected : planned);
  const to = ended ?? Math.max(from + length, arrived === undefined ? 0 : now);
  return {
    from: Math.max(0, from),
    to: Math.max(from + least, to),
    planned: Math.abs(from - planned) >= off && ended === undefined ? planned : undefined,
    done: ended !== undefined ? 1 : arrived === undefined ? 0 : Math.min(1, (now - arrived) / length),
  };
}

/** Something that is drawn on a lane. */
interface OnLane {
  id: string;
  from: number;
  to: number;
  past?: boolean; // withdrawn: it gives way
}

/** The rows of a lane, so that nothing on it lies over another: each thing is on the first row where there is place for it. */
export function rowsOf(all: OnLane[]) {
  const rows: OnLane[][] = [];
  const inOrder = [...all].sort((a, b) => Number(a.past ?? false) - Number(b.past ?? false) || a.from - b.from);
  for (const o of inOrder) {
    const free = rows.find((row) => row.every((x) => x.to <= o.from || x.from >= o.to));
    if (free) free.push(o);
    else rows.push([o]);
  }
  const rowOf = (id: string) => rows.findIndex((row) => row.some((x) => x.id === id));
  return { style: { "--rows": Math.max(1, rows.length) } as CSSProperties, rowOf, of: (id: string) => ({ "--row": rowOf(id) }) as CSSProperties };
}

/** Whether a visit can still be moved on the board: nobody is on the way or there, and it begins on the day that is shown. */
export const movable = (v: BoardVisit, s: Scale) => ["planned", "sent", "accepted", "declined"].includes(v.stage) && secondsOf(s, v.start) >= 0;

/** A visit of the day with whose it is. */
export function visitOn(board: Board, id: string | undefined) {
  for (const p of board.people) {
    const visit = p.visits.find((v) => v.id === id);
    if (visit) return { visit, person: p };
  }
  return undefined;
}

/** What whoever plans is asked about: why it is done all the same. */
const grave = ["fit.past", "fit.refused", "fit.skill", "fit.off", "fit.closed", "fit.taken", "fit.late", "fit.doneLate", "fit.lateOthers"];

/** What is a drawback, though nobody has to answer for it. */
const drawbacks = ["fit.overtime", "fit.parts"];

export const graveOf = (why: Code[]) => why.filter((w) => grave.includes(w.code));

/** What a visit is planned against, as it stays with it. */
export const warningsOf = (why: Code[]) => why.filter((w) => grave.includes(w.code) || drawbacks.includes(w.code));

/** How much work there is on somebody's day, with its driving, and how much fits into their hours, in seconds. */
export function loadOf(p: Board["people"][number]): { work: number; hours: number } {
  const helps = (p.helps ?? []).reduce((n, h) => n + h.minutes * minute, 0);
  const work = p.visits.reduce((n, v) => n + v.minutes * minute + (v.drive?.seconds ?? 0), helps);
  const hours = p.hours.reduce((n, h) => n + (Date.parse(h.end) - Date.parse(h.begin)) / 1000, 0);
  return { work, hours };
}

/** What a visit of the day takes, as fits see it. */
export const wantOf = (board: Board, id: string) => board.plan.lanes.flatMap((l) => l.stops ?? []).find((s) => s.id === id);
