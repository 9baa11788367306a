/** Tells of new and changed visits outside the app too, where the person has allowed it. */
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import type { Stop } from "../stops";

/** Announces stops that became fresh since the screen was opened, while the app is not in front. */
export function useAnnounce(stops: Stop[] | undefined) {
  const { t } = useTranslation();
  const known = useRef<Set<string>>(undefined);
  useEffect(() => {
    if (!stops) return;
    const fresh = stops.filter((s) => s.fresh && s.part !== "gone");
    const before = known.current;
    known.current = new Set(fresh.map((s) => s.id + s.visit.start));
    if (!before || document.visibilityState === "visible" || !("Notification" in globalThis) || Notification.permission !== "granted") return;
    for (const s of fresh) {
      if (before.has(s.id + s.visit.start)) continue;
      const title = t(s.fresh === "new" ? "announce.new" : "announce.changed", { site: s.site?.name });
      void navigator.serviceWorker?.ready.then((r) =>
        r.showNotification(title, { body: s.order?.problem, tag: s.id, icon: "/icon.svg", data: { visit: s.id } }),
      );
    }
  }, [stops, t]);
}
