/** The stops of the route: visits joined with their work order and site. */
import { useLiveQuery } from "dexie-react-hooks";
import type { DeviceDB } from "../device/db";
import type { Order, Site, Stage, Visit } from "../types";
import { isoDate } from "../ui/format";
import { useDevice } from "./device";

export interface Stop {
  id: string;
  visit: Visit;
  order?: Order;
  site?: Site;
  fresh: boolean; // sent, and not looked at yet
}

const running: Stage[] = ["travelling", "on_site", "paused"];
export const isRunning = (s: Stop) => running.includes(s.visit.stage);

async function readStops(db: DeviceDB): Promise<Stop[]> {
  const visits = await db.all<Visit>("visit");
  const seen = new Set(((await db.remembered.get("seen"))?.value as string[] | undefined) ?? []);
  const orders = await db.shown.bulkGet(visits.map((v) => `workorder/${v.body.order}`));
  const sites = await db.shown.bulkGet(orders.map((o) => `site/${(o?.body as Order | undefined)?.site ?? ""}`));
  return visits
    .map((v, i) => ({
      id: v.id,
      visit: v.body,
      order: orders[i]?.body as Order | undefined,
      site: sites[i]?.body as Site | undefined,
      fresh: v.body.stage === "sent" && !seen.has(v.id),
    }))
    .sort((a, b) => a.visit.start.localeCompare(b.visit.start) || a.id.localeCompare(b.id));
}

let first: { db: DeviceDB; stops: Stop[] } | undefined;

/** Reads the stops before the first render, so that the route is there with it. */
export async function readFirstStops(db: DeviceDB) {
  first = { db, stops: await readStops(db) };
}

/** All stops on this device, by planned start. */
export function useStops(): Stop[] | undefined {
  const { db } = useDevice();
  return useLiveQuery(() => readStops(db), [db], first?.db === db ? first.stops : undefined);
}

/** One stop, with all that the dock needs of it. */
export function useStop(id: string): Stop | undefined {
  const { db } = useDevice();
  return useLiveQuery(async () => {
    const visit = await db.body<Visit>("visit", id);
    if (!visit) return undefined;
    const order = await db.body<Order>("workorder", visit.order);
    return { id, visit, order, site: await db.body<Site>("site", order?.site), fresh: false };
  }, [db, id]);
}

/** Notes that a visit was looked at. */
export function useSeen() {
  const { db } = useDevice();
  return async (id: string) => {
    await db.transaction("rw", db.remembered, async () => {
      const seen = ((await db.remembered.get("seen"))?.value as string[] | undefined) ?? [];
      if (!seen.includes(id)) await db.remembered.put({ name: "seen", value: [...seen.slice(-500), id] });
    });
  };
}

export const onDay = (stops: Stop[], day: string) => stops.filter((s) => isoDate(s.visit.start) === day);

/** The stop the dock is about: the one under way, or else the next of today. */
export function currentStop(stops: Stop[], today: string): Stop | undefined {
  const open = (s: Stop) => s.visit.stage === "accepted" || s.visit.stage === "sent";
  return stops.findLast(isRunning) ?? onDay(stops, today).find((s) => s.visit.stage === "accepted") ?? onDay(stops, today).find(open);
}
