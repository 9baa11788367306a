/** Recording: a tap becomes an entry, saved on the device before the screen says so. */
import { monotonicFactory } from "ulid";
import type { Draft, Flag, Where } from "../types";
import { core, loadCore } from "./core";
import type { DeviceDB } from "./db";
import type { StoredFile } from "./tables";

export const newId = monotonicFactory();

/** How long recording took, for make bench. */
const recordMeasure = "iter.record";

/**
 * Records a draft: checks it, makes an entry of it and puts that into the outbox; a file that the entry mentions with it, and send names those
 * kept here that have to go now. Rejects with a CoreError when the entry can't be meant; then nothing was kept. onFlags is told what the entry
 * raised, as far as this device knows.
 */
export async function record(db: DeviceDB, draft: Draft, file?: StoredFile, onFlags?: (flags: Flag[]) => void, send: string[] = []): Promise<string> {
  await loadCore();
  const zone = await db.zone();
  const id = newId();
  const began = performance.now();
  const flags = await db.documents.inTurn(async () => {
    const state = await db.state(newId);
    const now = Date.now();
    const { entry, flags } = await db.documents.record(draft.subject, (documents) => core("record", { ...documents, state, draft, id, now, zone }));
    const files = [file, file?.print].flatMap((f) => (f ? [{ ...f, print: undefined, entry: id, visit: file?.visit }] : []));
    await db.documents.keep(() => db.record(entry, files, send));
    db.know({ ...state, last: entry.at });
    return flags;
  });
  performance.measure(recordMeasure, { start: began });
  onFlags?.(flags);
  return id;
}

let lastWhere: { at: number; where: Where } | undefined;
let watching = false;

/** Starts following the position, when the person has allowed it before or does now. Nothing waits for it. */
export function followPosition() {
  if (watching || !("geolocation" in navigator)) return;
  watching = true;
  navigator.geolocation.watchPosition(
    (p) => {
      lastWhere = { at: Date.now(), where: { lat: p.coords.latitude, lon: p.coords.longitude, accuracy: Math.round(p.coords.accuracy) } };
    },
    () => {
      watching = false;
    },
    { enableHighAccuracy: false, maximumAge: 60_000 },
  );
}

/** The last known position, when it is not older than five minutes. */
export function where(): Where | undefined {
  return lastWhere && Date.now() - lastWhere.at < 300_000 ? lastWhere.where : undefined;
}
