/** The day as it will be: the order of its stops, the legs between them, and when each is to be expected. */

import { core } from "../../device/core";
import type { DeviceDB } from "../../device/db";
import { useLive } from "../../device/live";
import { keptWays } from "../../device/ways";
import type { CoreRoute, Drive, KnownWays, Leg, Order, Ordered, Site } from "../../types";
import { isoDate } from "../../ui/format";
import { useCore, useDevice, useNow } from "../device";
import { onDay, type Stop, useStops } from "../stops";

/** The person's own order of a day's stops; none while it is the planned one. */
export async function orderOf(db: DeviceDB, day: string): Promise<string[]> {
  return (await db.body("timecard", `${db.person}+${day}`))?.route ?? [];
}

export function useOrder(day: string): string[] {
  const { db } = useDevice();
  return useLive(db, (db) => orderOf(db, day), [day]) ?? [];
}

async function question(db: DeviceDB, stops: Stop[], order: string[], ways?: KnownWays): Promise<CoreRoute> {
  const person = await db.body("person", db.person);
  const settings = await db.settings();
  return {
    stops: stops.filter((s) => s.part !== "gone").map((s) => ({ id: s.id, visit: s.visit, order: s.order ?? ({} as Order), site: s.site ?? ({} as Site) })),
    order,
    start: person?.home ?? settings?.road.yard,
    now: await db.now(),
    zone: await db.zone(),
    ways,
    busy: settings?.road.busy,
  };
}

/** The legs of a day's stops as they are now, in the order they are taken, worked out anew whenever tick changes; undefined until the core is there. */
export function useLegs(stops: Stop[] | undefined, order: string[], tick: number): Leg[] | undefined {
  const { db } = useDevice();
  const ready = useCore();
  const ways = useLive(db, keptWays, []);
  return useLive(db, async (db) => (ready && stops ? core("route", await question(db, stops, order, ways)) : undefined), [
    ready,
    stops,
    order.join(),
    tick,
    ways?.rev,
  ]);
}

/** The way to a stop that is the next to be driven to, as it is now; undefined while it is not known. */
export function useDrive(stop: Stop): Drive | undefined {
  const now = useNow(60_000);
  const next = stop.visit.stage === "accepted";
  const all = useStops();
  const day = isoDate(stop.visit.start);
  const way = useLegs(next && all ? onDay(all, day) : undefined, useOrder(day), now)?.find((l) => l.id === stop.id)?.way;
  return next && way ? { metres: way.metres, seconds: way.seconds, ferry: way.ferry, free: way.free } : undefined;
}

/** Asks for the order with the least driving. */
export async function leastDriving(db: DeviceDB, stops: Stop[], order: string[]): Promise<Ordered> {
  return core("order", await question(db, stops, order, await keptWays(db)));
}
