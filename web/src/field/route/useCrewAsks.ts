/** What this person is asked about: clocks of theirs that somebody turned on a visit that they were not planned for. */
import { useLive } from "../../device/live";
import type { CrewStep } from "../../types";
import { useDevice } from "../device";

export interface CrewAsk {
  visit: string;
  site: string;
  /** who turned the clock */
  by: string;
  steps: CrewStep[];
}

export function useCrewAsks(): CrewAsk[] {
  const { db, me } = useDevice();
  return (
    useLive(
      db,
      async (db) => {
        const out: CrewAsk[] = [];
        for (const { id, body } of await db.all("visit")) {
          const steps = (body.crew ?? []).filter((s) => s.asked && !s.struck && s.helper === me.id);
          if (steps.length === 0) continue;
          const order = await db.body("workorder", body.order);
          const site = await db.body("site", order?.site);
          const by = await db.body("person", steps[0].person);
          out.push({ visit: id, site: site?.name ?? order?.number ?? "", by: by?.name ?? steps[0].person, steps });
        }
        return out;
      },
      [me],
    ) ?? []
  );
}
