/** Keeps the files on a device within its storage: what the office has in a second place goes first. Tiles of the map take what files leave. */
import type { DeviceDB } from "./db";
import { packOf } from "./pack";
import type { StoredFile } from "./tables";

/** Files take this much of what a browser gives, and no more than that many bytes, in all. */
const share = 0.5;
const most = 4 * 2 ** 30;

/** How many bytes files may take on this device. */
export async function fileBudget(): Promise<number> {
  const { quota } = (await navigator.storage?.estimate?.()) ?? {};
  return Math.min(most, (quota ?? most) * share);
}

/** How many bytes the files on this device take. */
export async function fileBytes(db: DeviceDB): Promise<number> {
  let size = 0;
  await db.files.each((f) => {
    size += f.size;
  });
  return size;
}

/**
 * Lets copies of what the office has go while files take more than their budget, in bytes: first what was fetched and is not needed next, then
 * one's own that a second place has, then one's own that rests on the office's one disk; of each the oldest first. What the office lacks stays.
 */
export async function prune(db: DeviceDB, budget: number): Promise<void> {
  let size = await fileBytes(db);
  if (size <= budget) return;
  const files = await db.files.toArray();
  const needed = new Set((await packOf(db)).map((ref) => ref.hash));
  const alone = new Set(await db.acknowledged.toCollection().primaryKeys());
  const rank = (f: StoredFile) => (!f.entry ? 0 : alone.has(f.entry) ? 2 : 1);
  const copies = files.filter((f) => f.state === "here" && !needed.has(f.hash)).sort((a, b) => rank(a) - rank(b) || a.at - b.at);
  for (const f of copies) {
    if (size <= budget) return;
    await db.files.delete(f.hash);
    size -= f.size;
  }
}
