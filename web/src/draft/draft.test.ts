import { expect, it } from "vitest";
import { type DraftStore, Drafts } from "./draft";

/** A store that outlives the page. */
function memory(): DraftStore & { rows: Map<string, object> } {
  const rows = new Map<string, object>();
  return { rows, load: async () => [...rows], put: (name, value) => void rows.set(name, value), drop: (name) => void rows.delete(name) };
}

it("outlives the page, until it is dropped", async () => {
  const store = memory();
  const before = new Drafts(store);
  await before.load();
  before.put("form", { text: "valve" });
  const after = new Drafts(store);
  expect(after.loaded).toBe(false);
  await after.load();
  expect(after.get("form")).toEqual({ text: "valve" });
  after.drop("form", after.get("form"));
  expect(store.rows.size).toBe(0);
});

it("keeps what was typed while the rest was being saved", () => {
  const drafts = new Drafts();
  drafts.put("form", { text: "saved" });
  const seen = drafts.get("form");
  drafts.put("form", { text: "saved, and more" });
  drafts.drop("form", seen);
  expect(drafts.get("form")).toEqual({ text: "saved, and more" });
});

it("keeps what was typed before the store was read", async () => {
  const store = memory();
  store.put("form", { text: "old" });
  const drafts = new Drafts(store);
  drafts.put("form", { text: "new" });
  await drafts.load();
  expect(drafts.get("form")).toEqual({ text: "new" });
});

it("begins blank when what was kept can't be read", async () => {
  const drafts = new Drafts({ ...memory(), load: () => Promise.reject(new Error("gone")) });
  await drafts.load();
  expect(drafts.loaded).toBe(true);
  expect(drafts.get("form")).toBeUndefined();
});
