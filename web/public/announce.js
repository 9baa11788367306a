/* In the service worker: a tap on the announcement of a visit opens it. */
self.addEventListener("notificationclick", (event) => {
  event.notification.close();
  const url = `/field/visit/${event.notification.data?.visit ?? ""}`;
  event.waitUntil(
    self.clients.matchAll({ type: "window" }).then((all) => {
      const open = all.find((c) => "navigate" in c);
      return open ? open.focus().then((c) => c.navigate(url)) : self.clients.openWindow(url);
    }),
  );
});
