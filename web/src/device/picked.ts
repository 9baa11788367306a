/** Photos and papers that were picked: kept as they are at once, all of them, then made ready and attached one after the other. */
import type { About, FileAttached } from "../types";
import { CoreError } from "./core";
import type { DeviceDB } from "./db";
import { attachmentOf, prepare } from "./files";
import type { PickedFile, StoredFile } from "./tables";

/** Keeps files that somebody picked. From then on they outlive the page. */
export async function keepPicked(db: DeviceDB, visit: string, about: About, files: File[]): Promise<void> {
  const leaving = (e: Event) => e.preventDefault(); // the browser asks before it goes while they are not kept
  addEventListener("beforeunload", leaving);
  try {
    await db.picked.bulkAdd(files.map((file) => ({ visit, about, file, name: file.name })));
  } finally {
    removeEventListener("beforeunload", leaving);
  }
}

interface Attach {
  /** Records an entry with its file; resolves to nothing when it could not be kept. */
  record: (kind: "file.attached", visit: string, body: FileAttached, more: { file: StoredFile }) => Promise<string | undefined>;
  /** Told of a file that can't be used. */
  failed: (problem: unknown) => void;
}

/** Attaches what was picked, in one tab at a time. What a page that ended half way had attached already is not attached again. */
export async function attachPicked(db: DeviceDB, { record, failed }: Attach): Promise<void> {
  await navigator.locks.request(`iter-picked-${db.person}`, async () => {
    for (let next = await db.picked.orderBy("id").first(); next; next = await db.picked.where("id").above(next.id).first()) {
      if ((await attach(db, next, record, failed)) && next.id !== undefined) await db.picked.delete(next.id);
    }
  });
}

async function attach(db: DeviceDB, { visit, about, file, name }: PickedFile, record: Attach["record"], failed: Attach["failed"]): Promise<boolean> {
  let ready: StoredFile;
  try {
    ready = await prepare(new File([file], name, { type: file.type }));
  } catch (problem) {
    failed(problem);
    return problem instanceof CoreError && problem.code.code !== "device.full"; // what can be tried again stays
  }
  const twin = await db.files.get(ready.hash);
  const entry = twin?.entry && twin.visit === visit ? await db.waiting(twin.entry) : undefined;
  if (entry && JSON.stringify((entry.body as { about?: About }).about) === JSON.stringify(about)) return true;
  return !!(await record("file.attached", visit, { ...attachmentOf(ready), about }, { file: { ...ready, visit } }));
}
