/** Takes in what the office answered. */
import type { Pending, SyncChange, SyncResponse } from "../types";
import { core } from "./core";
import type { DeviceDB } from "./db";
import type { Trip } from "./patient";
import { newId } from "./record";
import { keyOf, stored, type Waiting } from "./tables";

/** What an answer changes: worked out with what was in the outbox, the last of it in a row, and with entries up to a number. */
interface WorkedOut {
  change: SyncChange;
  pending: Waiting[];
  row: number;
  folded: number;
}

/** Replaces base, and shows what is still pending on top. What is recorded while that is worked out has it worked out anew. */
export async function takeIn(db: DeviceDB, response: SyncResponse, trip: Trip): Promise<void> {
  const identity = newId();
  for (;;) {
    const work = await workOut(db, response, trip, identity);
    const done = await db.documents.inTurn(async () => {
      if (!(await write(db, work))) return false;
      if (response.docs.some((d) => d.type === "settings")) db.forget();
      const { last } = await db.state(newId);
      db.know({ ...work.change.state, last });
      db.documents.replaced(work.change.shown, work.folded);
      return true;
    });
    if (!done) continue;
    // That can wait: what is kept once too often is only given again.
    if (work.change.kept) await db.acknowledged.where("seq").belowOrEqual(work.change.kept).delete();
    return;
  }
}

/** What an answer changes, as things stand. */
async function workOut(db: DeviceDB, response: SyncResponse, trip: Trip, identity: string): Promise<WorkedOut> {
  const state = await db.state(newId);
  const pending = await db.unfolded();
  const acknowledged = response.renew ? await db.acknowledged.orderBy("seq").toArray() : [];
  const q = { state, pending, acknowledged, base: [], response, ...trip, identity };
  // Under a new identity, nothing of what was told before counts: the core looks at all of it.
  const base = response.renew ? await db.base.toArray() : (await db.base.bulkGet(core("touched", q).map(keyOf))).filter((d) => d !== undefined);
  const row = Math.max(0, ...pending.map((p) => p.row ?? 0));
  return { pending, row, folded: Math.max(await db.folded(), row), change: core("receive", { ...q, base }) };
}

/** Writes it, all in one transaction and at once: a tap waits for it. Tells whether it could: nothing was recorded since. */
function write(db: DeviceDB, { change, pending, row, folded }: WorkedOut): Promise<boolean> {
  const [shown, hidden] = [change.shown.filter((d) => d.body), change.shown.filter((d) => !d.body)];
  return db.transaction("rw", [db.base, db.shown, db.outbox, db.remembered, db.acknowledged, db.files], async () => {
    if ((await db.lastNumber()) !== row) return false;
    if (change.recalled) {
      await db.acknowledged.clear();
      // The office may lack files too: it is asked for each whether it has it.
      await db.files.filter((f) => f.state === "here" && f.entry !== undefined).modify({ state: "waiting", upload: undefined });
    }
    await Promise.all([
      db.base.bulkPut(change.base.map(stored)),
      db.base.bulkDelete(change.drop.map(keyOf)),
      db.shown.bulkPut(shown.map(stored)),
      db.shown.bulkDelete(hidden.map(keyOf)),
      replacePending(db, pending, change.pending),
      db.acknowledged.bulkPut(change.acknowledged),
      db.remembered.bulkPut([
        { name: "state", value: change.state },
        { name: "folded", value: folded },
      ]),
    ]);
    return true;
  });
}

/** Writes what of the outbox is not as it was. */
async function replacePending(db: DeviceDB, was: Waiting[], is: Pending[]) {
  const { outbox } = db;
  const rows = new Map(was.map((p) => [p.id, p.row]));
  const left = new Set(is.map((p) => p.id));
  const gone = was.flatMap((p) => (left.has(p.id) || p.row === undefined ? [] : [p.row]));
  await Promise.all([outbox.bulkDelete(gone), outbox.bulkPut(is.map((p) => (rows.has(p.id) ? { ...p, row: rows.get(p.id) } : p)))]);
}
