// @vitest-environment jsdom
import { beforeEach, expect, it, vi } from "vitest";
import { draftsOf, forgetTyped } from "./typed";

beforeEach(() => localStorage.clear());

/** The drafts of a person as a page has them that was just opened. */
async function opened(person: string) {
  const drafts = draftsOf(person);
  await drafts.load();
  return drafts;
}

it("outlives the page, for the person alone, until they sign out", async () => {
  (await opened("mirin")).put("order w1", { problem: "half typed" });
  expect((await opened("mirin")).get("order w1")).toEqual({ problem: "half typed" });
  expect((await opened("noll")).get("order w1")).toBeUndefined();
  forgetTyped("mirin");
  expect((await opened("mirin")).get("order w1")).toBeUndefined();
});

it("is gone once it is saved", async () => {
  const drafts = await opened("mirin");
  drafts.put("order w1", { problem: "x" });
  drafts.drop("order w1", drafts.get("order w1"));
  expect((await opened("mirin")).get("order w1")).toBeUndefined();
});

it("is let go of when nobody came back to it, or it can't be read", async () => {
  (await opened("mirin")).put("order w1", { problem: "x" });
  localStorage.setItem("iter.typed.mirin.broken", "{");
  vi.setSystemTime(Date.now() + 31 * 86_400_000);
  const drafts = await opened("mirin");
  vi.useRealTimers();
  expect([drafts.get("order w1"), drafts.get("broken")]).toEqual([undefined, undefined]);
  expect(localStorage).toHaveLength(0);
});

it("lasts as long as the page where the storage is full", async () => {
  const drafts = await opened("mirin");
  vi.spyOn(Storage.prototype, "setItem").mockImplementationOnce(() => {
    throw new DOMException("full", "QuotaExceededError");
  });
  drafts.put("order w1", { problem: "x" });
  expect(drafts.get("order w1")).toEqual({ problem: "x" });
});
