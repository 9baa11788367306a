/** Sync: by itself, after each entry, on reconnect, when the app comes to the front, on a live event and every 30 seconds. */
import type { Problem, SyncResponse } from "../types";
import { fileBudget, fileBytes, prune } from "./budget";
import { core, loadCore } from "./core";
import type { DeviceDB } from "./db";
import { refreshDirectory } from "./directory";
import { sendFiles, waitingFiles } from "./files";
import { publicKey } from "./key";
import { looked, toldLooks } from "./looked";
import { fetchPack } from "./pack";
import { postPatiently, type Trip } from "./patient";
import { ServerProblem } from "./problem";
import { newId } from "./record";
import { takeIn } from "./takeIn";
import { refreshTiles } from "./tiles";
import { refreshWays } from "./ways";
import { ended } from "./wipe";

export type SyncPhase = "idle" | "sending" | "offline" | "signed_out" | "failing";

export interface SyncStatus {
  phase: SyncPhase;
  /** code of the last problem, for "failing" */
  problem?: string;
}

/** How long after one sync the next begins by itself: after one that failed sooner, at first. */
const every = 30_000;
const afterTap = 400;

/** How often, and how long after each other, it is asked whether a second place has what was acknowledged, before a device forgets it. */
const keptTries = 5;
const keptWait = 1000;

/** Keeps one person's device in step with the server while it runs. */
export class Syncer {
  status: SyncStatus = { phase: navigator.onLine ? "idle" : "offline" };
  private listeners = new Set<() => void>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private failures = 0;
  private running = false;
  private current: Promise<void> | undefined;
  private again = false;
  private ended = false;
  private events: EventSource | undefined;
  private abort = new AbortController();

  constructor(private readonly db: DeviceDB) {}

  subscribe = (f: () => void) => {
    this.listeners.add(f);
    return () => this.listeners.delete(f);
  };

  snapshot = () => this.status;

  start() {
    this.abort = new AbortController();
    const { signal } = this.abort;
    addEventListener("online", this.reconnected, { signal });
    addEventListener("offline", () => this.set({ phase: "offline" }), { signal });
    document.addEventListener("visibilitychange", () => document.visibilityState === "visible" && this.wake(), { signal });
    this.wake();
  }

  stop() {
    this.abort.abort();
    clearTimeout(this.timer);
    this.events?.close();
    this.events = undefined;
  }

  /** Syncs soon; at once when nothing is under way. */
  wake = () => {
    if (this.running) {
      this.again = true;
      return;
    }
    clearTimeout(this.timer);
    void this.begin();
  };

  /** What failed without a line says nothing of the one that is back. */
  private reconnected = () => {
    this.failures = 0;
    this.wake();
  };

  private begin(): Promise<void> {
    this.current = this.run();
    return this.current;
  }

  /** Syncs in a moment: after a tap the screen comes first. */
  soon = () => {
    clearTimeout(this.timer);
    if (this.running) this.again = true;
    else this.timer = setTimeout(this.wake, afterTap);
  };

  private set(s: SyncStatus) {
    if (s.phase === this.status.phase && s.problem === this.status.problem) return;
    this.status = s;
    for (const f of this.listeners) f();
  }

  private async run() {
    this.running = true;
    this.again = false;
    try {
      await loadCore();
      // One tab at a time: what another tab syncs, this one sees in the shared database.
      await navigator.locks.request(`iter-sync-${this.db.person}`, { ifAvailable: true }, async (lock) => {
        if (!lock) return;
        while (await this.round());
        await this.db.remembered.put({ name: "whole", value: Date.now() });
        await sendFiles(this.db, this.abort.signal, () => {
          this.failures = 0; // something got through: the next try need not wait long
        });
        if (this.ended && (await this.nothingLeft())) {
          for (let tries = 0; tries < keptTries && (await this.waitsForCopy()); tries++) {
            await new Promise((done) => setTimeout(done, keptWait));
            await this.round();
          }
          await ended(this.db, (replica) => post({ replica, cursor: "", now: new Date(), entries: [], wiped: true }, this.abort.signal));
        } else {
          void refreshDirectory(this.db, await this.db.now());
          await refreshWays(this.db);
          await fetchPack(this.db, this.abort.signal);
        }
        const budget = await fileBudget();
        await prune(this.db, budget);
        if (!this.ended) void fileBytes(this.db).then((taken) => refreshTiles(this.db, budget - taken, this.abort.signal));
      });
      this.failures = 0;
      this.set({ phase: navigator.onLine ? "idle" : "offline" }); // the signal may have gone since
      this.listen();
    } catch (e) {
      this.failures++;
      this.set(statusOf(e));
    }
    this.running = false;
    if (this.abort.signal.aborted) return;
    const wait = this.failures ? Math.min(every, 500 * 2 ** this.failures) : every;
    this.timer = setTimeout(this.wake, this.again ? afterTap : wait * (0.75 + Math.random() / 2));
  }

  /** One round trip. Tells whether there is more to send or to fetch. */
  private async round(): Promise<boolean> {
    const { db } = this;
    const state = await db.state(newId);
    const pending = await db.unfolded();
    const key = await publicKey(db);
    const request = core("next", { state, pending, now: Date.now() });
    request.unsent = (request.unsent ?? 0) + (await waitingFiles(db));
    request.version = __VERSION__;
    request.key = key;
    request.looked = await looked(db);
    // Who is just signing in keeps the page to do it on until it has worked.
    if (request.entries.length + (request.again?.length ?? 0) > 0 && this.status.phase !== "signed_out") this.set({ phase: "sending" });
    const { response, trip } = await post(request, this.abort.signal);
    this.ended = response.ended === true;
    await takeIn(this.db, response, trip);
    if (!response.renew) await toldLooks(db, request.looked);
    const left = await db.outbox.toArray();
    const sent = new Set([...request.entries, ...(request.again ?? [])].map((e) => e.id));
    return response.more || response.renew === true || left.some((p) => !p.seq && !p.held && !sent.has(p.id));
  }

  /** Hands over what there is to send, now. Tells what is left: what could not be sent. */
  async handOver(): Promise<number> {
    await this.current;
    clearTimeout(this.timer);
    if (navigator.onLine) await this.begin();
    return (await this.db.outbox.filter((p) => !p.seq && !p.held).count()) + (await waitingFiles(this.db));
  }

  /** Waits a moment for what was acknowledged to be in a second place. Tells how much is on the office's one disk alone. */
  async untilKept(): Promise<number> {
    for (let tries = 0; tries < keptTries && navigator.onLine && (await this.waitsForCopy()); tries++) {
      await new Promise((done) => setTimeout(done, keptWait));
      await this.current;
      clearTimeout(this.timer);
      await this.begin();
    }
    return this.db.acknowledged.count();
  }

  /** Whether something that was acknowledged will be in a second place soon. */
  private async waitsForCopy(): Promise<boolean> {
    return !(await this.db.state(newId)).alone && (await this.db.acknowledged.count()) > 0;
  }

  private async nothingLeft(): Promise<boolean> {
    const unsent = await this.db.outbox.filter((p) => !p.seq && !p.held).count();
    return unsent === 0 && (await waitingFiles(this.db)) === 0;
  }

  /** Listens for the server's word that something changed. */
  private listen() {
    if (this.events || this.abort.signal.aborted) return;
    const events = new EventSource("/api/events");
    events.addEventListener("changed", this.wake);
    events.onerror = () => {
      events.close();
      if (this.events !== events) return;
      this.events = undefined; // listened to again after the next sync that works
      this.wake();
    };
    this.events = events;
  }
}

function statusOf(e: unknown): SyncStatus {
  if ((e as DOMException)?.name === "QuotaExceededError") return { phase: "failing", problem: "device.full" };
  if (e instanceof ServerProblem) return e.status === 401 ? { phase: "signed_out" } : { phase: "failing", problem: e.code };
  return { phase: "offline" };
}

/** An answer, and the way it came: the clock is set by that. */
interface Synced {
  response: SyncResponse;
  trip: Trip;
}

async function post(request: unknown, signal: AbortSignal): Promise<Synced> {
  const raw = JSON.stringify(request);
  const headers: Record<string, string> = { "Content-Type": "application/json" };
  let body: XMLHttpRequestBodyInit = raw;
  if (raw.length > 1400) {
    body = await new Response(new Blob([raw]).stream().pipeThrough(new CompressionStream("gzip"))).blob();
    headers["Content-Encoding"] = "gzip";
  }
  const answer = await postPatiently("/api/sync", body, headers, signal);
  if (answer.status < 200 || answer.status > 299) {
    const problem = parsed<Partial<Problem>>(answer.text) ?? {};
    throw new ServerProblem(answer.status, problem.code ?? "server.failed", problem.args);
  }
  return { response: JSON.parse(answer.text), trip: answer.trip };
}

function parsed<T>(text: string): T | undefined {
  try {
    return JSON.parse(text) as T;
  } catch {
    return undefined;
  }
}
