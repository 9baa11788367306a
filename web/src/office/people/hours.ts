/** Working hours as people type them: 08:00-12:00, 12:30-16:30. */
import type { HourStretch, WeekHours } from "../../types";

const time = /^([01]?\d|2[0-4])(?::?([0-5]\d))?$/;

function readTime(text: string): string | undefined {
  const m = time.exec(text.trim());
  if (!m || (m[1] === "24" && m[2] && m[2] !== "00")) return undefined;
  return `${m[1].padStart(2, "0")}:${m[2] ?? "00"}`;
}

/** Reads the stretches of a day; undefined for what is none. */
export function readStretches(text: string): HourStretch[] | undefined {
  const out: HourStretch[] = [];
  for (const part of text.split(/[,;+]/)) {
    if (part.trim() === "") continue;
    const [from, to, more] = part.split(/[-–]/).map(readTime);
    if (!from || !to || more || part.split(/[-–]/).length !== 2 || from === "24:00") return undefined;
    out.push({ from, to });
  }
  for (let i = 1; i < out.length; i++) if (out[i].from < out[i - 1].to) return undefined;
  return out;
}

export const writeStretches = (list: HourStretch[] | null | undefined): string => (list ?? []).map((s) => `${s.from}–${s.to}`).join(", ");

const minutes = (t: string) => Number(t.slice(0, 2)) * 60 + Number(t.slice(3));

/** How many minutes a week has. */
export const weekMinutes = (w: WeekHours): number =>
  w.days.flatMap((d) => d ?? []).reduce((n, s) => n + ((minutes(s.to) - minutes(s.from) + 1440) % 1440 || 1440), 0);

/** The week that holds on a date. */
export const weekOn = (weeks: WeekHours[] | undefined, date: string): WeekHours | undefined =>
  (weeks ?? [])
    .filter((w) => (w.from ?? "") <= date && (!w.to || date <= w.to))
    .sort((a, b) => (a.from ?? "").localeCompare(b.from ?? ""))
    .at(-1);

export const emptyWeek = (from: string): WeekHours => {
  const work: HourStretch[] = [{ from: "08:00", to: "16:30" }];
  return { from, days: [[], work, work, work, work, work, []] as unknown as WeekHours["days"] };
};
