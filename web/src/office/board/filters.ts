/** What of the board is shown: kept in its address, the same for lanes, what waits and suggestions. */

import { plain } from "../../catalogue/wordIndex";
import type { Board, BoardPerson, BoardVisit, Choice, DraftLine, PlanSettings } from "../../types";

/** What can be chosen by, and in which order lanes stand. */
export const filterNames = ["person", "team", "area", "skill", "kind", "stage", "customer", "order"] as const;

export type Filters = Partial<Record<(typeof filterNames)[number], string>>;

export const readFilters = (params: URLSearchParams): Filters =>
  Object.fromEntries(filterNames.map((n) => [n, params.get(n) ?? undefined]).filter(([, v]) => v));

/** A visit that is not one of those asked for stays where it is, faded: its time is taken all the same. One that a draft changes says so. */
export type ShownVisit = BoardVisit & { faded?: boolean; drafted?: DraftLine };

/** Whether every word of a text is in another, however it is spelled. */
const has = (text: string, words: string) =>
  plain(words)
    .split(/\s+/)
    .every((w) => plain(text).includes(w));

/** Somebody, as far as it is chosen by. */
type Shown = Pick<BoardPerson, "name" | "short" | "team" | "areas" | "skills">;

export function shows(p: Shown, f: Filters): boolean {
  return (
    (!f.person || has(`${p.name} ${p.short}`, f.person)) &&
    (!f.team || p.team === f.team) &&
    (!f.area || !p.areas?.length || p.areas.includes(f.area)) &&
    (!f.skill || p.skills.includes(f.skill))
  );
}

const nameOf = (choices: Pick<Choice, "id" | "text">[] | undefined, id: string | undefined) => choices?.find((c) => c.id === id)?.text ?? "";

/** What lanes are put in order by before their names; those without come last. */
export function rank(p: Shown, f: Filters, planning: PlanSettings | undefined): string {
  const last = "\uffff";
  if (f.order === "team") return nameOf(planning?.teams, p.team) || last;
  if (f.order === "area") return planning?.areas?.find((a) => a.id === p.areas?.[0])?.name || last;
  return "";
}

/** A board as it is shown: without the lanes that are not asked for, and with what else is not faded or left out. */
export function filtered(board: Board, f: Filters, planning: PlanSettings | undefined): Board {
  if (Object.keys(f).length === 0) return board;
  const people = board.people
    .filter((p) => shows(p, f))
    .map((p) => ({ ...p, visits: p.visits.map((v) => (asked(v, f) ? v : ({ ...v, faded: true } as ShownVisit))) }))
    .toSorted((a, b) => rank(a, f, planning).localeCompare(rank(b, f, planning)) || a.name.localeCompare(b.name));
  const ids = new Set(people.map((p) => p.id));
  const unplaced = board.unplaced.filter(
    (o) =>
      (!f.kind || o.kind === f.kind) &&
      (!f.customer || has(o.customer, f.customer)) &&
      (!f.skill || o.skills.includes(f.skill)) &&
      (!f.area || board.plan.wants.find((w) => w.id === o.id)?.areas?.includes(f.area)),
  );
  const lanes = board.plan.lanes.filter((l) => l.thing || ids.has(l.id));
  return { ...board, people, unplaced, plan: { ...board.plan, lanes } };
}

/** Whether a visit is one of those asked for. */
export const asked = (v: Pick<BoardVisit, "kind" | "stage" | "customer">, f: Filters) =>
  (!f.kind || v.kind === f.kind) && (!f.stage || v.stage === f.stage) && (!f.customer || has(v.customer, f.customer));
