import type { Board, DraftLine } from "../../types";
import { isoDate } from "../../ui/format";
import type { ShownVisit } from "./filters";

/** A board on which a draft is shown: the visits that it changes are marked, and where they are by the plan is kept in sight. */
export interface DraftedBoard extends Board {
  were?: { visit: string; person: string; start: string; minutes: number; site: string }[];
}

export function withDraft(board: Board, lines: DraftLine[] | undefined): DraftedBoard {
  if (!lines?.length) return board;
  const changed = new Map(lines.map((l) => [l.visit, l]));
  const mark = (v: ShownVisit): ShownVisit => (changed.has(v.id) ? { ...v, drafted: changed.get(v.id) } : v);
  const were = lines.flatMap((l) =>
    l.was && !l.plan && isoDate(Date.parse(l.was.start)) === board.date
      ? [{ visit: l.visit, person: l.was.technician, start: l.was.start, minutes: l.was.minutes, site: l.order.site }]
      : [],
  );
  return { ...board, people: board.people.map((p) => ({ ...p, visits: p.visits.map(mark) })), were };
}
