/** What a technician tells by telephone of a visit, as it is written down, and the entries that it comes to. */
import type { EntryDraft, Need, Outcome, PhonedBy, VisitView } from "../../types";
import { typedNumber } from "../../ui/decimal";
import { isDate, isTime, momentOf } from "../../ui/format";

export interface PhonedIn {
  person: string;
  /** the day of the times */
  date: string;
  setOff: string;
  arrived: string;
  breakFrom: string;
  breakTo: string;
  finished: string;
  outcome: Outcome | "";
  reason: string;
  /** the ids of tasks that are done */
  done: string[];
  parts: Need[];
  /** what was read, by asset and point with a / between */
  readings: Record<string, string>;
  note: string;
}

export const blank: PhonedIn = {
  person: "",
  date: "",
  setOff: "",
  arrived: "",
  breakFrom: "",
  breakTo: "",
  finished: "",
  outcome: "",
  reason: "",
  done: [],
  parts: [],
  readings: {},
  note: "",
};

export type PhonedDraft = EntryDraft & { phoned: PhonedBy };

/** What is wrong with what is told, as a code; undefined when nothing is. */
export function wrong(
  told: PhonedIn,
  now: number,
): "phoned.nothing" | "phoned.time" | "phoned.order" | "phoned.future" | "phoned.outcome" | "phoned.reading" | undefined {
  const times = timesOf(told);
  if (!isDate(told.date) || times.some((hm) => !/^\d\d:\d\d$/.test(hm) || !isTime(told.date, hm))) return "phoned.time";
  const at = times.map((hm) => momentOf(told.date, hm).getTime());
  if (at.some((t, i) => i > 0 && t <= at[i - 1]) || (told.breakTo && !told.breakFrom)) return "phoned.order";
  if (at.some((t) => t > now)) return "phoned.future";
  if (told.finished ? !told.outcome : told.outcome) return "phoned.outcome";
  if (Object.values(told.readings).some((v) => v && !/^-?\d+([.,]\d+)?$/.test(v.trim()))) return "phoned.reading";
  const other = told.done.length + told.parts.length + Object.values(told.readings).filter((v) => v.trim()).length;
  return times.length + other === 0 && !told.note.trim() ? "phoned.nothing" : undefined;
}

const timesOf = (t: PhonedIn) => [t.setOff, t.arrived, t.breakFrom, t.breakTo, t.finished].filter(Boolean);

/** The entries that it comes to, in the order in which it happened. What has no time of its own was done before the end, or by now. */
export function entriesOf(told: PhonedIn, view: VisitView, place: string, now: number): PhonedDraft[] {
  const at = (hm: string) => momentOf(told.date, hm).toISOString();
  // Before the end, as it ends the work; a moment each, so that they keep their order.
  const last = told.finished ? momentOf(told.date, told.finished).getTime() : now;
  const draft = (kind: string, when: string, body: object) =>
    ({ kind, subject: { type: "visit", id: view.id }, body, phoned: { person: told.person, at: when } }) as PhonedDraft;
  const worked = [
    ...told.done.map((task) => ["task.done", { order: view.visit.order, task }] as const),
    ...told.parts.map((p) => ["part.used", { part: p.part, quantity: typedNumber(p.quantity), place }] as const),
    ...Object.entries(told.readings).flatMap(([key, value]) => {
      const machine = view.machines.find((m) => m.points.some((p) => key === `${m.id}/${p.id}`));
      const point = machine?.points.find((p) => key === `${machine.id}/${p.id}`);
      if (!machine || !point || !value.trim()) return [];
      const body = { asset: machine.id, kind: machine.asset.kind, point: point.id, value: value.trim().replace(",", "."), unit: point.unit };
      return [["reading.taken", body] as const];
    }),
    ...(told.note.trim() ? [["note.written", { text: told.note.trim() }] as const] : []),
  ];
  const returns = told.outcome && told.outcome !== "complete" ? { order: view.visit.order } : {};
  return [
    ...(told.setOff ? [draft("visit.set_off", at(told.setOff), {})] : []),
    ...(told.arrived ? [draft("visit.arrived", at(told.arrived), {})] : []),
    ...(told.breakFrom ? [draft("visit.paused", at(told.breakFrom), { clock: "break" })] : []),
    ...(told.breakTo ? [draft("visit.resumed", at(told.breakTo), {})] : []),
    ...worked.map(([kind, body], i) => draft(kind, new Date(last - worked.length + i).toISOString(), body)),
    ...(told.finished ? [draft("visit.finished", at(told.finished), { outcome: told.outcome, reason: told.reason.trim() || undefined, ...returns })] : []),
  ];
}
