/** What all places had when this device last heard of it. It is asked for when there is signal, and kept for when there is none. */
import { get } from "../session/api";
import type { RoundUp } from "../types";
import type { DeviceDB } from "./db";

/** How old what is kept may be before it is asked for again. */
const stale = 10 * 60_000;

const asking = new Map<DeviceDB, Promise<void>>();

/** Asks for what all places have, when what is kept is old. Nobody waits for it. */
export function refreshRoundUp(db: DeviceDB, now: number, force = false): Promise<void> {
  const under = asking.get(db);
  if (under) return under;
  const job = (async () => {
    const kept = (await db.remembered.get("roundup"))?.value as RoundUp | undefined;
    if (!force && kept && now - Date.parse(kept.at) < stale) return;
    const fresh = await get("/api/roundup");
    await db.remembered.put({ name: "roundup", value: fresh });
  })()
    .catch(() => {}) // what is kept stays
    .finally(() => asking.delete(db));
  asking.set(db, job);
  return job;
}
