import type { Off, WeekHours } from "../types";
import { absenceText } from "./absence";
import { weekText } from "./hours";

/** The value of a record's field as people read it. */
export function plainValue(v: unknown): string {
  if (v === null || v === undefined) return "";
  if (Array.isArray(v)) return v.map(plainValue).filter(Boolean).join(" · ");
  if (typeof v !== "object") return String(v);
  if ("days" in v) return weekText(v as WeekHours);
  if ("from" in v && "to" in v) return [absenceText(v as Off), (v as Off).why].filter(Boolean).join(" ");
  const said = Object.entries(v).filter(([k]) => k !== "id" || !("text" in v));
  return said
    .map(([, x]) => plainValue(x))
    .filter(Boolean)
    .join(", ");
}
