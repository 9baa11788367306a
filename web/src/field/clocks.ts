/** What the clocks on this device say: where visits stand, and what their dock offers. */
import { useLiveQuery } from "dexie-react-hooks";
import { core, coreLoaded } from "../device/core";
import type { DeviceDB } from "../device/db";
import type { CoreClocks, Dock, Order, ReplicaState, Standing, Visit } from "../types";
import { isoDate } from "../ui/format";
import { useCore, useDevice } from "./device";
import type { Stop } from "./stops";

/** A visit left open is looked at for a week, as the office does: view.later. */
const daysBack = 8;

async function clocksOf(db: DeviceDB): Promise<CoreClocks> {
  const since = isoDate(Date.now() - daysBack * 86_400_000);
  const cards = (await db.all("timecard")).map((c) => c.body).filter((c) => c.date >= since);
  const skew = ((await db.remembered.get("state"))?.value as ReplicaState | undefined)?.skew ?? 0;
  return { cards, now: Date.now() + skew, zone: await db.zone() };
}

export const isBegun = (v: Visit) => v.stage === "travelling" || v.stage === "on_site" || v.stage === "paused";

/** Where visits stand by the clocks; by what was tapped on them alone until the core is there. */
export async function standingsOf(db: DeviceDB, visits: { id: string; body: Visit }[]): Promise<Standing[]> {
  const begun = coreLoaded() ? visits.filter((v) => isBegun(v.body)) : [];
  const known = begun.length > 0 ? core("standings", { ...(await clocksOf(db)), visits: begun.map((v) => ({ id: v.id, visit: v.body })) }) : [];
  return visits.map((v) => known[begun.indexOf(v)] ?? { stage: v.body.stage, since: v.body.since });
}

async function sitesOf(db: DeviceDB): Promise<Record<string, string>> {
  const orders = new Map((await db.all("workorder")).map((o) => [o.id, o.body.site]));
  return Object.fromEntries((await db.all("visit")).map((v) => [v.id, orders.get(v.body.order) ?? ""]));
}

/** What a person can do on a stop now; undefined until the core is there. */
export function useDock(stop: Stop): Dock | undefined {
  const { db, me } = useDevice();
  const ready = useCore();
  return useLiveQuery(async () => {
    if (!ready) return undefined;
    const order = stop.order ?? ({ tasks: [] } as unknown as Order);
    return core("dock", { ...(await clocksOf(db)), id: stop.id, visit: stop.visit, order, person: me.id, sites: await sitesOf(db) });
  }, [db, me, ready, stop]);
}

/** Where a visit is, in words; undefined until it is known. */
export function useSiteName(visit: string | undefined): string | undefined {
  const { db } = useDevice();
  return useLiveQuery(async () => {
    const order = await db.body("workorder", (await db.body("visit", visit))?.order);
    return (await db.body("site", order?.site))?.name;
  }, [db, visit]);
}
