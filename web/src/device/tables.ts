/** The tables of a device: the server's documents (base), what it shows (shown), its entries not yet at the office (outbox), and the rest. */
import Dexie, { type Table, type Transaction } from "dexie";
import type { About, Code, Doc, Entry, Pending, Ref, ReplicaState } from "../types";

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
  name: "state" | "seen" | "looked" | "roundup" | "key" | "whole" | "told" | "folded" | "directory" | "ways" | "map";
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

/** A tile of the map, empty where nothing is to be seen. Its key is its zoom, column and row. */
export interface StoredTile {
  key: string;
  /** of which map */
  rev: string;
  bytes: ArrayBuffer;
  at: number;
}

/** What was typed and is not saved yet. */
export interface StoredDraft {
  name: string;
  value: object;
  at: number;
}

/** An entry in the outbox. Its row is its number, unless it was numbered before. */
export type Waiting = Pending & { row?: number };

export const keyOf = (ref: Ref) => `${ref.type}/${ref.id}`;

export const stored = (d: Doc): StoredDoc => ({ key: keyOf(d), type: d.type, id: d.id, rev: d.rev, body: d.body });

export class Tables extends Dexie {
  base!: Table<StoredDoc, string>;
  shown!: Table<StoredDoc, string>;
  outbox!: Table<Waiting, number>;
  remembered!: Table<Remembered, string>;
  files!: Table<StoredFile, string>;
  drafts!: Table<StoredDraft, string>;
  picked!: Table<PickedFile, number>;
  /** entries that the office has, and that may rest on its one disk */
  acknowledged!: Table<Pending, string>;
  tiles!: Table<StoredTile, string>;

  /** The same database, whose transactions have ended only once they are on the disk. */
  private readonly durable: Dexie;

  constructor(readonly person: string) {
    // A live query tells of what is stored, and of nothing before: with the library's cache it would tell of what is still being written.
    super(`iter-${person}`, { cache: "disabled" });
    this.durable = new Dexie(this.name, { cache: "disabled", chromeTransactionDurability: "strict" });
    for (const db of [this, this.durable]) defineTables(db);
  }

  override close(options?: { disableAutoOpen: boolean }) {
    this.durable.close(options);
    super.close(options);
  }

  /** Puts an entry into the outbox, together with what becomes of files, and gives its number: it is on the disk by then. */
  async record(entry: Entry, files: StoredFile[], send: string[]): Promise<number> {
    if (!this.durable.isOpen()) await this.durable.open();
    if (files.length + send.length === 0) return putAtOnce(this.durable.backendDB(), entry);
    const outbox = this.durable.table<Waiting, number>("outbox");
    const all = this.durable.table<StoredFile, string>("files");
    return this.durable.transaction("rw", outbox, all, async () => {
      await all.bulkPut(files);
      await all
        .where("hash")
        .anyOf(send)
        .and((f) => f.state === "spare")
        .modify({ state: "waiting", entry: entry.id });
      return outbox.add(entry);
    });
  }

  /** where a screen notes what it reads of what is told by itself: types of documents, keys of single ones, and the outbox */
  protected reads?: Set<string>;

  /** What is in the outbox, in the order it is sent: what is given again first, as it was recorded. */
  async unfolded(): Promise<Waiting[]> {
    this.reads?.add("outbox");
    const all = (await this.outbox.toArray()).map((p) => ({ ...p, n: p.n || (p.row ?? 0) }));
    return [...all.filter((p) => p.again).sort((a, b) => a.id.localeCompare(b.id)), ...all.filter((p) => !p.again)];
  }

  /** An entry in the outbox. */
  waiting(id: string): Promise<Waiting | undefined> {
    return this.outbox.where("id").equals(id).first();
  }

  /** The greatest row in the outbox. */
  async lastNumber(): Promise<number> {
    return ((await this.outbox.toCollection().lastKey()) as number | undefined) ?? 0;
  }

  /** Up to what number entries are in the documents in the database. */
  async folded(): Promise<number> {
    return ((await this.remembered.get("folded"))?.value as number | undefined) ?? 0;
  }
}

/** Puts an entry into the outbox. That it is the only request is said at once: else the page is waited for between the request and its end. */
function putAtOnce(db: IDBDatabase, entry: Entry): Promise<number> {
  return new Promise((done, fail) => {
    const tx = db.transaction("outbox", "readwrite", { durability: "strict" });
    const put = tx.objectStore("outbox").add(entry);
    tx.oncomplete = () => done(put.result as number);
    tx.onabort = () => fail(tx.error);
    tx.commit();
  });
}

function defineTables(db: Dexie) {
  db.version(1).stores({ base: "key", shown: "key, type", pending: "id, n", remembered: "name" });
  db.version(2).stores({ files: "hash, state" });
  db.version(3)
    .stores({ drafts: "name", picked: "++id, visit", acknowledged: "id, seq" })
    .upgrade(async (tx) => {
      // What a device of before had it had whole.
      const state = (await tx.table("remembered").get("state"))?.value as ReplicaState | undefined;
      if (state?.contact) await tx.table("remembered").put({ name: "whole", value: Date.parse(state.contact) });
    });
  db.version(4).stores({ outbox: "++row, id", pending: null }).upgrade(numberByRow);
  db.version(5).stores({ tiles: "key, rev, at" });
}

/** Moves what waited to where the row is the number. New ones get numbers above all that the device has used. */
async function numberByRow(tx: Transaction) {
  const waiting = (await tx.table("pending").toArray()) as Pending[];
  const used = ((await tx.table("remembered").get("state"))?.value as { n?: number } | undefined)?.n ?? 0;
  await tx.table("outbox").put({ row: used });
  await tx.table("outbox").delete(used);
  await tx.table("outbox").bulkAdd(waiting.sort((a, b) => a.n - b.n));
}
