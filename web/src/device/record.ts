/** Recording: a tap becomes an entry, saved on the device before the screen says so. */
import { monotonicFactory } from "ulid";
import type { Draft, Flag, Struck, Where } from "../types";
import { core, loadCore } from "./core";
import { type DeviceDB, type StoredFile, stored } from "./db";

export const newId = monotonicFactory();

/** How long recording took, for make bench. */
const recordMeasure = "iter.record";

/**
 * Records a draft: gives it its number and time, applies it to what is shown, and keeps both, in one transaction of the
 * device's database; a file that the entry mentions with it, and send names those kept here that have to go now. Rejects with a CoreError when the entry can't be meant; then
 * nothing was kept. onFlags is told what the entry raised, as far as this device knows.
 */
export async function record(db: DeviceDB, draft: Draft, file?: StoredFile, onFlags?: (flags: Flag[]) => void, send: string[] = []): Promise<string> {
  await loadCore();
  const zone = await db.zone();
  const id = newId();
  const began = performance.now();
  let raised: Flag[] = [];
  await db.transaction("rw", db.shown, db.pending, db.remembered, db.files, async () => {
    const state = await db.state(newId);
    const whole = draft.kind === "entry.struck" ? { ...draft, body: await struck(db, draft) } : draft;
    const stamped = core("stamp", { state, draft: whole, id, now: Date.now(), zone });
    const docs = await db.docs(stamped.keys);
    const { docs: changed, flags } = core("apply", { docs, entry: stamped.entry });
    raised = flags;
    const revs = new Map(docs.map((d) => [`${d.type}/${d.id}`, d.rev]));
    await Promise.all([
      db.shown.bulkPut(changed.map((d) => stored({ ...d, rev: revs.get(`${d.type}/${d.id}`) ?? 0 }))),
      db.pending.put(stamped.entry),
      db.putState(stamped.state),
      db.files
        .where("hash")
        .anyOf(send)
        .and((f) => f.state === "spare")
        .modify({ state: "waiting", entry: id }),
      file && db.files.bulkPut([file, file.print].flatMap((f) => (f ? [{ ...f, print: undefined, entry: id, visit: file.visit }] : []))),
    ]);
  });
  performance.measure(recordMeasure, { start: began });
  onFlags?.(raised);
  return id;
}

/** What a strike-out says in full: with the documents, beside its subject, that the entry counted on. */
async function struck(db: DeviceDB, { subject, body }: Draft): Promise<Struck> {
  let docs = await db.docs([subject]);
  for (;;) {
    const { strike, wanted } = core("strike", { docs, subject, strike: body as Struck });
    if (wanted.length === 0) return strike;
    docs = docs.concat(await db.docs(wanted));
  }
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
