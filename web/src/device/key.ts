/** The key with which this device signs files of unsent work: made once, and kept where no script can read its private half. */
import type { DeviceDB } from "./db";

const kind = { name: "ECDSA", namedCurve: "P-256" };

/** The device's keys. None where the browser has no cryptography for the page, as over plain HTTP: then files are not signed. */
async function keys(db: DeviceDB): Promise<CryptoKeyPair | undefined> {
  const kept = await db.remembered.get("key");
  if (kept) return kept.value as CryptoKeyPair;
  if (!globalThis.crypto?.subtle) return undefined;
  const fresh = await crypto.subtle.generateKey(kind, false, ["sign", "verify"]);
  return db.transaction("rw", db.remembered, async () => {
    const other = await db.remembered.get("key"); // another tab may have been quicker
    if (other) return other.value as CryptoKeyPair;
    await db.remembered.put({ name: "key", value: fresh });
    return fresh;
  });
}

const text = (bytes: ArrayBuffer) => btoa(String.fromCharCode(...new Uint8Array(bytes)));

/** The public half, as the office is told it: SPKI in base 64. */
export async function publicKey(db: DeviceDB): Promise<string | undefined> {
  const pair = await keys(db).catch(() => undefined); // it signs nothing then, and works as before
  return pair && text(await crypto.subtle.exportKey("spki", pair.publicKey));
}

/** Signs bytes: r and s one after the other, in base 64. */
export async function sign(db: DeviceDB, bytes: BufferSource): Promise<string | undefined> {
  const pair = await keys(db).catch(() => undefined);
  return pair && text(await crypto.subtle.sign({ name: "ECDSA", hash: "SHA-256" }, pair.privateKey, bytes));
}
