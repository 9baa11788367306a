/** What can be signed for at once: the visit, and those at the same site that ended and that nobody has signed for. */
import { useEffect, useState } from "react";
import { core } from "../../device/core";
import { withWanted } from "../../device/wanted";
import type { Summary, VisitView } from "../../types";
import { loadVisit, useDevice } from "../device";
import { isUnsigned } from "../stops";

export interface ToSign {
  id: string;
  summary: Summary;
  digest: string;
  /** somebody else's work */
  colleague: boolean;
}

/** Frozen when it is asked for: what is shown is what is signed, whatever happens behind it. */
export function useTogether(view: VisitView, day: string): { own: ToSign; others: ToSign[] } | undefined {
  const { db, me } = useDevice();
  const [shown, setShown] = useState<{ own: ToSign; others: ToSign[] }>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: as it is when the dialog opens, or another day is chosen
  useEffect(() => {
    let here = true;
    void (async () => {
      const own = day ? (await withWanted(db, [{ type: "visit", id: view.id }], (m) => core("summary", { id: view.id, day, ...m }))).answer : view;
      const others: ToSign[] = [];
      for (const v of await db.all("visit")) {
        if (v.id === view.id || !isUnsigned(v.body)) continue;
        const order = await db.body("workorder", v.body.order);
        if (order?.site !== view.order.site) continue;
        const other = await loadVisit(db, v.id);
        if (other) others.push({ id: v.id, summary: other.summary, digest: other.digest, colleague: v.body.technician !== me.id });
      }
      if (here) setShown({ own: { id: view.id, summary: own.summary, digest: own.digest, colleague: false }, others });
    })();
    return () => {
      here = false;
    };
  }, [day]);
  return shown;
}
