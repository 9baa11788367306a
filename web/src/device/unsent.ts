/** The last resort: unsent work as a file, which the office can take in. */
import type { DeviceDB } from "./db";
import { publicKey, sign } from "./key";
import { newId } from "./record";

/** A file of all that is not at the office yet, signed by this device: entries first, then photos and documents. See server/unsent for its form. */
export async function unsentWork(db: DeviceDB, now = new Date()): Promise<Blob> {
  const state = await db.state(newId);
  const signs = (await publicKey(db)) !== undefined;
  let entries = line({ iter: "unsent", v: signs ? 2 : 1, person: db.person, replica: state.replica, saved: now });
  for (const p of await db.unfolded()) {
    if (p.seq || p.held) continue; // it is at the office
    const { seq: _, held: __, row: ___, ...entry } = p;
    entries += line({ entry });
  }
  const parts: BlobPart[] = [entries];
  if (signs) parts.push(line({ signed: await sign(db, new TextEncoder().encode(entries)) }));
  for (const f of await db.files.where("state").equals("waiting").sortBy("at")) {
    const ref = JSON.stringify({ hash: f.hash, name: f.name, type: f.type, size: f.size });
    parts.push(`{"file":${ref},"data":"`, await base64(f.blob), '"}\n');
  }
  return new Blob(parts, { type: "application/x-ndjson" });
}

const line = (v: unknown) => `${JSON.stringify(v)}\n`;

async function base64(blob: Blob): Promise<string> {
  const url = await new Promise<string>((done, fail) => {
    const reader = new FileReader();
    reader.onload = () => done(reader.result as string);
    reader.onerror = () => fail(reader.error);
    reader.readAsDataURL(blob);
  });
  return url.slice(url.indexOf(",") + 1);
}
