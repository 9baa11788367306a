import type { Piece } from "../../types";
import { isoDate, moment, momentOf, nextDate } from "../../ui/format";

/** The pieces that change a span: what of it the new one does not cover becomes the person's own time. */
export function change(old: { start: string; end: string } | undefined, piece: Piece): Piece[] {
  const out: Piece[] = [piece];
  const off = (start: string, end: string) => {
    if (Date.parse(start) < Date.parse(end)) out.push({ kind: "off", start, end });
  };
  if (old) {
    off(old.start, earlier(old.end, piece.start));
    off(later(old.start, piece.end), old.end);
  }
  return out.sort((a, b) => Date.parse(a.start) - Date.parse(b.start));
}

/** Where a stretch of time ends that begins on a date: at an earlier hour than it begins it ends on the next. */
export const endDate = (date: string, from: string, to: string) => (to <= from ? nextDate(date) : date);

/** Pieces by the date on which they lie; one over midnight is two. */
export function byDate(pieces: Piece[]): [date: string, pieces: Piece[]][] {
  const out = new Map<string, Piece[]>();
  for (const piece of pieces) {
    let rest = piece;
    for (let date = isoDate(rest.start); ; date = nextDate(date)) {
      const midnight = momentOf(nextDate(date), "00:00");
      const over = midnight.getTime() < Date.parse(rest.end);
      const here = over ? { ...rest, end: moment(midnight) } : rest;
      out.set(date, [...(out.get(date) ?? []), here]);
      if (!over) break;
      rest = { ...rest, start: moment(midnight) };
    }
  }
  return [...out].sort(([a], [b]) => a.localeCompare(b));
}

const earlier = (a: string, b: string) => (Date.parse(a) < Date.parse(b) ? a : b);
const later = (a: string, b: string) => (Date.parse(a) > Date.parse(b) ? a : b);
