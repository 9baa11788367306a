/** Questions to a device's database that are asked again when what they read changes. */
import { liveQuery, type Subscription } from "dexie";
import { type InteropableObservable, useObservable } from "dexie-react-hooks";
import type { DeviceDB } from "./db";

type Query<T> = (db: DeviceDB) => T | Promise<T>;

/** What a query gives, anew whenever something changes that it read: documents in memory, or tables of the database. first stands until it is known. */
export function useLive<T>(db: DeviceDB, query: Query<T>, deps: unknown[], first?: T): T | undefined {
  return useObservable(() => observe(db, query), [db, ...deps], first);
}

export const observe = <T>(db: DeviceDB, query: Query<T>): InteropableObservable<T> => ({
  hasValue: () => false,
  subscribe(next, failed) {
    let reads = new Set<string>();
    let running: Subscription | undefined;
    let last: T | undefined;
    const run = () => {
      running?.unsubscribe();
      running = liveQuery(() => {
        reads = new Set();
        return query(db.noting(reads));
      }).subscribe((value) => {
        if (!same(value, last)) next(value);
        last = value;
      }, failed);
    };
    run();
    const stop = db.documents.subscribe((keys) => {
      if (keys.some((k) => reads.has(k) || reads.has(k.split("/", 1)[0]))) run();
    });
    return () => {
      stop();
      running?.unsubscribe();
    };
  },
});

/** Whether a screen that has one need not be drawn anew for the other. */
function same(a: unknown, b: unknown): boolean {
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((x, i) => Object.is(x, b[i]));
  return Object.is(a, b);
}
