/** The end of a device's access: it has handed over what it had, and keeps nothing. */
import { endedKey, remember } from "../session/session";
import type { DeviceDB } from "./db";
import { newId } from "./record";

/** Deletes all that the device keeps, says so to the office, and signs out. */
export async function wipe(db: DeviceDB, tell: (replica: string) => Promise<unknown>): Promise<void> {
  const { replica } = await db.state(newId);
  await db.delete();
  localStorage.clear();
  localStorage.setItem(endedKey, new Date().toISOString());
  await tell(replica).catch(() => {}); // the office then does not know for sure
  await fetch("/api/signout", { method: "POST" }).catch(() => {});
  remember(null);
  location.assign("/"); // nothing of it stays in memory either
}
