/** Where moments lie on a day's lanes. */
import type { PlanSpan } from "../../types";
import { momentOf, nextDate } from "../../ui/format";

export const minute = 60;
export const hour = 60 * minute;

/** The hours that the board can show at a time. */
export const zooms = [4, 6, 10, 14, 24];

/** Visits are planned on a clock of so many seconds. */
const grain = 5 * minute;

/** A day from midnight to midnight by the company's clock: as long as it is, on the nights the clock changes too. */
export interface Scale {
  begin: number; // in milliseconds
  length: number; // in seconds
}

export function scaleOf(date: string): Scale {
  const begin = momentOf(date, "00:00").getTime();
  return { begin, length: (momentOf(nextDate(date), "00:00").getTime() - begin) / 1000 };
}

/** Seconds since the day began. */
export const secondsOf = (s: Scale, at: string | number) => ((typeof at === "string" ? Date.parse(at) : at) - s.begin) / 1000;

export const momentAt = (s: Scale, seconds: number) => s.begin + seconds * 1000;

/** How far along the day a moment lies, in per cent. */
export const along = (s: Scale, seconds: number) => Math.max(0, Math.min(100, (seconds / s.length) * 100));

export const snapped = (seconds: number) => Math.round(seconds / grain) * grain;

/** From where to where something is drawn. */
export const bar = (s: Scale, from: number, to: number) => ({ left: `${along(s, from)}%`, width: `${Math.max(0.05, along(s, to) - along(s, from))}%` });

/** The stretches of the day outside of some spans, which are in order. */
export function gaps(s: Scale, spans: PlanSpan[]): PlanSpan[] {
  const out: PlanSpan[] = [];
  let at = 0;
  for (const { from, to } of spans) {
    if (from > at) out.push({ from: at, to: from });
    at = Math.max(at, to);
  }
  if (at < s.length) out.push({ from: at, to: s.length });
  return out;
}
