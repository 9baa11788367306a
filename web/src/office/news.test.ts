import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { describe, expect, it, vi } from "vitest";
import { Readings, touches } from "./news";

describe("touches", () => {
  it.each([
    ["the document itself", ["visit/V1"], ["visit/V1"], true],
    ["another of its type", ["visit/V1"], ["visit/V2"], false],
    ["one of all of a type", ["visit/"], ["visit/V2"], true],
    ["many of a type", ["visit/V1"], ["visit/"], true],
    ["many of another type", ["visitor/V1"], ["visit/"], false],
    ["a document where all are read", ["docs"], ["site/S1"], true],
    ["a table where all documents are read", ["docs"], ["held"], false],
    ["a table", ["held", "visit/V1"], ["held"], true],
    ["a table of a type's name", ["visit/"], ["visit"], false],
    ["nothing", [], ["visit/V1"], false],
  ])("%s", (_, read, changed, yes) => expect(touches(read, changed)).toBe(yes));
});

describe("readings", () => {
  async function asked(readings: Readings, client: QueryClient, key: string, read: string[], seen: number) {
    let times = 0;
    await client.fetchQuery({
      queryKey: [key],
      queryFn: async () => {
        readings.answered([key], { read, seen }, readings.asking());
        return ++times;
      },
    });
    return () => client.getQueryState([key])?.isInvalidated;
  }

  it("knows which answers were read from a document", async () => {
    const readings = new Readings();
    readings.answered(["moving"], { read: ["handovers", "handover/H1"], seen: 9 }, readings.asking());
    readings.answered(["places"], { read: ["place/"], seen: 5 }, readings.asking());
    expect(readings.reads('["moving"]', { type: "handover", id: "H1" })).toBe(true);
    expect(readings.reads('["places"]', { type: "handover", id: "H1" })).toBe(false);
    expect(readings.reads('["never asked"]', { type: "handover", id: "H1" })).toBe(false);
  });

  it("asks again what was read from what changed, and raises how far the rest has seen", async () => {
    const readings = new Readings();
    const client = new QueryClient();
    const one = await asked(readings, client, "one", ["visit/V1"], 5);
    const list = await asked(readings, client, "list", ["visits"], 5);
    await readings.tell(client, { changed: ["visit/V1"], seq: 9 });
    expect([one(), list()]).toEqual([true, false]);
    expect([readings.seen('["one"]'), readings.seen('["list"]')]).toEqual([5, 9]);
    await readings.tell(client, { changed: ["visits"], seq: 8 }); // of before what it has seen
    expect(list()).toBe(false);
    await readings.tell(client, { changed: ["visits"], seq: 0 }); // who knows
    expect(list()).toBe(true);
  });

  it("tells that an answer was overtaken by news on its way", async () => {
    const readings = new Readings();
    const client = new QueryClient();
    const began = readings.asking();
    await readings.tell(client, { changed: ["site/S1"], seq: 7 });
    expect(readings.answered(["a"], { read: ["site/S1"], seen: 6 }, began)).toBe(true);
    expect(readings.answered(["a"], { read: ["site/S1"], seen: 7 }, began)).toBe(false);
    expect(readings.answered(["a"], { read: ["site/S2"], seen: 6 }, began)).toBe(false);
    expect(readings.answered(["a"], { read: ["site/S1"], seen: 6 }, readings.asking())).toBe(false);
    for (let i = 0; i < 300; i++) void readings.tell(client, { changed: ["held"], seq: 0 });
    expect(readings.answered(["a"], { read: ["site/S2"], seen: 400 }, began)).toBe(true); // more than is remembered
  });

  it("are old when they were on their way while there was no line for news", async () => {
    const readings = new Readings();
    const client = new QueryClient();
    let answer = "before";
    let asked = 0;
    const waits: (() => void)[] = [];
    const watched = new QueryObserver(client, {
      queryKey: ["a"],
      queryFn: async () => {
        asked++;
        const began = readings.asking();
        const now = answer; // as it is read
        await new Promise<void>((go) => waits.push(go));
        if (readings.answered(["a"], { read: ["site/S1"], seen: 6 }, began)) setTimeout(() => client.invalidateQueries({ queryKey: ["a"] }));
        return now;
      },
    });
    const end = watched.subscribe(() => {});
    answer = "after"; // nobody is told: the line is not open yet
    readings.missed(client);
    waits.shift()?.();
    await vi.waitFor(() => expect(asked).toBe(2));
    waits.shift()?.();
    await vi.waitFor(() => expect(watched.getCurrentResult().data).toBe("after"));
    end();
  });
});
