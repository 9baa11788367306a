/* In the service worker: what the office tells a phone whose app is closed is shown, and a tap on it opens the visit, or else the route. */
self.addEventListener("push", (event) => {
  const { title, text, visit } = event.data?.json() ?? {};
  if (!title) return;
  event.waitUntil(self.registration.showNotification(title, { body: text, tag: "plan", renotify: true, icon: "/icon.svg", data: { visit } }));
});

self.addEventListener("notificationclick", (event) => {
  event.notification.close();
  const visit = event.notification.data?.visit;
  const url = visit ? `/field/visit/${visit}` : "/field";
  event.waitUntil(
    self.clients.matchAll({ type: "window" }).then((all) => {
      const open = all.find((c) => "navigate" in c);
      return open ? open.focus().then((c) => c.navigate(url)) : self.clients.openWindow(url);
    }),
  );
});
