/**
 * What the office recorded in this browser and was acknowledged: kept until the server says that a second place has it, and given again to a server
 * that was restored from a copy of before.
 */

import Dexie, { type Table } from "dexie";
import { act, get } from "../session/api";
import type { Logged } from "../types";

interface History {
  name: "history";
  value: string;
}

class OfficeDB extends Dexie {
  acknowledged!: Table<Logged, string>;
  remembered!: Table<History, string>;

  constructor(person: string) {
    super(`iter-office-${person}`);
    this.version(1).stores({ acknowledged: "id, seq", remembered: "name" });
  }
}

let open: { person: string; db: OfficeDB } | undefined;

function dbOf(person: string): OfficeDB {
  if (open?.person !== person) open = { person, db: new OfficeDB(person) };
  return open.db;
}

/** Keeps what was acknowledged. Where a browser keeps nothing the command counts all the same. */
export async function keep(person: string, entries: Logged[]): Promise<void> {
  await dbOf(person)
    .acknowledged.bulkPut(entries)
    .catch(() => {});
}

/** How many entries are given again at once: replica.MaxEntries. */
const page = 200;

/** Lets go of what a second place has, or gives again what a restored server lacks. In one tab at a time. */
export async function settle(person: string): Promise<{ left: number; alone: boolean }> {
  const db = dbOf(person);
  return navigator.locks.request(`iter-kept-${person}`, async () => {
    const kept = await get("/api/office/kept");
    const known = (await db.remembered.get("history"))?.value;
    if (known !== undefined && known !== kept.history) {
      const all = await db.acknowledged.orderBy("seq").toArray();
      for (let i = 0; i < all.length; i += page) {
        const entries = all.slice(i, i + page);
        const { receipts } = await act("/api/office/again", {}, { entries });
        await db.acknowledged.bulkPut(entries.map((e, n) => ({ ...e, seq: receipts[n].seq ?? kept.seq + 1 })));
      }
    } else await db.acknowledged.where("seq").belowOrEqual(kept.seq).delete();
    await db.remembered.put({ name: "history", value: kept.history });
    return { left: await db.acknowledged.count(), alone: kept.alone === true };
  });
}

/** Waits a moment for what was acknowledged to be in a second place. Tells how much is on one disk alone, or may be when the server can't be asked. */
export async function untilKept(person: string): Promise<number> {
  for (let tries = 0; ; tries++) {
    const answer = await settle(person).catch(() => undefined);
    const left = answer?.left ?? (await dbOf(person).acknowledged.count());
    if (left === 0 || answer?.alone || tries === 5) return left;
    await new Promise((done) => setTimeout(done, 1000));
  }
}

/** Deletes what is kept here of a person who leaves. */
export const forget = (person: string) => dbOf(person).delete();
