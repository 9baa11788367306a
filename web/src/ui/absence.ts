import type { Choice, OffTime } from "../types";
import { dayText as day } from "./format";

/** When an absence is: a day, days, and the times where it is not all of them. */
export function absenceText(a: Pick<OffTime, "from" | "to" | "begin" | "end">): string {
  const from = `${day(a.from)}${a.begin ? ` ${a.begin}` : ""}`;
  if (a.from === a.to) return a.end ? `${from}–${a.end}` : from;
  return `${from} – ${day(a.to)}${a.end ? ` ${a.end}` : ""}`;
}

/** Why somebody is off, in the company's words or their own. */
export const absenceWhy = (reasons: Choice[], a: Pick<OffTime, "why">): string => reasons.find((r) => r.id === a.why)?.text ?? a.why ?? "";
