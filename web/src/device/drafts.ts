/** Where a device keeps what was typed and not saved: its database, and what that has not written when the page goes in the browser's storage. */
import type { DraftStore } from "../draft/draft";
import type { DeviceDB } from "./db";

/** How long a draft that nobody comes back to is kept, in milliseconds. */
const draftsFor = 60 * 86_400_000;

/** Drafts that the database has not written yet, by name; null for one that is let go of. */
type Unwritten = Record<string, object | null>;

const leftKey = (db: DeviceDB) => `iter.left.${db.person}`;

export function draftStore(db: DeviceDB): DraftStore {
  const unwritten = new Map<string, object | null>();
  let left = false;
  const write = (name: string, value: object | null) => {
    unwritten.set(name, value);
    const written: PromiseLike<unknown> = value ? db.drafts.put({ name, value, at: Date.now() }) : db.drafts.delete(name);
    written.then(
      () => {
        if (unwritten.get(name) === value) unwritten.delete(name);
        if (left) leave(); // what is in the storage would stand in place of what is typed later
      },
      () => {}, // it stays in memory
    );
  };
  // A page that goes does not wait for its database. What can't be told as text, such as a picture, is not typed in a hurry.
  const leave = () => {
    const texts = [...unwritten].filter(([, value]) => isText(value));
    left = texts.length > 0;
    try {
      if (left) localStorage.setItem(leftKey(db), JSON.stringify(Object.fromEntries(texts)));
      else localStorage.removeItem(leftKey(db));
    } catch {
      // the storage is full
    }
  };
  addEventListener("pagehide", leave);
  document.addEventListener("visibilitychange", () => document.visibilityState === "hidden" && leave());
  return {
    load: async () => {
      await db.drafts.filter((d) => d.at < Date.now() - draftsFor).delete();
      for (const [name, value] of Object.entries(leftBy(db))) {
        if (value) await db.drafts.put({ name, value, at: Date.now() });
        else await db.drafts.delete(name);
      }
      localStorage.removeItem(leftKey(db));
      return (await db.drafts.toArray()).map((d) => [d.name, d.value]);
    },
    put: write,
    drop: (name) => write(name, null),
  };
}

/** What the page before left unwritten. */
function leftBy(db: DeviceDB): Unwritten {
  try {
    return JSON.parse(localStorage.getItem(leftKey(db)) ?? "{}") as Unwritten;
  } catch {
    return {};
  }
}

function isText(value: unknown): boolean {
  if (typeof value !== "object" || value === null) return true;
  if (Array.isArray(value)) return value.every(isText);
  return Object.getPrototypeOf(value) === Object.prototype && Object.values(value).every(isText);
}
