/** Rules by which work comes back (RFC 5545), as a form has them, and in words. */
import type { Due, UpkeepPlan } from "../../types";
import i18n from "../../words/i18n";

export const units = ["DAILY", "WEEKLY", "MONTHLY", "YEARLY"] as const;
export type Unit = (typeof units)[number];
export const weekdays = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;
export const turns = ["1", "2", "3", "4", "-1"] as const;
export const months = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "10", "11", "12"] as const;

export interface Rule {
  every: string;
  unit: Unit;
  /** which weekday of the month, "" for the day of the month that it begins on */
  nth: string;
  weekday: string;
  /** of a week */
  days: string[];
  /** the season, none for all the year */
  months: string[];
}

export const blankRule: Rule = { every: "3", unit: "MONTHLY", nth: "", weekday: "MO", days: [], months: [] };

/** A rule as a form has it; undefined for one that says more than the form can. */
export function readRule(text: string): Rule | undefined {
  const parts = new Map(text.split(";").map((p) => p.split("=") as [string, string]));
  const unit = units.find((u) => u === parts.get("FREQ"));
  if (!unit || [...parts.keys()].some((k) => !["FREQ", "INTERVAL", "BYDAY", "BYMONTH"].includes(k))) return undefined;
  const rule: Rule = { ...blankRule, unit, every: parts.get("INTERVAL") ?? "1", months: parts.get("BYMONTH")?.split(",") ?? [] };
  const byDay = parts.get("BYDAY");
  if (!byDay) return rule;
  if (unit === "WEEKLY" && byDay.split(",").every((d) => weekdays.some((w) => w === d))) return { ...rule, days: byDay.split(",") };
  const [, nth, weekday] = /^(-?\d)([A-Z]{2})$/.exec(byDay) ?? [];
  return unit === "MONTHLY" && turns.some((n) => n === nth) && weekdays.some((w) => w === weekday) ? { ...rule, nth, weekday } : undefined;
}

/** The text of a rule. */
export function writeRule(r: Rule): string {
  const out = [`FREQ=${r.unit}`];
  if (r.every !== "1") out.push(`INTERVAL=${r.every}`);
  if (r.unit === "WEEKLY" && r.days.length > 0) out.push(`BYDAY=${weekdays.filter((d) => r.days.includes(d)).join(",")}`);
  if (r.unit === "MONTHLY" && r.nth) out.push(`BYDAY=${r.nth}${r.weekday}`);
  if (r.months.length > 0) out.push(`BYMONTH=${months.filter((m) => r.months.includes(m)).join(",")}`);
  return out.join(";");
}

const names = (options: Intl.DateTimeFormatOptions, at: (i: number) => Date) => (i: number) =>
  new Intl.DateTimeFormat("en-GB", { ...options, timeZone: "UTC" }).format(at(i));

/** The name of a weekday, by its place in the week. */
const weekdayAt = names({ weekday: "long" }, (i) => new Date(Date.UTC(2024, 0, 1 + i))); // a Monday

export const weekdayName = (d: string) => weekdayAt(weekdays.indexOf(d as "MO"));

/** The name of a month, from 1. */
export const monthName = (m: string) => names({ month: "long" }, (i) => new Date(Date.UTC(2024, i - 1, 1)))(Number(m));

const list = (words: string[]) => new Intl.ListFormat("en-GB").format(words);

/** How often work comes back, in words. */
export function ruleWords(p: Pick<UpkeepPlan, "rule" | "counter" | "fromLast">, name?: string, unit = ""): string {
  const out: string[] = [];
  const r = p.rule ? readRule(p.rule) : undefined;
  if (r) {
    out.push(i18n.t(`upkeep.every${r.unit}`, { count: Number(r.every) }));
    if (r.nth) out.push(i18n.t("upkeep.onNth", { nth: i18n.t(`upkeep.nth.${r.nth as "1"}`), weekday: weekdayName(r.weekday) }));
    if (r.days.length > 0) out.push(i18n.t("upkeep.onDays", { days: list(r.days.map(weekdayName)) }));
    if (r.months.length > 0) out.push(i18n.t("upkeep.inMonths", { months: list(r.months.map(monthName)) }));
  } else if (p.rule) out.push(p.rule);
  const counter = p.counter ? i18n.t("upkeep.everyCounter", { every: `${p.counter.every} ${unit}`.trim(), name: name || i18n.t("upkeep.theCounter") }) : "";
  return [out.join(" "), counter].filter(Boolean).join(" / ") + (p.rule && p.counter ? i18n.t("upkeep.first") : p.fromLast ? i18n.t("upkeep.sinceLast") : "");
}

/** When all that an order is due for may be done. */
export const dueWindow = (due: Due[]) =>
  windowWords(
    due
      .map((d) => d.from)
      .sort()
      .at(-1) ?? "",
    due.map((d) => d.to).sort()[0],
  );

const dates = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", timeZone: "UTC" });

/** When something may be done: from one day to another. */
export const windowWords = (from: string, to: string) => dates.formatRange(new Date(from), new Date(to));
