/** Questions that are asked again. */
import "fake-indexeddb/auto";
import { expect, it, vi } from "vitest";
import { DeviceDB } from "./db";
import { observe } from "./live";
import { stored } from "./tables";

const site = (id: string, name: string) => ({ type: "site", id, rev: 1, body: { name } });

it("asks again when a document changes that was read, or one of a type of which all were, and not when another does", async () => {
  const db = new DeviceDB("ann");
  await db.shown.bulkPut([site("S1", "one"), site("S2", "two")].map(stored));
  const one: (string | undefined)[] = [];
  const all: number[] = [];
  const stop = [
    observe(db, async (db) => (await db.body("site", "S1"))?.name).subscribe((name) => one.push(name)),
    observe(db, async (db) => (await db.all("site")).length).subscribe((n) => all.push(n)),
  ] as (() => void)[];
  await vi.waitUntil(() => one.length + all.length === 2);
  db.documents.replaced([site("S3", "three")], 0);
  await vi.waitUntil(() => all.length === 2);
  db.documents.replaced([site("S1", "uno")], 0);
  await vi.waitUntil(() => one.length === 2);
  expect([one, all], "what is the same is not told again").toEqual([
    ["one", "uno"],
    [2, 3],
  ]);
  for (const s of stop) s();
  db.documents.replaced([site("S1", "un")], 0);
  await new Promise((done) => setTimeout(done));
  expect(one).toEqual(["one", "uno"]);
});

it("asks again when a table changes that was read", async () => {
  const db = new DeviceDB("ben");
  const told: unknown[] = [];
  const stop = observe(db, async (db) => (await db.remembered.get("told"))?.value).subscribe((v) => told.push(v)) as () => void;
  await db.remembered.put({ name: "told", value: true });
  await vi.waitUntil(() => told.includes(true));
  stop();
});
