/** What the stops of a day need that the van does not have, in the order they are come to. */

import { core } from "../../device/core";
import type { DeviceDB } from "../../device/db";
import { useLive } from "../../device/live";
import type { Allotment, Stock } from "../../types";
import { decimal } from "../../ui/decimal";
import { useCore, useDevice } from "../device";
import { isOver, type Stop } from "../stops";

export interface Lack extends Allotment {
  name: string;
  unit: string;
}

async function lacks(db: DeviceDB, van: string, stops: Stop[]): Promise<Lack[]> {
  const needy = stops.filter((s) => s.part === "own" && !isOver(s) && s.order?.needs?.length);
  if (needy.length === 0) return [];
  const stock = (await db.body("stock", van)) ?? ({ place: van, lines: {} } as Stock);
  const asked = await Promise.all(
    needy.map(async (s) => ({
      id: s.id,
      order: s.visit.order,
      work: s.order!,
      visits: (await Promise.all((s.order?.visits ?? []).map((v) => db.body("visit", v)))).filter((v) => v !== undefined),
    })),
  );
  const short = core("allot", { stops: asked, stock }).filter((a) => decimal(a.lacks).gt(0));
  return Promise.all(
    short.map(async (a) => {
      const part = await db.body("part", a.part);
      return { ...a, name: part?.name ?? a.part, unit: part?.unit ?? "" };
    }),
  );
}

/** Legs give the order in which the stops are taken. */
export function useLacks(stops: Stop[] | undefined, order: string[]): Lack[] {
  const { db, me } = useDevice();
  const ready = useCore();
  const van = me.person.van;
  return (
    useLive(
      db,
      async (db) => {
        if (!ready || !stops || !van) return [];
        const rank = (s: Stop) => (order.includes(s.id) ? order.indexOf(s.id) : order.length);
        return lacks(
          db,
          van,
          [...stops].sort((a, b) => rank(a) - rank(b)),
        );
      },
      [ready, van, stops, order.join()],
    ) ?? []
  );
}
