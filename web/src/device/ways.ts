/**
 * The ways between the stops of the coming days, where they begin, the stores and the other vans: worked out at the office from the firm's roads,
 * and kept here. Where a place is new, or the firm has brought no roads, no way is known, and none is guessed.
 */
import { get } from "../session/api";
import type { KnownWay, KnownWays, MapPoint } from "../types";
import type { DeviceDB } from "./db";

/** How near two points are that are one place, in degrees. */
const same = 1e-6;

const asking = new Map<DeviceDB, Promise<void>>();

export async function keptWays(db: DeviceDB): Promise<KnownWays | undefined> {
  return (await db.remembered.get("ways"))?.value as KnownWays | undefined;
}

/**
 * Why ways are known here, but none from or to a place: it is newer than they are, or there are more stops than ways can be known for at once.
 * Undefined where a way may be known, or where there are no roads.
 */
export function whyNoWay(ways: KnownWays | undefined, at: Pick<MapPoint, "lat" | "lon">): "newer" | "tooMany" | undefined {
  const near = (p: MapPoint) => Math.abs(p.lat - at.lat) < same && Math.abs(p.lon - at.lon) < same;
  if (!ways || ways.places.some(near)) return undefined;
  return ways.left?.some(near) ? "tooMany" : "newer";
}

/** The way from one place to another, where one is known here. */
export function wayBetween(ways: KnownWays | undefined, from: MapPoint, to: MapPoint): KnownWay | undefined {
  const number = (at: MapPoint) => ways?.places.findIndex((p) => Math.abs(p.lat - at.lat) < same && Math.abs(p.lon - at.lon) < same) ?? -1;
  const [a, b] = [number(from), number(to)];
  return a < 0 || b < 0 ? undefined : ways?.known.find((k) => k.from === a && k.to === b);
}

/** Asks for the ways, after what was planned has come. What can't be had now is asked for at the next sync. */
export function refreshWays(db: DeviceDB): Promise<void> {
  const under = asking.get(db);
  if (under) return under;
  const job = (async () => {
    if (!(await db.body("person", db.person))?.roles.includes("technician")) return; // a terminal
    const kept = await keptWays(db);
    const { same, ways } = await get("/api/ways", kept ? { rev: kept.rev } : {});
    if (same) return;
    if (ways) await db.remembered.put({ name: "ways", value: ways });
    else if (kept) await db.remembered.delete("ways");
  })()
    .catch(() => {}) // what is kept stays
    .finally(() => asking.delete(db));
  asking.set(db, job);
  return job;
}
