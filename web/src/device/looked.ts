/** Visits that were looked at and of which the office does not know it yet. */
import type { Look } from "../types";
import type { DeviceDB } from "./db";

const mostAtOnce = 200;

/** Those that the office is to be told of. */
export async function looked(db: DeviceDB): Promise<Look[]> {
  return ((await db.remembered.get("looked"))?.value ?? []) as Look[];
}

/** Notes that a visit was looked at, planned for when it was then. */
export async function noteLook(db: DeviceDB, look: Look) {
  await change(db, (all) => [...all.filter((s) => s.visit !== look.visit), look].slice(-mostAtOnce));
}

/** Forgets those that the office was told of, but for those that were looked at again since. */
export async function toldLooks(db: DeviceDB, told: Look[]) {
  if (told.length === 0) return;
  await change(db, (all) => all.filter((s) => !told.some((x) => x.visit === s.visit && x.at === s.at)));
}

async function change(db: DeviceDB, to: (all: Look[]) => Look[]) {
  await db.transaction("rw", db.remembered, async () => {
    await db.remembered.put({ name: "looked", value: to(await looked(db)) });
  });
}
