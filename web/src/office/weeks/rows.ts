/** What a week shows in its rows: people, or kinds of work, check sheets or undertakings. */
import type { Choice, Off, PersonDay, PlanSettings, WeekPerson, Weeks, WeekVisit } from "../../types";
import { asked, type Filters, rank, shows } from "../board/filters";

export const rowKinds = ["person", "kind", "sheet", "undertaking"] as const;
export type RowKind = (typeof rowKinds)[number];

/** A visit with whose day it is on; faded when it is not one of those asked for. */
export interface Chip extends WeekVisit {
  person: string;
  who: string; // short
  faded?: boolean;
  /** the work goes on from the day before, and on to the day after */
  before?: boolean;
  after?: boolean;
}

export interface Cell {
  date: string;
  chips: Chip[];
  day?: PersonDay; // of a person
}

export interface Row {
  id: string;
  name: string;
  cells: Cell[]; // one for each day
}

/** Weeks without the people that are not asked for, and with what else is not faded or left out. */
export function filteredWeeks(w: Weeks, f: Filters, planning: PlanSettings | undefined): Weeks {
  const people = w.people
    .filter((p) => shows(p, f))
    .toSorted((a, b) => rank(a, f, planning).localeCompare(rank(b, f, planning)) || a.name.localeCompare(b.name));
  const unplaced = w.unplaced.filter(
    (o) => (!f.kind || o.kind === f.kind) && (!f.skill || o.skills.includes(f.skill)) && asked({ ...o, stage: "planned" }, { customer: f.customer }),
  );
  const waits = new Set(unplaced.map((o) => o.id));
  const days = w.days.map((d) => ({ ...d, promised: d.promised.filter((o) => waits.has(o.id)) }));
  return { ...w, people, unplaced, days };
}

/** What a day comes to over the people that are shown, in seconds. */
export interface DaySum {
  hours: number;
  work: number;
  left: number; // of the hours of those who have some left
  leftBy: Record<string, number>; // the same of those who have a skill, by its id
  off: { name: string; off: Off }[];
}

/** Sums up a day of weeks, by its place among their days. */
export function sumOf(w: Weeks, day: number): DaySum {
  const sum: DaySum = { hours: 0, work: 0, left: 0, leftBy: {}, off: [] };
  for (const p of w.people) {
    const d = p.days[day];
    const left = Math.max(0, d.hours - d.work);
    sum.hours += d.hours;
    sum.work += d.work;
    sum.left += left;
    for (const s of d.skills) sum.leftBy[s] = (sum.leftBy[s] ?? 0) + left;
    if (d.off) sum.off.push({ name: p.short, off: d.off });
  }
  return sum;
}

/** A row in which work over several days is one piece: told to be, and first on each of its days so that its parts lie side by side. */
function joined(row: Row): Row {
  const has = (i: number, c: Chip) => c.stage !== "withdrawn" && row.cells[i]?.chips.some((x) => x.order === c.order && x.stage !== "withdrawn");
  const cells = row.cells.map((cell, i) => {
    const chips = cell.chips.map((c) => ({ ...c, before: has(i - 1, c) || undefined, after: has(i + 1, c) || undefined }));
    const goesOn = (c: Chip) => (c.before || c.after ? 0 : 1);
    return { ...cell, chips: chips.toSorted((a, b) => goesOn(a) - goesOn(b) || (goesOn(a) === 0 ? a.order.localeCompare(b.order) : 0)) };
  });
  return { ...row, cells };
}

const chipsOf = (p: WeekPerson, day: PersonDay, f: Filters): Chip[] =>
  day.visits.map((v) => ({ ...v, person: p.id, who: p.short, faded: !asked(v, f) || undefined }));

/** The groups that a visit is in: none of those that it does not name. */
function groupsOf(v: WeekVisit, by: RowKind, kinds: Choice[]): string[] {
  if (by === "sheet") return v.sheets ?? [];
  if (by === "undertaking") return v.undertaking ? [v.undertaking] : [];
  return v.kind ? [kinds.find((k) => k.id === v.kind)?.text ?? v.kind] : [];
}

export function rowsOf(w: Weeks, by: RowKind, f: Filters, kinds: Choice[], without: string): Row[] {
  if (by === "person")
    return w.people.map((p) =>
      joined({ id: p.id, name: p.name, cells: w.days.map((d, i) => ({ date: d.date, chips: chipsOf(p, p.days[i], f), day: p.days[i] })) }),
    );
  const rows = new Map<string, Row>();
  w.days.forEach((_, i) => {
    for (const p of w.people)
      for (const c of chipsOf(p, p.days[i], f)) {
        if (c.with) continue; // it stands with whose it is
        const groups = groupsOf(c, by, kinds);
        for (const name of groups.length > 0 ? groups : [without]) {
          const row = rows.get(name) ?? { id: name, name, cells: w.days.map((d) => ({ date: d.date, chips: [] as Chip[] })) };
          row.cells[i].chips.push(c);
          rows.set(name, row);
        }
      }
  });
  return [...rows.values()].toSorted((a, b) => Number(a.id === without) - Number(b.id === without) || a.name.localeCompare(b.name));
}
