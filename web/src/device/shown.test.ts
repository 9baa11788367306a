/** What a device shows, in several tabs and after kills, with the real core. */
import "fake-indexeddb/auto";
import Dexie from "dexie";
import { beforeAll, beforeEach, expect, it, vi } from "vitest";
import type { Note, Ref, Visit } from "../types";
import { core } from "./core";
import { DeviceDB } from "./db";
import { loadRealCore } from "./realCore";
import { record } from "./record";
import { stored } from "./tables";

const visit: Ref = { type: "visit", id: "V1" };
const empty = { order: "W1", technician: "ann", start: "2026-03-10T08:00:00Z", minutes: 60, stage: "sent", sentAt: "2026-03-10T07:00:00Z" } as Visit;

beforeAll(loadRealCore);

let n = 0;
let db: DeviceDB;
beforeEach(async () => {
  db = new DeviceDB(`ann-${n++}`);
  for (const table of [db.base, db.shown]) await table.put(stored({ ...visit, rev: 5, body: empty }));
});

const write = (text: string, on = db) => record(on, { kind: "note.written", subject: visit, body: { text } });
const textsOf = (body: unknown) => ((body as Visit | undefined)?.notes ?? []).map((x: Note) => x.text);
const notes = async (on = db) => textsOf(await on.body("visit", "V1"));
const inDatabase = async () => textsOf((await db.shown.get("visit/V1"))?.body);

it("numbers the entries of two tabs one after another, and shows all in both", async () => {
  const second = new DeviceDB(db.person);
  await Promise.all([notes(), notes(second)]);
  await Promise.all(["a", "b", "c", "d"].map((text, i) => write(text, i % 2 ? second : db)));
  expect((await db.unfolded()).map((p) => p.n)).toEqual([1, 2, 3, 4]);
  for (const tab of [db, second]) await vi.waitUntil(async () => (await notes(tab)).sort().join() === "a,b,c,d");
  await vi.waitUntil(async () => (await inDatabase()).length === 4);
});

it("tells who watches a document in another tab", async () => {
  const second = new DeviceDB(db.person);
  await notes(second);
  const told: string[] = [];
  second.documents.subscribe((keys) => told.push(...keys));
  await write("seen");
  await vi.waitUntil(() => told.includes("visit/V1"));
  expect(await notes(second)).toEqual(["seen"]);
});

it("loses nothing when the page is killed before what it shows is written", async () => {
  await write("one");
  await vi.waitUntil(async () => (await inDatabase()).length === 1);
  await write("two");
  db.documents.close(); // killed: nothing is written behind
  expect(await inDatabase()).toEqual(["one"]);
  const after = new DeviceDB(db.person);
  expect(await notes(after)).toEqual(["one", "two"]);
  await write("three", after);
  expect(await notes(after)).toEqual(["one", "two", "three"]);
  await vi.waitUntil(async () => (await inDatabase()).length === 3);
  const whole = new DeviceDB(db.person);
  expect(await notes(whole)).toEqual(["one", "two", "three"]);
});

it("shows nothing of an entry that could not be written", async () => {
  await write("one");
  vi.spyOn(db, "record").mockRejectedValueOnce(new DOMException("full", "QuotaExceededError"));
  await expect(write("lost")).rejects.toThrow("full");
  expect(await notes()).toEqual(["one"]);
  await write("two");
  expect(await notes()).toEqual(["one", "two"]);
});

it("is asked of the core with what changed since, also in another tab", async () => {
  const second = new DeviceDB(db.person);
  const order: Ref = { type: "workorder", id: "W1" };
  for (const table of [db.base, db.shown])
    await table.put(stored({ ...order, rev: 1, body: { number: "1", customer: "", site: "", problem: "p", visits: ["V1"] } }));
  const told: number[] = [];
  const summary = async (on: DeviceDB) =>
    (
      await on.ask([visit], (m) => {
        told.push(m.docs.length);
        return core("summary", { ...m, id: "V1" });
      })
    ).summary.notes;
  expect(await summary(db)).toEqual([]);
  expect(await summary(second)).toEqual([]);
  told.length = 0;
  await write("one");
  expect(await summary(db)).toEqual(["one"]);
  expect(told[0], "the core has what it recorded").toBe(0);
  await vi.waitUntil(async () => (await summary(second)).join() === "one");
});

it("takes over what waited in a database of before, and numbers on from there", async () => {
  const before = new Dexie("iter-old");
  before.version(3).stores({ base: "key", shown: "key, type", pending: "id, n", remembered: "name", files: "hash, state" });
  await write("first");
  await write("second");
  const entries = await db.unfolded();
  for (const table of ["base", "shown"]) await before.table(table).put(stored({ ...visit, rev: 5, body: empty }));
  await before.table("pending").bulkPut(entries.map(({ row: _, ...p }, i) => ({ ...p, n: 41 + i })));
  await before.table("remembered").put({ name: "state", value: { replica: "R", person: "old", n: 42, cursor: "1.2", skew: 0 } });
  before.close();
  const after = new DeviceDB("old");
  expect(await notes(after)).toEqual(["first", "second"]);
  await write("third", after);
  expect((await after.unfolded()).map((p) => p.n)).toEqual([41, 42, expect.toSatisfy((x: number) => x > 42)]);
  expect(await notes(after)).toEqual(["first", "second", "third"]);
});
