/** What a device keeps of one person's, as its screens read it. */
import type { Doc, Documents, Ref, ReplicaState, Settings, Zone } from "../types";
import { core, loadCore } from "./core";
import { Shown } from "./shown";
import { keyOf, stored, Tables, type Waiting } from "./tables";

export class DeviceDB extends Tables {
  readonly documents: Shown;

  constructor(person: string) {
    super(person);
    this.documents = new Shown(this, () => this.forget());
  }

  override close(options?: { disableAutoOpen: boolean }) {
    this.documents.close();
    super.close(options);
  }

  /** The same database, which notes what is read of it. */
  noting(reads: Set<string>): DeviceDB {
    return Object.assign(Object.create(this) as DeviceDB, { reads });
  }

  /** What need not be read each time. */
  private readonly known: { state?: ReplicaState; zone?: Zone } = {};

  /** The device's own state. The first time it takes an identity, and keeps it: what is sent under one must be heard under it. */
  async state(newIdentity: () => string): Promise<ReplicaState> {
    if (this.known.state) return this.known.state;
    const state = await this.transaction("rw", this.remembered, this.outbox, async () => {
      const row = await this.remembered.get("state");
      if (row) return withLast(row.value as ReplicaState, await this.outbox.orderBy(":id").last());
      const fresh: ReplicaState = { replica: newIdentity(), person: this.person, cursor: "", skew: 0 };
      await this.remembered.put({ name: "state", value: fresh });
      return fresh;
    });
    this.known.state ??= state;
    return this.known.state;
  }

  /** Takes a state that was changed, once it is kept or when it need not be. */
  know(state: ReplicaState) {
    this.known.state = state;
  }

  /** Now on the office's clock, in milliseconds since 1970. */
  async now(): Promise<number> {
    this.known.state ??= (await this.remembered.get("state"))?.value as ReplicaState | undefined;
    return Date.now() + (this.known.state?.skew ?? 0);
  }

  /** The company's rules that hold today; undefined until they are here. */
  async settings(): Promise<Settings | undefined> {
    const subjects = Object.fromEntries((await this.all("settings")).map((d) => [d.id, d.body]));
    if (Object.keys(subjects).length === 0) return undefined;
    await loadCore();
    return core("settings", { subjects, now: await this.now() });
  }

  /** The company's time zone, read once until new settings come. */
  async zone(): Promise<Zone> {
    this.known.zone ??= (await this.settings())?.company.zone;
    return this.known.zone ?? { name: "UTC", shifts: [] };
  }

  /** Has the state and the zone read anew. */
  forget() {
    this.known.state = undefined;
    this.known.zone = undefined;
  }

  /** The bodies of documents of a type as shown; those that are not there are undefined. */
  async bodies<T extends keyof Documents>(type: T, ids: (string | undefined)[]): Promise<(Documents[T] | undefined)[]> {
    const keys = ids.map((id) => `${type}/${id ?? ""}`);
    for (const key of keys) this.reads?.add(key);
    return (await this.documents.get(keys)).map((d) => d?.body as Documents[T] | undefined);
  }

  async body<T extends keyof Documents>(type: T, id: string | undefined): Promise<Documents[T] | undefined> {
    return id ? (await this.bodies(type, [id]))[0] : undefined;
  }

  async all<T extends keyof Documents>(type: T): Promise<{ id: string; body: Documents[T] }[]> {
    this.reads?.add(type);
    return (await this.documents.all(type)) as unknown as { id: string; body: Documents[T] }[];
  }

  /**
   * Takes records beside those that this device is told of, where it has none, or older ones and nothing waits about them: what is recorded about
   * them needs them here. Those of the directory, which are not whole, have revision 0.
   */
  adopt(docs: Doc[]): Promise<void> {
    return this.documents.inTurn(async () => {
      const waiting = new Set((await this.unfolded()).map((p) => keyOf(p.subject)));
      const have = await this.documents.get(docs.map(keyOf));
      const fresh = docs.filter((d, i) => !have[i] || (have[i].rev < d.rev && !waiting.has(keyOf(d))));
      if (fresh.length === 0) return;
      await this.transaction("rw", this.base, this.shown, async () => {
        await Promise.all([this.base.bulkPut(fresh.map(stored)), this.shown.bulkPut(fresh.map(stored))]);
      });
      this.documents.adopted(fresh);
    });
  }

  /** Whether the whole of a record is here as the office had it, not only what the directory says. */
  async hasWhole(ref: Ref): Promise<boolean> {
    this.reads?.add(keyOf(ref));
    return ((await this.documents.get([keyOf(ref)]))[0]?.rev ?? 0) > 0;
  }

  /**
   * Asks the core what it works out of documents: it says which it wants first, and which it read. first are those that it is known to want.
   */
  async ask<A extends { wanted: Ref[]; read: Ref[] }>(first: Ref[], call: (moment: Moment) => A): Promise<A> {
    const zone = await this.zone();
    const now = await this.now();
    for (let refs = first; ; ) {
      const answer = await this.documents.ask(refs, (documents) => call({ ...documents, now, zone }));
      for (const ref of answer.read) this.reads?.add(keyOf(ref));
      if (answer.wanted.length === 0) return answer;
      refs = answer.wanted;
    }
  }
}

/** The state with the time of the last entry, which is not written with each. */
const withLast = (state: ReplicaState, last: Waiting | undefined): ReplicaState =>
  last && (!state.last || Date.parse(last.at) > Date.parse(state.last)) ? { ...state, last: last.at } : state;

/** What a question to the core says of documents and time. */
export interface Moment {
  holder: number;
  docs: Doc[];
  /** on the office's clock, in milliseconds since 1970 */
  now: number;
  zone: Zone;
}
