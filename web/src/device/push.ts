/** How the office reaches this device while the app is closed: by the push service of the browser's maker. */
import { act, get } from "../session/api";
import type { DeviceDB } from "./db";
import { newId } from "./record";

const base64 = (key: ArrayBuffer | null) =>
  btoa(String.fromCharCode(...new Uint8Array(key ?? new ArrayBuffer(0))))
    .replaceAll("+", "-")
    .replaceAll("/", "_")
    .replaceAll("=", "");

const bytesOf = (text: string) => Uint8Array.from(atob(text.replaceAll("-", "+").replaceAll("_", "/")), (c) => c.charCodeAt(0));

const worker = () => navigator.serviceWorker?.getRegistration();

/** Whether the browser has given an address at which the office reaches it. */
export const isReached = async () => !!(await (await worker())?.pushManager?.getSubscription().catch(() => null));

/**
 * Gives the office an address at which this device is reached, where the person allows notifications and the browser can. Tells whether it has one:
 * without a line, or where the browser's maker gives none, it is tried again at the next start.
 */
export async function beReached(db: DeviceDB): Promise<boolean> {
  if (!("Notification" in globalThis) || Notification.permission !== "granted") return false;
  const pushes = (await worker())?.pushManager;
  if (!pushes) return false;
  try {
    const { key } = await get("/api/push");
    let address = await pushes.getSubscription();
    // One that was asked for with another key is of another office.
    if (address && base64(address.options.applicationServerKey) !== key) {
      await address.unsubscribe();
      address = null;
    }
    address ??= await pushes.subscribe({ userVisibleOnly: true, applicationServerKey: bytesOf(key) });
    const { replica } = await db.state(newId);
    await act("/api/push", {}, { replica, endpoint: address.endpoint, auth: base64(address.getKey("auth")), p256dh: base64(address.getKey("p256dh")) });
    return true;
  } catch {
    return false;
  }
}

/** How long the browser may take to give an address up, in milliseconds: without a line it may wait for one. */
const patience = 2000;

/** Gives the address up: whoever has the device next is not told of somebody else's plan. The office forgets it with the sign-out as well. */
export async function beUnreached() {
  const given = worker()?.then(async (w) => (await w?.pushManager?.getSubscription())?.unsubscribe());
  await Promise.race([given, new Promise((done) => setTimeout(done, patience))]);
}
