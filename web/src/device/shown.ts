/**
 * The documents as this device shows them: the office's, with what was recorded here and is not in them yet on top. They are held in memory, told
 * between the tabs of a person, and written a moment behind: what was recorded is in the outbox, and is folded anew at the start where they lack it.
 */
import type { Doc, Ref } from "../types";
import { core, letCoreLoad, loadCore } from "./core";
import { keyOf, type StoredDoc, stored, type Tables } from "./tables";

/** How long after an entry the documents that it changed are written, in milliseconds. */
const behind = 300;

/** What a tab tells the others: that it recorded something, or that these documents are other ones in the database. */
type Told = { recorded: true } | { written: string[] };

const typeOf = (key: string) => key.slice(0, key.indexOf("/"));

let holders = 0;

export class Shown {
  /** Documents that were read or changed, by type and key; undefined: there is none. */
  private readonly memory = new Map<string, Map<string, StoredDoc | undefined>>();
  /** types of which all documents are in memory */
  private readonly whole = new Set<string>();
  /** Changes with each thing that was forgotten: what was being read meanwhile may be of before. */
  private generation = 0;
  /** number of the last entry up to which all are in memory */
  private folded = 0;
  private readonly unwritten = new Set<string>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  private writes: Promise<void> = Promise.resolve();
  private readonly listeners = new Set<(keys: string[]) => void>();
  private readonly tabs: BroadcastChannel;
  private turn: Promise<unknown> = Promise.resolve();
  private starting: Promise<void> | undefined;
  /** an entry that is being kept */
  private writing: Promise<void> | undefined;
  /** under what number the core holds documents of these, and which it was told */
  private readonly holder = ++holders;
  private readonly told = new Map<string, StoredDoc | undefined>();

  /** other: told when another tab has changed what is in the database. */
  constructor(
    private readonly db: Tables,
    private readonly other: () => void,
  ) {
    this.tabs = new BroadcastChannel(`iter-shown-${db.person}`);
    this.tabs.onmessage = ({ data }: MessageEvent<Told>) => {
      void this.inTurn(() => this.hear(data)).catch(() => {}); // the database was closed
    };
  }

  close() {
    clearTimeout(this.timer);
    this.tabs.close();
  }

  /** Does one thing at a time: recording, and what another tab or the office changed. */
  inTurn<T>(does: () => Promise<T>): Promise<T> {
    const done = Promise.all([this.turn, this.start()]).then(does);
    this.turn = done.catch(() => {});
    return done;
  }

  /** Tells of the documents that changed, by key. */
  subscribe(listener: (keys: string[]) => void): () => void {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  }

  async get(keys: string[]): Promise<(StoredDoc | undefined)[]> {
    await this.start();
    for (;;) {
      const missing = keys.filter((k) => !this.has(k));
      if (missing.length === 0) return keys.map((k) => this.held(k));
      const { generation } = this;
      const rows = await this.db.shown.bulkGet(missing);
      if (generation !== this.generation) continue;
      for (const [i, key] of missing.entries()) if (!this.has(key)) this.ofType(key).set(key, rows[i]);
    }
  }

  async all(type: string): Promise<StoredDoc[]> {
    await this.start();
    while (!this.whole.has(type)) {
      const { generation } = this;
      const rows = await this.db.shown.where("type").equals(type).toArray();
      if (generation !== this.generation) continue;
      for (const row of rows) if (!this.has(row.key)) this.ofType(row.key).set(row.key, row);
      this.whole.add(type);
    }
    const docs = [...(this.memory.get(type)?.values() ?? [])].filter((d) => d !== undefined);
    return docs.sort((a, b) => (a.key < b.key ? -1 : 1));
  }

  /**
   * Calls the core with what it lacks of documents: those of refs, and of those that it was told before, where there are others now. It never sees
   * an entry that is being written, but in the call that records it.
   */
  async ask<A>(refs: Ref[], call: (documents: { holder: number; docs: Doc[] }) => A, recording = false): Promise<A> {
    const keys = [...new Set([...refs.map(keyOf), ...this.told.keys()])];
    await this.get(keys);
    while (!recording && this.writing) await this.writing;
    if (!keys.every((k) => this.has(k))) return this.ask(refs, call, recording); // another tab wrote meanwhile
    const now = keys.map((key) => ({ key, doc: this.held(key) }));
    const news = now.filter(({ key, doc }) => !this.told.has(key) || this.told.get(key) !== doc);
    const docs = news.map(({ key, doc }) => doc ?? { type: typeOf(key), id: key.slice(typeOf(key).length + 1), rev: 0, body: null });
    for (const { key, doc } of news) this.told.set(key, doc);
    return call({ holder: this.holder, docs });
  }

  /** Has the core record something about a document: it says which others it wants first. In turn. */
  async record<A extends { wanted: Ref[] }>(subject: Ref, call: (documents: { holder: number; docs: Doc[] }) => A): Promise<A> {
    for (let refs = [subject]; ; ) {
      const answer = await this.ask(refs, call, true);
      if (answer.wanted.length === 0) return answer;
      refs = answer.wanted;
    }
  }

  /** Keeps the entry that the core recorded last, and takes what it changed: write puts it into the outbox, and gives its number. In turn. */
  keep(write: () => PromiseLike<number>): Promise<void> {
    const kept = this.kept(write);
    this.writing = kept
      .catch(() => {})
      .then(() => {
        this.writing = undefined;
      });
    return kept;
  }

  private async kept(write: () => PromiseLike<number>) {
    const written = write();
    const changed = core("changed", { holder: this.holder, docs: [] }).docs; // while it is written
    const keys = changed.map(keyOf);
    const before = await this.get(keys);
    let n: number;
    try {
      n = await written;
    } catch (e) {
      for (const key of keys) this.told.delete(key); // the core is told anew what it applied the entry to
      throw e;
    }
    if (n === this.folded + 1) {
      const docs = changed.map((d, i) => ({ ...d, rev: before[i]?.rev ?? 0 }));
      this.take(docs, n);
      for (const key of keys) this.told.set(key, this.held(key));
    } else {
      for (const key of keys) this.told.delete(key);
      await this.fold(); // another tab recorded, too
    }
    this.tabs.postMessage({ recorded: true } satisfies Told);
  }

  /** Takes documents as the office has them with all entries up to a number, once they are in the database. In turn. */
  replaced(docs: Doc[], folded: number) {
    this.folded = folded;
    this.unwritten.clear();
    this.put(docs);
    this.tabs.postMessage({ written: docs.map(keyOf) } satisfies Told);
  }

  /** Takes documents about which nothing waits, once they are in the database. In turn. */
  adopted(docs: Doc[]) {
    this.put(docs);
    this.tabs.postMessage({ written: docs.map(keyOf) } satisfies Told);
  }

  private start(): Promise<void> {
    this.starting ??= (async () => {
      this.folded = await this.db.folded();
      await this.fold();
    })().catch(() => {}); // what can't be folded without the core is shown as it was
    return this.starting;
  }

  private async hear(told: Told) {
    if (!("written" in told)) return this.fold();
    this.other();
    const folded = await this.db.folded();
    const more = await this.foldedAfter(folded);
    this.generation++;
    for (const key of told.written) {
      this.memory.get(typeOf(key))?.delete(key);
      this.whole.delete(typeOf(key));
    }
    this.folded = folded;
    this.tellListeners(told.written);
    if (more) this.take(more.docs, more.upTo);
  }

  /** Folds all that waits in the outbox, when there is more than is in memory. */
  private async fold() {
    const more = await this.foldedAfter(this.folded);
    if (more) this.take(more.docs, more.upTo);
  }

  /** The documents that the outbox is about, with all that is in it, when it goes further than a number. */
  private async foldedAfter(n: number): Promise<{ docs: Doc[]; upTo: number } | undefined> {
    const { db } = this;
    if ((await db.lastNumber()) <= n) return undefined;
    letCoreLoad(); // there is no first screen without it
    await loadCore();
    return db.transaction("r", db.base, db.outbox, async () => {
      const pending = await db.unfolded();
      let docs: Doc[] = [];
      for (;;) {
        const shown = core("show", { docs, pending });
        if (shown.wanted.length === 0) return { docs: shown.docs, upTo: await db.lastNumber() };
        const rows = await db.base.bulkGet(shown.wanted.map(keyOf));
        docs = docs.concat(shown.wanted.map((ref, i) => rows[i] ?? { ...ref, rev: 0, body: null }));
      }
    });
  }

  /** Takes documents with all entries up to a number, which are not in the database yet. */
  private take(docs: Doc[], folded: number) {
    this.folded = folded;
    for (const d of docs) this.unwritten.add(keyOf(d));
    this.put(docs);
    this.tellListeners(["outbox"]); // the database does not tell of what was put into it at once
    this.timer ??= setTimeout(() => {
      this.timer = undefined;
      this.writes = this.writes.then(() => this.write()); // one after another: a later one says that the earlier are written
    }, behind);
  }

  /** Writes what is not in the database yet. */
  private async write(): Promise<void> {
    const { db, folded } = this;
    const keys = [...this.unwritten];
    this.unwritten.clear();
    try {
      const docs = await this.get(keys);
      await db.transaction("rw", db.shown, db.remembered, async () => {
        if ((await db.folded()) >= folded) return; // another tab has written what it knows, and it knows no less
        await db.shown.bulkPut(docs.filter((d) => d !== undefined));
        await db.shown.bulkDelete(keys.filter((_, i) => !docs[i]));
        await db.remembered.put({ name: "folded", value: folded });
      });
    } catch {
      for (const key of keys) this.unwritten.add(key); // with the next, or folded anew at the next start
    }
  }

  private has(key: string): boolean {
    return this.memory.get(typeOf(key))?.has(key) || this.whole.has(typeOf(key));
  }

  private held = (key: string) => this.memory.get(typeOf(key))?.get(key);

  private ofType(key: string): Map<string, StoredDoc | undefined> {
    const type = typeOf(key);
    const docs = this.memory.get(type) ?? new Map<string, StoredDoc | undefined>();
    this.memory.set(type, docs);
    return docs;
  }

  private put(docs: Doc[]) {
    for (const d of docs) this.ofType(keyOf(d)).set(keyOf(d), d.body ? stored(d) : undefined);
    this.tellListeners(docs.map(keyOf));
  }

  private tellListeners(keys: string[]) {
    for (const listener of this.listeners) listener(keys);
  }
}
