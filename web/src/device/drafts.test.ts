/** @vitest-environment jsdom */
import "fake-indexeddb/auto";
import { expect, it, vi } from "vitest";
import { Drafts } from "../draft/draft";
import { DeviceDB } from "./db";
import { draftStore } from "./drafts";

it("keeps what the database has not written when the page goes, and what was let go of stays gone", async () => {
  const db = new DeviceDB("ann");
  const before = new Drafts(draftStore(db));
  await before.load();
  before.put("saved", { text: "oil" });
  await vi.waitFor(async () => expect(await db.drafts.count()).toBe(1));
  // The page goes before the database writes any of this.
  vi.spyOn(db.drafts, "put").mockReturnValue(new Promise(() => {}) as never);
  vi.spyOn(db.drafts, "delete").mockReturnValue(new Promise(() => {}) as never);
  before.put("found", { text: "Winch pump", machines: ["A1"] });
  before.drop("saved", before.get("saved"));
  before.put("photo", { picture: new Blob(["x"]) });
  dispatchEvent(new Event("pagehide"));
  vi.restoreAllMocks();

  const after = new Drafts(draftStore(db));
  await after.load();
  expect(after.get("found")).toEqual({ text: "Winch pump", machines: ["A1"] });
  expect(after.get("saved")).toBeUndefined();
  expect(after.get("photo")).toBeUndefined();
  expect(localStorage).toHaveLength(0);
});
