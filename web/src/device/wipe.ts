/** Leaving a device: it keeps nothing of whoever was signed in on it, neither documents nor files nor what was typed. */
import { endedKey, leavingKey } from "../session/session";
import type { DeviceDB } from "./db";
import { beUnreached } from "./push";
import { newId } from "./record";

/** Settings of the device itself, which are nobody's. */
const own = ["iter.ground", "iter.terminal.camera"];

async function wipe(db: DeviceDB | undefined) {
  await beUnreached().catch(() => {}); // at an address that is still known nobody answers
  await db?.delete();
  const kept = own.map((k) => [k, localStorage.getItem(k)] as const);
  localStorage.clear();
  sessionStorage.clear();
  for (const [k, v] of kept) if (v !== null) localStorage.setItem(k, v);
}

/**
 * Loads the app anew, so that nothing of whoever left stays in memory either. Until then the screen stays as it is: a dialog that closed now would
 * take its entry out of the browser's history, and that ends the loading.
 */
function goToSignIn() {
  location.assign("/");
}

/** Deletes all that the device keeps and signs out. Without signal the office is told at the next start. db is none at the office. */
export async function leave(db: DeviceDB | undefined): Promise<void> {
  await wipe(db);
  const told = await fetch("/api/signout", { method: "POST" }).then(
    (r) => r.ok,
    () => false,
  );
  if (!told) localStorage.setItem(leavingKey, new Date().toISOString());
  goToSignIn();
}

/** The end of a device's access: it has handed over what it had. It deletes all it keeps, says so to the office, and signs out. */
export async function ended(db: DeviceDB, tell: (replica: string) => Promise<unknown>): Promise<void> {
  const { replica } = await db.state(newId);
  await wipe(db);
  localStorage.setItem(endedKey, new Date().toISOString());
  await tell(replica).catch(() => {}); // the office then does not know for sure
  await fetch("/api/signout", { method: "POST" }).catch(() => {});
  goToSignIn();
}
