/** What is given to somebody, as it is recorded. */
import type { Board, BoardPerson, EntryDraft, Handed } from "../../types";
import { moment } from "../../ui/format";
import { minute, momentAt, type Scale } from "./scale";
import { graveOf, movable, visitOn, warningsOf } from "./stops";

/** Whom something is given to, "" for whoever fits best, and why although it is warned of. */
export interface Giving {
  to: string;
  why: string;
}

export const nobodyYet: Giving = { to: "", why: "" };

/** Visits moved and work planned as it was proposed; idOf gives new visits their ids. Warnings stay with the visit, with why it is done all the same. */
export function givenEntries(handed: Handed[], why: string, board: Board, scale: Scale, idOf: (what: string) => string): EntryDraft[] {
  return handed.flatMap((h): EntryDraft[] => {
    if (!h.fit) return [];
    const warned = warningsOf(h.fit.why);
    const body = {
      technician: h.fit.lane,
      start: moment(momentAt(scale, h.fit.begin)),
      against: warned.length > 0 ? { warned, why: (graveOf(h.fit.why).length > 0 && why.trim()) || undefined } : undefined,
    };
    const on = visitOn(board, h.id);
    if (on && !movable(on.visit, scale)) return []; // begun on an earlier day
    if (on?.person.id === h.fit.lane && Date.parse(on.visit.start) === momentAt(scale, h.fit.begin)) return []; // it stays
    if (on) return [{ kind: "visit.moved", subject: { type: "visit", id: h.id }, body: { ...body, minutes: on.visit.minutes } }];
    const want = board.plan.wants.find((w) => w.id === h.id);
    if (!want) return [];
    const subject = { type: "visit", id: idOf(`visit of ${h.id}`) };
    return [{ kind: "visit.planned", subject, body: { ...body, order: h.id, minutes: Math.round(want.length / minute), things: want.things } }];
  });
}

/** Visits of others that somebody comes along on and that are not begun, without them. */
export function withoutHelper(person: BoardPerson, board: Board): EntryDraft[] {
  return (person.helps ?? []).flatMap((h): EntryDraft[] => {
    const on = visitOn(board, h.visit);
    if (!on || !["planned", "sent", "accepted"].includes(on.visit.stage)) return [];
    const { start, minutes, helpers = [] } = on.visit;
    const body = { technician: on.person.id, start, minutes, helpers: helpers.filter((x) => x !== person.id) };
    return [{ kind: "visit.moved", subject: { type: "visit", id: h.visit }, body }];
  });
}
