/** What is used most with a kind of machine, and lately: it comes first. */

import type { DeviceDB } from "../../device/db";
import { useLive } from "../../device/live";
import { useDevice } from "../device";

async function usual(db: DeviceDB, kind: string | undefined): Promise<string[]> {
  const visits = await db.all("visit");
  const score = new Map<string, number>();
  for (const v of visits) {
    if (!v.body.parts?.length && !v.body.kits?.length) continue;
    const order = await db.body("workorder", v.body.order);
    const same = kind && (await db.body("asset", order?.asset))?.kind === kind;
    const count = (key: string) => score.set(key, (score.get(key) ?? 0) + (same ? 10 : 1));
    for (const p of v.body.parts ?? []) if (!p.struck) count(`part ${p.part}`);
    for (const k of v.body.kits ?? []) if (!k.struck) count(`kit ${k.kit}`);
  }
  return [...score].sort((a, b) => b[1] - a[1]).map(([key]) => key);
}

/** The keys of catalogue items, the most used first: with machines of a kind before the rest. */
export function useUsual(kind: string | undefined): string[] {
  const { db } = useDevice();
  return useLive(db, (db) => usual(db, kind), [kind]) ?? [];
}
