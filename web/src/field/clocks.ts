/** What the clocks on this device say: where visits stand, and what their dock offers. */

import { core, coreLoaded } from "../device/core";
import type { DeviceDB } from "../device/db";
import { useLive } from "../device/live";
import type { Dock, Standing, Visit } from "../types";
import { isoDate } from "../ui/format";
import { useCore, useDevice } from "./device";
import type { Stop } from "./stops";

/** A visit left open is looked at for a week, as the office does: view.later. */
const daysBack = 8;

async function cardsOf(db: DeviceDB): Promise<string[]> {
  const since = isoDate(Date.now() - daysBack * 86_400_000);
  return (await db.all("timecard")).flatMap((c) => (c.body.date >= since ? [c.id] : []));
}

export const isBegun = (v: Visit) => v.stage === "travelling" || v.stage === "on_site" || v.stage === "paused";

/** Where visits stand by the clocks; by what was tapped on them alone until the core is there. */
export async function standingsOf(db: DeviceDB, visits: { id: string; body: Visit }[]): Promise<Standing[]> {
  const begun = coreLoaded() ? visits.flatMap((v) => (isBegun(v.body) ? [v.id] : [])) : [];
  if (begun.length === 0) return visits.map(({ body }) => ({ stage: body.stage, since: body.since }));
  const cards = await cardsOf(db);
  const { standings } = await db.ask([], (m) => core("standings", { ...m, visits: begun, cards }));
  return visits.map(({ id, body }) => standings[begun.indexOf(id)] ?? { stage: body.stage, since: body.since });
}

async function sitesOf(db: DeviceDB): Promise<Record<string, string>> {
  const orders = new Map((await db.all("workorder")).map((o) => [o.id, o.body.site]));
  return Object.fromEntries((await db.all("visit")).map((v) => [v.id, orders.get(v.body.order) ?? ""]));
}

/** What a person can do on a stop now; undefined until the core is there. */
export function useDock(stop: Stop): Dock | undefined {
  const { db, me } = useDevice();
  const ready = useCore();
  return useLive(
    db,
    async (db) => {
      if (!ready) return undefined;
      const [cards, sites] = [await cardsOf(db), await sitesOf(db)];
      return (await db.ask([{ type: "visit", id: stop.id }], (m) => core("dock", { ...m, id: stop.id, person: me.id, cards, sites }))).dock;
    },
    [me, ready, stop.id],
  );
}

/** Where a visit is, in words; undefined until it is known. */
export function useSiteName(visit: string | undefined): string | undefined {
  const { db } = useDevice();
  return useLive(
    db,
    async (db) => {
      const order = await db.body("workorder", (await db.body("visit", visit))?.order);
      return (await db.body("site", order?.site))?.name;
    },
    [visit],
  );
}
