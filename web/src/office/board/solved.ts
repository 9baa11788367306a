/** What was worked out, as it is recorded. */
import type { EntryDraft, SolutionLine } from "../../types";

/** The changes of the plan that lines stand for; idOf gives new visits their ids. Warnings stay with the visit, with why it is done all the same. */
export function solvedEntries(lines: SolutionLine[], why: string, idOf: (what: string) => string): EntryDraft[] {
  return lines.map((l): EntryDraft => {
    const body = {
      technician: l.fit.lane,
      start: l.start,
      minutes: l.minutes,
      against: l.warned?.length ? { warned: l.warned, why: why.trim() || undefined } : undefined,
    };
    if (l.moved) return { kind: "visit.moved", subject: { type: "visit", id: l.id }, body: { ...body, helpers: l.with ?? [] } };
    const subject = { type: "visit", id: idOf(`visit of ${l.id} ${l.part ?? 0}`) };
    return { kind: "visit.planned", subject, body: { ...body, order: l.id, helpers: l.with, things: l.order.things } };
  });
}
