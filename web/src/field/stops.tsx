/** The stops of the route: visits joined with their work order and site. */

import { createContext, type ReactNode, useContext, useEffect } from "react";
import type { DeviceDB } from "../device/db";
import { useLive } from "../device/live";
import { noteLook } from "../device/looked";
import type { Order, Site, Standing, Visit } from "../types";
import { isoDate } from "../ui/format";
import { isBegun, standingsOf } from "./clocks";
import { useCore, useDevice } from "./device";

/** What a visit is to the person: theirs, one they help with, one they were offered, one that somebody else took, or a colleague's at a site of theirs. */
export type Part = "own" | "helper" | "offer" | "gone" | "beside";

export interface Stop {
  id: string;
  visit: Visit;
  /** where it stands by the clock of whoever is on it */
  standing: Standing;
  order?: Order;
  site?: Site;
  part: Part;
  /** sent or changed, and not looked at yet */
  fresh?: "new" | "changed";
}

/** Whether it is the person's and begun, though its clock may be elsewhere by now. */
export const isUnderWay = (s: Stop) => isBegun(s.visit) && s.part === "own";
export const isOver = (s: Stop) => ["finished", "withdrawn", "declined"].includes(s.visit.stage) || s.part === "gone";

/** Whether a visit ended in a way that somebody has to sign for, and nobody has, or has said why not: work.Visit.NeedsSignature, before the core is there. */
export function isUnsigned(v: Visit): boolean {
  const end = v.steps?.findLast((s) => s.action === "finished" && !s.struck);
  return v.stage === "finished" && !!end?.signature && !v.signatures?.some((s) => !s.struck) && !v.absences?.some((a) => !a.struck);
}

/** What the office asks about a visit and nobody has answered. */
export const asked = (v: Visit) => v.questions?.find((q) => !q.answeredAt);

function partOf(visit: Visit, person: string): Part {
  if (visit.technician === person) return "own";
  if (visit.helpers?.includes(person)) return "helper";
  if (visit.offered?.includes(person)) return visit.technician ? "gone" : "offer";
  if (visit.former?.includes(person) || visit.steps?.some((s) => s.person === person)) return "own"; // it was theirs, and what they did on it is here
  return "beside"; // a colleague's at a site of theirs
}

/** What somebody must have seen of a visit to know it: when it changes, it is announced again. */
const plan = (v: Visit, o?: Order) => [v.technician, v.start, v.minutes, v.withdrawnAt ?? "", o?.problem, o?.promiseTo ?? ""].join("|");

type Seen = Record<string, string>;

async function readSeen(db: DeviceDB): Promise<Seen> {
  const value = (await db.remembered.get("seen"))?.value;
  return value && !Array.isArray(value) ? (value as Seen) : {};
}

function freshness(visit: Visit, order: Order | undefined, part: Part, seen: string | undefined): Stop["fresh"] {
  if (visit.stage === "finished") return undefined;
  if (seen === undefined) return visit.stage === "sent" && part !== "gone" ? "new" : undefined;
  // That it was answered is no news: what was planned is.
  const [who, ...rest] = plan(visit, order).split("|");
  const [, ...had] = seen.split("|");
  return rest.join("|") !== had.join("|") || (part === "gone" && who !== seen.split("|")[0]) ? "changed" : undefined;
}

async function readStops(db: DeviceDB): Promise<Stop[]> {
  const visits = await db.all("visit");
  const seen = await readSeen(db);
  const standings = await standingsOf(db, visits);
  const orders = await db.bodies(
    "workorder",
    visits.map((v) => v.body.order),
  );
  const sites = await db.bodies(
    "site",
    orders.map((o) => o?.site),
  );
  return visits
    .map((v, i) => {
      const order = orders[i];
      const part = partOf(v.body, db.person);
      return {
        id: v.id,
        visit: v.body,
        standing: standings[i],
        order,
        site: sites[i],
        part,
        fresh: freshness(v.body, order, part, seen[v.id]),
      };
    })
    .filter((s) => s.part !== "beside")
    .filter((s) => s.part !== "gone" || s.fresh || s.visit.steps?.some((x) => x.person === db.person && x.action === "accepted" && !x.struck))
    .sort((a, b) => a.visit.start.localeCompare(b.visit.start) || a.id.localeCompare(b.id));
}

let first: { db: DeviceDB; stops: Stop[] } | undefined;

/** Reads the stops before the first render, so that the route is there with it. */
export async function readFirstStops(db: DeviceDB) {
  first = { db, stops: await readStops(db) };
}

const Context = createContext<Stop[] | undefined>(undefined);

/** Holds the stops for all screens: whichever comes next has them as they are by then, with its first render. */
export function StopsProvider({ children }: { children: ReactNode }) {
  const { db } = useDevice();
  const ready = useCore();
  const stops = useLive(db, (db) => readStops(db), [ready], first?.db === db ? first.stops : undefined);
  useEffect(() => {
    first = undefined; // they are as they were at the start
  }, []);
  return <Context.Provider value={stops}>{children}</Context.Provider>;
}

/** All stops on this device, by planned start. */
export const useStops = (): Stop[] | undefined => useContext(Context);

/** One stop, with all that the dock needs of it. */
export function useStop(id: string): Stop | undefined {
  const { db } = useDevice();
  const ready = useCore();
  return useLive(
    db,
    async (db) => {
      const visit = await db.body("visit", id);
      if (!visit) return undefined;
      const order = await db.body("workorder", visit.order);
      const [standing] = await standingsOf(db, [{ id, body: visit }]);
      return { id, visit, standing, order, site: await db.body("site", order?.site), part: partOf(visit, db.person) };
    },
    [id, ready],
  );
}

/** Notes that a visit was looked at, as it is planned now. Tells whether it was not before. */
async function look(db: DeviceDB, id: string): Promise<boolean> {
  const visit = await db.body("visit", id);
  if (!visit) return false;
  const now = plan(visit, await db.body("workorder", visit.order));
  return db.transaction("rw", db.remembered, async () => {
    const had = await readSeen(db);
    if (had[id] === now) return false;
    const kept = Object.entries({ ...had, [id]: now }).slice(-600);
    await db.remembered.put({ name: "seen", value: Object.fromEntries(kept) });
    await noteLook(db, { visit: id, start: visit.start, at: new Date().toISOString() });
    return true;
  });
}

/** Notes that a visit is looked at while the screen shows it, and again when it is moved meanwhile; the office is told. start is when it is planned for. */
export function useLook(id: string, start: string | undefined) {
  const { db, syncer } = useDevice();
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it is planned for is looked at anew
  useEffect(() => {
    const shown = () => {
      if (document.visibilityState === "visible") void look(db, id).then((fresh) => fresh && syncer.soon());
    };
    shown();
    document.addEventListener("visibilitychange", shown);
    return () => document.removeEventListener("visibilitychange", shown);
  }, [db, syncer, id, start]);
}

export const onDay = (stops: Stop[], day: string) => stops.filter((s) => isoDate(s.visit.start) === day);

/** Whether it was begun and its clock went elsewhere on an earlier day than this. */
const isLeftBefore = (s: Stop, today: string) => isUnderWay(s) && !!s.standing.left && isoDate(s.standing.since) < today;

/** The stop the dock is about: the one whose clock runs, or that was left today, or else the next of today. */
export function currentStop(stops: Stop[], today: string, order: string[] = []): Stop | undefined {
  const rank = (s: Stop) => (order.includes(s.id) ? order.indexOf(s.id) : order.length);
  const mine = onDay(stops, today)
    .filter((s) => s.part !== "gone")
    .sort((a, b) => rank(a) - rank(b));
  const begun = stops.filter((s) => isUnderWay(s) && !isLeftBefore(s, today)).sort((a, b) => a.standing.since.localeCompare(b.standing.since));
  return (
    begun.findLast((s) => !s.standing.left) ?? begun.at(-1) ?? mine.find((s) => s.visit.stage === "accepted") ?? mine.find((s) => s.visit.stage === "sent")
  );
}

/** Stops whose end the office set and the person has not confirmed. */
export const unconfirmed = (stops: Stop[]) =>
  stops.flatMap((s) => {
    const ends = s.visit.steps?.filter((x) => x.action === "finished" && !x.struck) ?? [];
    const end = s.part === "own" && s.visit.technician && !ends.some((x) => !x.unconfirmed) ? ends.findLast((x) => x.unconfirmed) : undefined;
    return end?.person ? [{ stop: s, end }] : [];
  });

/** Stops that still wait for the person: for a signature, an answer to the office, or, begun on an earlier day, for their end. */
export const waitsFor = (stops: Stop[], today: string) =>
  stops.filter((s) => s.part === "own" && (isUnsigned(s.visit) || asked(s.visit) || isLeftBefore(s, today)));
