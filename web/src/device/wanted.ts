/** Asks the core something that it says what documents it wants for: they are loaded until it wants no more. */
import type { Doc, Ref, ReplicaState, Zone } from "../types";
import type { DeviceDB } from "./db";

export interface Moment {
  docs: Doc[];
  /** on the office's clock */
  now: number;
  zone: Zone;
}

export async function withWanted<A extends { wanted: Ref[] }>(db: DeviceDB, first: Ref[], ask: (m: Moment) => A): Promise<{ answer: A; refs: Ref[] }> {
  const zone = await db.zone();
  const skew = ((await db.remembered.get("state"))?.value as ReplicaState | undefined)?.skew ?? 0;
  let refs = first;
  let docs = await db.docs(refs);
  for (;;) {
    const answer = ask({ docs, now: Date.now() + skew, zone });
    if (answer.wanted.length === 0) return { answer, refs };
    refs = refs.concat(answer.wanted);
    docs = docs.concat(await db.docs(answer.wanted));
  }
}
