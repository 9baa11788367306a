import { readFileSync } from "node:fs";
import { expect, test, vi } from "vitest";

type Handler = (event: object) => void;

/** The service worker's part that shows what the office tells a closed app, with what its surroundings are told. */
function worker(windows: object[] = []) {
  const handlers = new Map<string, Handler>();
  const self = {
    addEventListener: (name: string, f: Handler) => handlers.set(name, f),
    registration: { showNotification: vi.fn(async () => {}) },
    clients: { matchAll: async () => windows, openWindow: vi.fn(async () => {}) },
  };
  new Function("self", readFileSync("public/announce.js", "utf8"))(self);
  const happen = async (name: string, event: object) => {
    const waits: Promise<unknown>[] = [];
    handlers.get(name)?.({ ...event, waitUntil: (p: Promise<unknown>) => waits.push(p) });
    await Promise.all(waits);
  };
  return { self, happen };
}

test("what is pushed is shown, later ones in its place; what is no message shows nothing", async () => {
  const { self, happen } = worker();
  await happen("push", { data: { json: () => ({ title: "1 new", text: "14:00 Weir", visit: "v1" }) } });
  expect(self.registration.showNotification).toHaveBeenCalledWith("1 new", expect.objectContaining({ body: "14:00 Weir", tag: "plan", data: { visit: "v1" } }));
  await happen("push", {});
  expect(self.registration.showNotification).toHaveBeenCalledTimes(1);
});

test("a tap on it opens the visit, or the route where it is about several", async () => {
  const { self, happen } = worker();
  await happen("notificationclick", { notification: { close: () => {}, data: { visit: "v1" } } });
  expect(self.clients.openWindow).toHaveBeenCalledWith("/field/visit/v1");
  await happen("notificationclick", { notification: { close: () => {}, data: {} } });
  expect(self.clients.openWindow).toHaveBeenLastCalledWith("/field");
});

test("an app that is open is brought to the front", async () => {
  const navigate = vi.fn();
  const { self, happen } = worker([{ navigate, focus: async () => ({ navigate }) }]);
  await happen("notificationclick", { notification: { close: () => {}, data: { visit: "v1" } } });
  expect(navigate).toHaveBeenCalledWith("/field/visit/v1");
  expect(self.clients.openWindow).not.toHaveBeenCalled();
});
