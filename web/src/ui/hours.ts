/** Working hours as people type them: 08:00-12:00, 12:30-16:30. */
import type { HourStretch, Off, Site, WeekHours } from "../types";
import { weekday } from "./format";

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

/** The days of a week, Monday first. */
export const weekDays = [1, 2, 3, 4, 5, 6, 0];

/** A day of the week as it is called: 4 January 1970 was a Sunday. */
export const dayName = (d: number) => weekday(Date.UTC(1970, 0, 4 + d, 12));

/** A week in a line, days with the same hours together: Mon–Fri 08:00–16:00, Sat 09:00–12:00. */
export function weekText(w: WeekHours): string {
  const groups: { days: number[]; hours: string }[] = [];
  for (const d of weekDays) {
    const hours = writeStretches(w.days[d]);
    const last = groups.at(-1);
    if (last?.hours === hours) last.days.push(d);
    else groups.push({ days: [d], hours });
  }
  return groups
    .filter((g) => g.hours !== "")
    .map((g) => `${g.days.length > 1 ? `${dayName(g.days[0])}–` : ""}${dayName(g.days[g.days.length - 1])} ${g.hours}`)
    .join("; ");
}

/** When a site can be visited on a date: undefined where nothing is said, no stretches when it can't, and what it is closed for. */
export function openOn(site: Pick<Site, "open" | "closed">, date: string): { hours: HourStretch[]; closed: Off[] } | undefined {
  const closed = (site.closed ?? []).filter((o) => o.from <= date && date <= o.to);
  if (!site.open?.length && closed.length === 0) return undefined;
  const always: HourStretch[] = site.open?.length ? [] : [{ from: "00:00", to: "24:00" }];
  const whole = closed.some((o) => (o.from < date || !o.begin) && (date < o.to || !o.end));
  const hours = weekOn(site.open, date)?.days[new Date(`${date}T12:00:00Z`).getUTCDay()] ?? always;
  return { hours: whole ? [] : hours, closed };
}

export const emptyWeek = (from: string): WeekHours => {
  const work: HourStretch[] = [{ from: "08:00", to: "16:30" }];
  return { from, days: [[], work, work, work, work, work, []] as unknown as WeekHours["days"] };
};
