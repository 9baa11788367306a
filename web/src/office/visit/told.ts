/** What a technician tells by telephone of a visit, as it is written down, and the entries that it comes to. */
import type { EntryDraft, Need, Outcome, ToldBy, VisitView } from "../../types";
import { isDate, isTime, momentOf } from "../../ui/format";

export interface Telling {
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

export type ToldDraft = EntryDraft & { told: ToldBy };

/** What is wrong with what is told, as a code; undefined when nothing is. */
export function wrong(told: Telling, now: number): "told.nothing" | "told.time" | "told.order" | "told.future" | "told.outcome" | "told.reading" | undefined {
  const times = timesOf(told);
  if (!isDate(told.date) || times.some((hm) => !/^\d\d:\d\d$/.test(hm) || !isTime(told.date, hm))) return "told.time";
  const at = times.map((hm) => momentOf(told.date, hm).getTime());
  if (at.some((t, i) => i > 0 && t <= at[i - 1]) || (told.breakTo && !told.breakFrom)) return "told.order";
  if (at.some((t) => t > now)) return "told.future";
  if (told.finished ? !told.outcome : told.outcome) return "told.outcome";
  if (Object.values(told.readings).some((v) => v && !/^-?\d+([.,]\d+)?$/.test(v.trim()))) return "told.reading";
  const other = told.done.length + told.parts.length + Object.values(told.readings).filter((v) => v.trim()).length;
  return times.length + other === 0 && !told.note.trim() ? "told.nothing" : undefined;
}

const timesOf = (t: Telling) => [t.setOff, t.arrived, t.breakFrom, t.breakTo, t.finished].filter(Boolean);

/** The entries that it comes to, in the order in which it happened. What has no time of its own was done before the end, or by now. */
export function entriesOf(told: Telling, view: VisitView, place: string, now: number): ToldDraft[] {
  const at = (hm: string) => momentOf(told.date, hm).toISOString();
  // Before the end, as it ends the work; a moment each, so that they keep their order.
  const last = told.finished ? momentOf(told.date, told.finished).getTime() : now;
  const draft = (kind: string, when: string, body: object) =>
    ({ kind, subject: { type: "visit", id: view.id }, body, told: { person: told.person, at: when } }) as ToldDraft;
  const worked = [
    ...told.done.map((task) => ["task.done", { order: view.visit.order, task }] as const),
    ...told.parts.map((p) => ["part.used", { part: p.part, quantity: p.quantity, place }] as const),
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
