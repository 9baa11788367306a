import { isoDate, momentOf } from "../ui/format";

/** What is promised: a day alone is all of it, and a time alone is today's. */
export function promiseOf(day: string, from: string, to: string): { from?: Date; to?: Date } {
  if (!day && !from && !to) return {};
  const on = day || isoDate(Date.now());
  return { from: momentOf(on, from || "00:00"), to: momentOf(on, to || "23:59") };
}
