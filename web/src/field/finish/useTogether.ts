/** What can be signed for at once: the visit, and those at the same site that ended and that nobody has signed for. */
import { useEffect, useState } from "react";
import { core } from "../../device/core";
import type { DeviceDB } from "../../device/db";
import type { Summary, Visit, VisitView } from "../../types";
import { loadVisit, useDevice } from "../device";
import { isUnsigned } from "../stops";

export interface ToSign {
  id: string;
  summary: Summary;
  digest: string;
  /** somebody else's work */
  colleague: boolean;
}

interface Together {
  own: ToSign;
  others: ToSign[];
}

/** Frozen when it is asked for: what is shown is what is signed, whatever happens behind it. */
export function useTogether(view: VisitView, day: string): Together | undefined {
  const { db, me } = useDevice();
  const [shown, setShown] = useState<Together>();
  // biome-ignore lint/correctness/useExhaustiveDependencies: as it is when the dialog opens, or another day is chosen
  useEffect(() => {
    let here = true;
    void toSign(db, me.id, view.id, day).then((all) => here && setShown(all));
    return () => {
      here = false;
    };
  }, [day]);
  return shown;
}

/** What a visit, or a day of it, stands for now, and the others at its site: read anew, as a screen may not show what was just tapped yet. */
export async function toSign(db: DeviceDB, me: string, id: string, day: string): Promise<Together> {
  const { summary, digest } = await db.ask([{ type: "visit", id }], (m) => core("summary", { ...m, id, day }));
  const siteOf = async (visit: Visit | undefined) => (await db.body("workorder", visit?.order))?.site;
  const site = await siteOf(await db.body("visit", id));
  const others: ToSign[] = [];
  for (const v of await db.all("visit")) {
    if (v.id === id || !isUnsigned(v.body) || (await siteOf(v.body)) !== site) continue;
    const other = await loadVisit(db, v.id);
    if (other) others.push({ id: v.id, summary: other.summary, digest: other.digest, colleague: v.body.technician !== me });
  }
  return { own: { id, summary, digest, colleague: false }, others };
}
