/** How promises of a work order stand, by its visits. */
import type { OrderPage, Visit } from "../../types";

/** Whether a promise was kept, was broken (by so many seconds), is past and open, is at risk by what is planned, or is open. */
export interface Standing {
  is: "kept" | "broken" | "late" | "risk" | "open" | "over";
  late?: number; // seconds
}

const arrivals = (v: Visit) => (v.steps ?? []).filter((s) => !s.struck && (s.action === "arrived" || s.action === "started_task")).map((s) => Date.parse(s.at));

const earliest = (list: number[]) => (list.length > 0 ? Math.min(...list) : undefined);

/** Whether something that was promised by a time has happened at one, or is planned for one; over: nothing is to come. */
function by(promise: string | undefined, happened: number | undefined, planned: number | undefined, over: boolean, now: number): Standing | undefined {
  if (!promise) return undefined;
  const end = Date.parse(promise);
  if (happened !== undefined) return happened <= end ? { is: "kept" } : { is: "broken", late: (happened - end) / 1000 };
  if (over) return { is: "over" };
  if (now > end) return { is: "late" };
  return { is: planned !== undefined && planned > end ? "risk" : "open" };
}

export function standing({ order, visits }: OrderPage, over: boolean, now: number): { come?: Standing; done?: Standing } {
  const all = visits.map((v) => v.visit).filter((v) => v.stage !== "withdrawn" && v.stage !== "declined");
  const coming = all.filter((v) => v.stage !== "finished");
  const begun = earliest(all.flatMap(arrivals));
  const ends = all.filter((v) => v.stage === "finished").map((v) => Date.parse(v.since));
  const ended = over && ends.length > 0 ? Math.max(...ends) : undefined;
  const lastEnd = coming.length > 0 ? Math.max(...coming.map((v) => Date.parse(v.start) + v.minutes * 60_000)) : undefined;
  return {
    come: by(order.promiseTo, begun, earliest(coming.map((v) => Date.parse(v.start))), over, now),
    done: by(order.doneBy, ended, lastEnd, over, now),
  };
}
