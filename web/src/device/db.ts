/** What a device keeps: the server's documents (base), what it shows (shown), and its entries not yet at the office. */
import Dexie, { type Table } from "dexie";
import type { About, Code, Doc, Documents, Pending, Ref, ReplicaState, Settings, Zone } from "../types";
import { core, loadCore } from "./core";

export interface StoredDoc extends Doc {
  key: string;
}

/** A photo or document on this device. */
export interface StoredFile {
  hash: string;
  name: string;
  type: string;
  size: number;
  blob: Blob;
  /** a small picture of a photo */
  thumb?: Blob;
  /** a smaller copy of a photo, which reports carry: kept as a file of its own */
  print?: StoredFile;
  /**
   * waiting: not at the office yet; here: a copy of what the office has; refused: the office says it can't be what it should; spare: only of
   * use here, until an entry has it sent
   */
  state: "waiting" | "here" | "refused" | "spare";
  /** the entry that mentions it, which goes first */
  entry?: string;
  visit?: string;
  at: number;
  /** where its upload goes on */
  upload?: string;
  /** bytes that have arrived */
  sent?: number;
  problem?: Code;
}

/** Small things a device remembers, by name. */
export interface Remembered {
  name: "state" | "seen" | "roundup" | "key" | "whole" | "told";
  value: unknown;
}

/** A file that was picked and is not attached yet. */
export interface PickedFile {
  id?: number;
  visit: string;
  about: About;
  file: Blob;
  name: string;
}

/** What was typed and is not saved yet. */
export interface StoredDraft {
  name: string;
  value: object;
  at: number;
}

export const keyOf = (ref: Ref) => `${ref.type}/${ref.id}`;

export class DeviceDB extends Dexie {
  base!: Table<StoredDoc, string>;
  shown!: Table<StoredDoc, string>;
  pending!: Table<Pending, string>;
  remembered!: Table<Remembered, string>;
  files!: Table<StoredFile, string>;
  drafts!: Table<StoredDraft, string>;
  picked!: Table<PickedFile, number>;
  /** entries that the office has, and that may rest on its one disk */
  acknowledged!: Table<Pending, string>;

  constructor(readonly person: string) {
    // A live query tells of what is stored, and of nothing before: with the library's cache it would tell of what is still being written.
    super(`iter-${person}`, { cache: "disabled" });
    this.version(1).stores({ base: "key", shown: "key, type", pending: "id, n", remembered: "name" });
    this.version(2).stores({ files: "hash, state" });
    this.version(3)
      .stores({ drafts: "name", picked: "++id, visit", acknowledged: "id, seq" })
      .upgrade(async (tx) => {
        // What a device of before had it had whole.
        const state = (await tx.table("remembered").get("state"))?.value as ReplicaState | undefined;
        if (state?.contact) await tx.table("remembered").put({ name: "whole", value: Date.parse(state.contact) });
      });
  }

  /** The device's own state. The first time it takes an identity, and keeps it: what is sent under one must be heard under it. */
  state(newIdentity: () => string): Promise<ReplicaState> {
    return this.transaction("rw", this.remembered, async () => {
      const row = await this.remembered.get("state");
      if (row) return row.value as ReplicaState;
      const fresh: ReplicaState = { replica: newIdentity(), person: this.person, n: 0, cursor: "", skew: 0 };
      await this.putState(fresh);
      return fresh;
    });
  }

  private knownZone: Zone | undefined;

  /** The company's rules that hold today; undefined until they are here. */
  async settings(): Promise<Settings | undefined> {
    const subjects = Object.fromEntries((await this.all("settings")).map((d) => [d.id, d.body]));
    const skew = ((await this.remembered.get("state"))?.value as ReplicaState | undefined)?.skew ?? 0;
    if (Object.keys(subjects).length === 0) return undefined;
    await loadCore();
    return core("settings", { subjects, now: Date.now() + skew });
  }

  /** The company's time zone, read once until new settings come. */
  async zone(): Promise<Zone> {
    this.knownZone ??= (await this.settings())?.company.zone;
    return this.knownZone ?? { name: "UTC", shifts: [] };
  }

  /** Has the zone read anew. */
  forgetZone() {
    this.knownZone = undefined;
  }

  putState(value: ReplicaState) {
    return this.remembered.put({ name: "state", value });
  }

  /** What is pending, in the order it is sent: what is given again first, as it was recorded. */
  async unfolded(): Promise<Pending[]> {
    const all = await this.pending.orderBy("n").toArray();
    return [...all.filter((p) => p.again).sort((a, b) => a.id.localeCompare(b.id)), ...all.filter((p) => !p.again)];
  }

  /** The bodies of documents as shown; those that are not there have none. */
  async docs(refs: Ref[]): Promise<Doc[]> {
    const rows = await this.shown.bulkGet(refs.map(keyOf));
    return refs.map((ref, i) => ({ type: ref.type, id: ref.id, rev: rows[i]?.rev ?? 0, body: rows[i]?.body ?? null }));
  }

  async body<T extends keyof Documents>(type: T, id: string | undefined): Promise<Documents[T] | undefined> {
    if (!id) return undefined;
    return (await this.shown.get(`${type}/${id}`))?.body as Documents[T] | undefined;
  }

  async all<T extends keyof Documents>(type: T): Promise<{ id: string; body: Documents[T] }[]> {
    return (await this.shown.where("type").equals(type).toArray()).map((d) => ({ id: d.id, body: d.body as Documents[T] }));
  }
}

export const stored = (d: Doc): StoredDoc => ({ key: keyOf(d), type: d.type, id: d.id, rev: d.rev, body: d.body });
