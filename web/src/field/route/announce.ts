/** Tells of new and changed visits outside the app too, where the person has allowed it. */
import { useEffect, useRef } from "react";
import { useTranslation } from "react-i18next";
import { beReached, isReached } from "../../device/push";
import { useDevice } from "../device";
import type { Stop } from "../stops";

/**
 * Announces stops that became fresh since the screen was opened, while the app is not in front: where the office reaches the device itself it does that,
 * also while the app is closed.
 */
export function useAnnounce(stops: Stop[] | undefined) {
  const { t } = useTranslation();
  const { db } = useDevice();
  useEffect(() => void beReached(db), [db]);
  const known = useRef<Set<string>>(undefined);
  useEffect(() => {
    if (!stops) return;
    const fresh = stops.filter((s) => s.fresh && s.part !== "gone");
    const before = known.current;
    known.current = new Set(fresh.map((s) => s.id + s.visit.start));
    if (!before || document.visibilityState === "visible" || !("Notification" in globalThis) || Notification.permission !== "granted") return;
    const news = fresh.filter((s) => !before.has(s.id + s.visit.start));
    if (news.length === 0) return;
    void isReached().then(async (reached) => {
      if (reached) return;
      const worker = await navigator.serviceWorker?.ready;
      for (const s of news) {
        const title = t(s.fresh === "new" ? "announce.new" : "announce.changed", { site: s.site?.name });
        void worker?.showNotification(title, { body: s.order?.problem, tag: s.id, icon: "/icon.svg", data: { visit: s.id } });
      }
    });
  }, [stops, t]);
}
