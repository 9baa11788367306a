import type { Piece } from "../../types";

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

const earlier = (a: string, b: string) => (Date.parse(a) < Date.parse(b) ? a : b);
const later = (a: string, b: string) => (Date.parse(a) > Date.parse(b) ? a : b);
