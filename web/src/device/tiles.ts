/**
 * The tiles of the firm's map that a device keeps for no signal: those around its person's places of the coming days and along the ways between them,
 * and what was looked at. Each is shown until the one of a newer map is here.
 */
import { fetchTile, type MapSource } from "../map/source";
import { get } from "../session/api";
import type { KnownWays, RegionMap } from "../types";
import type { DeviceDB } from "./db";
import { keptWays } from "./ways";

/** Tiles take up to this many bytes, and those that are fetched beforehand are up to so many. */
const mostBytes = 30 << 20;
const mostTiles = 1500;

/** How many are fetched at a time. */
const atATime = 4;

/** From this zoom on only what is near a place or a way is kept, and around a place so many tiles on each side. */
const wholeUpTo = 8;
const around = 1;

type Tile = [z: number, x: number, y: number];

const keyOf = ([z, x, y]: Tile) => `${z}/${x}/${y}`;

/** The tile that a point is on, at a zoom. */
function tileAt(z: number, lat: number, lon: number): Tile {
  const n = 2 ** z;
  const radians = (lat * Math.PI) / 180;
  const clamp = (v: number) => Math.min(Math.max(Math.floor(v), 0), n - 1);
  return [z, clamp(((lon + 180) / 360) * n), clamp(((1 - Math.asinh(Math.tan(radians)) / Math.PI) / 2) * n)];
}

/** The tiles that a device keeps, those of the whole region first. */
export function tilesOf(about: RegionMap, ways: KnownWays | undefined): Tile[] {
  const out = new Map<string, Tile>();
  const add = (t: Tile) => void (out.size < mostTiles && out.set(keyOf(t), t));
  for (let z = about.least; z <= Math.min(wholeUpTo, about.most); z++) {
    const [, west, north] = tileAt(z, about.north, about.west);
    const [, east, south] = tileAt(z, about.south, about.east);
    for (let x = west; x <= east; x++) for (let y = north; y <= south; y++) add([z, x, y]);
  }
  for (let z = wholeUpTo + 1; z <= about.most; z++) {
    for (const p of ways?.places ?? []) {
      const [, x, y] = tileAt(z, p.lat, p.lon);
      for (let dx = -around; dx <= around; dx++) for (let dy = -around; dy <= around; dy++) add([z, x + dx, y + dy]);
    }
    for (const piece of ways?.pieces ?? []) {
      let [lat, lon] = [0, 0];
      for (let i = 0; i + 1 < piece.line.length; i += 2) {
        [lat, lon] = [lat + piece.line[i], lon + piece.line[i + 1]];
        add(tileAt(z, lat / 1e5, lon / 1e5));
      }
    }
  }
  return [...out.values()];
}

export async function keptMap(db: DeviceDB): Promise<RegionMap | undefined> {
  return (await db.remembered.get("map"))?.value as RegionMap | undefined;
}

/** Keeps a tile that came; none is kept as empty. */
async function keep(db: DeviceDB, rev: string, [z, x, y]: Tile): Promise<ArrayBuffer> {
  const bytes = (await fetchTile(rev, z, x, y)) ?? new ArrayBuffer(0);
  await db.tiles.put({ key: keyOf([z, x, y]), rev, bytes, at: Date.now() });
  return bytes;
}

/** How long it is not asked again which map there is, in milliseconds. */
const askAgain = 5 * 60_000;

/** What each database has had fetched in this tab: of which map and ways, and when that was asked. */
const fetched = new WeakMap<DeviceDB, { of: string; asked: number }>();

/** Asks which map there is, and fetches what the device keeps of it, one tab at a time. What can't be had now is asked for after another sync. */
export async function refreshTiles(db: DeviceDB, room: number, signal: AbortSignal): Promise<void> {
  await navigator.locks
    .request(`iter-tiles-${db.person}`, { ifAvailable: true }, async (lock) => {
      const last = fetched.get(db);
      const ways = (await keptWays(db))?.rev;
      const kept = await keptMap(db);
      if (!lock || (last && last.of === `${kept?.rev} ${ways}` && Date.now() - last.asked < askAgain)) return;
      const about = await get("/api/map");
      if (kept?.rev !== about.rev) await db.remembered.put({ name: "map", value: about });
      const wanted = about.rev ? await missingTiles(db, about) : [];
      let size = await prune(db, about, room);
      for (let i = 0; i < wanted.length && size < Math.min(room, mostBytes); i += atATime) {
        if (signal.aborted) return;
        const came = await Promise.all(wanted.slice(i, i + atATime).map((t) => keep(db, about.rev, t)));
        size += came.reduce((n, b) => n + b.byteLength, 0);
      }
      fetched.set(db, { of: `${about.rev} ${ways}`, asked: Date.now() });
    })
    .catch(() => {}); // what is kept stays
}

/** The tiles that are wanted of a map and not here yet. */
async function missingTiles(db: DeviceDB, about: RegionMap): Promise<Tile[]> {
  const have = new Set<string>();
  await db.tiles
    .where("rev")
    .equals(about.rev)
    .eachPrimaryKey((key) => have.add(key));
  return tilesOf(about, await keptWays(db)).filter((t) => !have.has(keyOf(t)));
}

/** Whether what is wanted of the map is still to come. */
export async function lacksTiles(db: DeviceDB): Promise<boolean> {
  const about = await keptMap(db);
  return Boolean(about?.rev) && (await missingTiles(db, about!)).length > 0;
}

/** Lets go of what is not wanted any more, the oldest first, while tiles take more than they may. Gives what they take then, in bytes. */
async function prune(db: DeviceDB, about: RegionMap, room: number): Promise<number> {
  const most = Math.min(room, mostBytes);
  let size = 0;
  await db.tiles.each((t) => {
    size += t.bytes.byteLength;
  });
  if (size <= most) return size;
  const wanted = new Set(about.rev ? tilesOf(about, await keptWays(db)).map(keyOf) : []);
  const all = await db.tiles.orderBy("at").toArray();
  for (const t of [...all.filter((x) => !wanted.has(x.key)), ...all.filter((x) => wanted.has(x.key))]) {
    if (size <= most) break;
    await db.tiles.delete(t.key);
    size -= t.bytes.byteLength;
  }
  return size;
}

/** A device's map: a tile that it keeps, or else the server's, or of an older map when neither can be had. */
export function deviceMap(db: DeviceDB, about: RegionMap): MapSource {
  return {
    about,
    async tile(z, x, y) {
      const kept = await db.tiles.get(keyOf([z, x, y]));
      if (kept?.rev === about.rev) return kept.bytes;
      return keep(db, about.rev, [z, x, y]).catch(() => kept?.bytes);
    },
  };
}
