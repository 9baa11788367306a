/** The device's database and sync with the real core: what is recorded, sent, answered and shown. */
import "fake-indexeddb/auto";
import { afterEach, beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import type { Doc, Note, Pending, Ref, SyncRequest, SyncResponse, Visit } from "../types";
import { prune } from "./budget";
import { CoreError, core } from "./core";
import { DeviceDB } from "./db";
import { loadRealCore } from "./realCore";
import { record } from "./record";
import { Syncer } from "./sync";
import { stored } from "./tables";

const visit: Ref = { type: "visit", id: "V1" };
const empty: Visit = {
  order: "W1",
  technician: "ann",
  start: "2026-03-10T08:00:00Z",
  minutes: 60,
  stage: "sent",
  since: "2026-03-10T07:00:00Z",
  sentAt: "2026-03-10T07:00:00Z",
};

beforeAll(loadRealCore);

let db: DeviceDB;
let n = 0;
beforeEach(async () => {
  db = new DeviceDB(`ann-${n++}`);
  for (const table of [db.base, db.shown]) await table.put(stored({ ...visit, rev: 5, body: empty }));
});

const write = (text: string, on = db) => record(on, { kind: "note.written", subject: visit, body: { text } });
const notes = async (on = db) => ((await on.body("visit", "V1"))?.notes ?? []).map((x: Note) => x.text);
const pending = () => db.unfolded();

it("takes one identity and keeps it", async () => {
  const all = await Promise.all([db.state(() => "one"), db.state(() => "two")]);
  expect(all.map((s) => s.replica)).toEqual(["one", "one"]);
  expect((await db.state(() => "three")).replica).toBe("one");
});

it("takes records beside what it is told, and never over what is newer or waits here", async () => {
  const site = (name: string, rev: number): Doc => ({ type: "site", id: "S9", rev, body: { customer: "C9", name, contact: { name: "" } } });
  const named = async () => (await db.body("site", "S9"))?.name;
  await db.adopt([site("of the directory", 0), { ...visit, rev: 3, body: { ...empty, order: "W9" } }]);
  expect([await named(), await db.hasWhole({ type: "site", id: "S9" })]).toEqual(["of the directory", false]);
  expect((await db.body("visit", "V1"))?.order, "what the office told").toBe("W1");
  await db.adopt([site("whole", 7)]);
  await db.adopt([site("older", 6)]);
  expect([await named(), await db.hasWhole({ type: "site", id: "S9" })]).toEqual(["whole", true]);
  await record(db, { kind: "record.amended", subject: { type: "site", id: "S9" }, body: { access: "Gate B" } });
  await db.adopt([site("newer", 9)]);
  expect((await db.body("site", "S9"))?.access, "what waits stays in sight").toBe("Gate B");
});

describe("recording", () => {
  it("keeps the entry, what it changes and the device's state together", async () => {
    await write("one");
    await write("two");
    expect(await notes()).toEqual(["one", "two"]);
    expect((await pending()).map((p) => [p.n, p.kind])).toEqual([
      [1, "note.written"],
      [2, "note.written"],
    ]);
    const base = await db.base.get("visit/V1");
    expect((base!.body as Visit).notes, "what the server gave is left alone").toBeUndefined();
  });

  it("keeps nothing when the entry can't be meant", async () => {
    await expect(write("  ")).rejects.toThrow(CoreError);
    await expect(record(db, { kind: "part.used", subject: visit, body: { part: "P1", place: "van", quantity: "-1" } })).rejects.toThrow("quantity.absurd");
    expect([await notes(), await pending()]).toEqual([[], []]);
  });
});

describe("sync", () => {
  let requests: SyncRequest[];
  let answers: ((r: SyncRequest) => SyncResponse | number | "lost")[];

  beforeEach(() => {
    requests = [];
    vi.stubGlobal("document", new EventTarget());
    vi.stubGlobal("addEventListener", () => {});
    vi.stubGlobal(
      "EventSource",
      class extends EventTarget {
        close() {}
      },
    );
    vi.stubGlobal("navigator", { onLine: true, locks: { request: (_: string, __: unknown, f: (lock: object) => unknown) => f({}) } });
    const office = async (body: XMLHttpRequestBodyInit, headers: Record<string, string>): Promise<Response> => {
      const packed = headers["Content-Encoding"] === "gzip";
      const raw = new Response(body as BodyInit);
      const r: SyncRequest = packed ? await new Response(raw.body!.pipeThrough(new DecompressionStream("gzip"))).json() : await raw.json();
      requests.push(r);
      const answer = answers.shift()?.(r) ?? 503;
      if (answer === "lost") throw new TypeError("network");
      return typeof answer === "number" ? Response.json({ code: "server.full" }, { status: answer }) : Response.json(answer);
    };
    // As much of a request as the device uses.
    vi.stubGlobal(
      "XMLHttpRequest",
      class {
        upload = {};
        status = 0;
        responseText = "";
        onload = () => {};
        onerror = () => {};
        private headers: Record<string, string> = {};
        open() {}
        setRequestHeader(name: string, value: string) {
          this.headers[name] = value;
        }
        async send(body: XMLHttpRequestBodyInit) {
          try {
            const answer = await office(body, this.headers);
            [this.status, this.responseText] = [answer.status, await answer.text()];
            this.onload();
          } catch {
            this.onerror();
          }
        }
      },
    );
  });
  afterEach(() => vi.unstubAllGlobals());

  const response = (r: SyncRequest, more: Partial<SyncResponse> = {}): SyncResponse => ({
    receipts: r.entries.map((e, i) => ({ id: e.id, seq: 10 + i, verdict: "taken" })),
    docs: [],
    gone: [],
    cursor: "1.10",
    more: false,
    serverTime: new Date().toISOString(),
    ...more,
  });
  /** The visit as the server has it after entries. */
  const folded = (r: SyncRequest): Doc => {
    const docs: Doc[] = [{ ...visit, rev: 5, body: empty }];
    return { ...(core("show", { docs, pending: r.entries }).docs[0] ?? docs[0]), rev: 10 + r.entries.length - 1 };
  };
  /** Syncs until the device is settled in a phase. */
  const sync = async (phase: string) => {
    const syncer = new Syncer(db);
    const settled = vi.waitUntil(() => syncer.status.phase === phase && requests.length > 0 && answers.length === 0, { timeout: 5000 });
    syncer.start();
    await settled;
    await new Promise((done) => setTimeout(done, 50));
    syncer.stop();
    return syncer;
  };

  it("sends what is pending, and shows each entry once", async () => {
    await write("one");
    await write("two");
    answers = [(r) => response(r, { docs: [folded(r)] })];
    await sync("idle");
    expect(requests[0].entries.map((e) => e.n)).toEqual([1, 2]);
    expect([await notes(), await pending()]).toEqual([["one", "two"], []]);
    expect((await db.state(() => "")).cursor).toBe("1.10");
  });

  it("packs what is long", async () => {
    await write("x".repeat(4000));
    answers = [(r) => response(r, { docs: [folded(r)] })];
    await sync("idle");
    expect((requests[0].entries[0].body as { text: string }).text).toHaveLength(4000);
  });

  it("keeps everything when there is no signal, no sign-in or no room", async () => {
    await write("kept");
    for (const [answer, phase] of [
      ["lost", "offline"],
      [401, "signed_out"],
      [507, "failing"],
    ] as const) {
      answers = [() => answer];
      const s = await sync(phase);
      expect([await notes(), (await pending()).length]).toEqual([["kept"], 1]);
      if (answer === 507) expect(s.status.problem).toBe("server.full");
    }
  });

  it("tries again soon once the line is back, however often it failed without one", async () => {
    const page = new EventTarget();
    vi.stubGlobal("addEventListener", page.addEventListener.bind(page));
    const syncer = new Syncer(db);
    const timers = vi.spyOn(globalThis, "setTimeout");
    const waits = () => timers.mock.calls.filter(([f]) => f === syncer.wake).map(([, ms]) => ms as number);
    const failed = async (begin: () => void) => {
      const before = waits().length;
      answers = [() => "lost"];
      begin();
      await vi.waitUntil(() => waits().length > before, { timeout: 5000 });
      return waits().at(-1);
    };
    await failed(() => syncer.start());
    for (let i = 0; i < 4; i++) await failed(() => syncer.wake());
    expect(await failed(() => syncer.wake())).toBeGreaterThan(10_000);
    expect(await failed(() => page.dispatchEvent(new Event("online")))).toBeLessThan(3000);
    syncer.stop();
    timers.mockRestore();
  });

  it("keeps a held entry with the reason, and does not show it", async () => {
    await write("from tomorrow");
    await write("fine");
    answers = [
      (r) =>
        response(r, {
          receipts: [
            { id: r.entries[0].id, verdict: "held", why: { code: "time.ahead" } },
            { id: r.entries[1].id, seq: 11, verdict: "taken" },
          ],
          docs: [folded({ ...r, entries: [r.entries[1]] })],
        }),
    ];
    await sync("idle");
    expect(await notes()).toEqual(["fine"]);
    expect((await pending()).map((p) => p.held?.code)).toEqual(["time.ahead"]);
  });

  it("drops documents that left, and takes a new identity when told to", async () => {
    answers = [(r) => response(r, { gone: [visit] })];
    await sync("idle");
    expect(await db.shown.get("visit/V1")).toBeUndefined();

    answers = [(r) => response(r, { docs: [{ ...visit, rev: 5, body: empty }] })];
    await sync("idle");
    await write("after a copy");
    const before = (await db.state(() => "")).replica;
    answers = [(r) => response(r, { renew: true, receipts: [] }), (r) => response(r, { docs: [folded(r)] })];
    await sync("idle");
    const [first, second] = requests.slice(-2);
    expect([first.replica === before, second.replica === before]).toEqual([true, false]);
    expect([second.entries[0].n, second.entries[0].id]).toEqual([1, first.entries[0].id]);
    expect(await pending()).toEqual([]);
  });
});

it("lets copies of files go when they take too much, those in no second place last and those that the office lacks never", async () => {
  const file = (hash: string, state: "here" | "waiting", at: number, entry?: string) =>
    db.files.put({ hash, name: hash, type: "image/jpeg", size: 10, blob: new Blob(["x"]), state, at, entry });
  await file("waiting", "waiting", 1, "E1");
  await file("alone", "here", 2, "E2");
  await file("kept, older", "here", 3, "E3");
  await file("kept", "here", 4, "E4");
  await file("fetched", "here", 5);
  await db.acknowledged.put({ id: "E2", seq: 9 } as Pending);
  const left = async () => (await db.files.orderBy("hash").primaryKeys()).sort();
  await prune(db, 50);
  expect(await left()).toHaveLength(5);
  await prune(db, 40);
  expect(await left()).toEqual(["alone", "kept", "kept, older", "waiting"]);
  await prune(db, 30);
  expect(await left()).toEqual(["alone", "kept", "waiting"]);
  await prune(db, 15);
  expect(await left()).toEqual(["waiting"]);
  await prune(db, 0);
  expect(await left()).toEqual(["waiting"]);
});
