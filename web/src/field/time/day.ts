/** A person's day from their timecards, with the names of what its time went to. */

import { core } from "../../device/core";
import type { DeviceDB } from "../../device/db";
import { useLive } from "../../device/live";
import type { Settings, Span, TimeDay, Visit } from "../../types";
import { isoDate, momentOf } from "../../ui/format";
import { tasksOf } from "../../ui/tasks";
import { useCore, useDevice } from "../device";

const dayLength = 86_400_000;

/** What a piece of time is for. */
export type What = Pick<Span, "kind" | "visit" | "task" | "code">;

export interface Named {
  day: TimeDay;
  settings: Settings;
  /** the visits of the day and those its spans are for: names by id */
  visits: Record<string, { order: string; site: string; tasks: Record<string, string>; stage: Visit["stage"]; start: string }>;
}

const empty = (date: string): TimeDay => ({
  date,
  spans: [],
  gaps: [],
  hours: { travel: 0, work: 0, wait: 0, break: 0 },
  paid: { clocked: 0, rounded: 0, unpaid: 0, normal: 0, overtime: 0, double: 0, why: [] },
  exceptions: [],
  stamps: [],
  corrections: [],
  lengths: [],
});

/** Works out a person's day. The cards go back to the day before its Monday, for the week's overtime. */
export async function readDay(db: DeviceDB, person: string, date: string): Promise<Named | undefined> {
  const settings = await db.settings();
  if (!settings) return undefined;
  const noon = momentOf(date, "12:00").getTime();
  const back = ((new Date(`${date}T12:00:00Z`).getUTCDay() + 6) % 7) + 1;
  const dates = Array.from({ length: back + 1 }, (_, i) => isoDate(noon - (back - i) * dayLength));
  const cards = (await Promise.all(dates.map((d) => db.body("timecard", `${person}+${d}`)))).filter((c) => c !== undefined);
  const asked = { cards, now: await db.now(), zone: settings.company.zone, pay: (await db.body("settings", "pay")) ?? {} };
  const day = core("days", asked).find((d) => d.date === date) ?? empty(date);
  const visits: Named["visits"] = {};
  const ids = new Set(day.spans.flatMap((s) => s.visit ?? []));
  for (const v of await db.all("visit")) {
    const mine = v.body.technician === person || v.body.helpers?.includes(person);
    if (!ids.has(v.id) && !(mine && isoDate(v.body.start) === date && v.body.stage !== "withdrawn")) continue;
    const order = await db.body("workorder", v.body.order);
    const site = await db.body("site", order?.site);
    visits[v.id] = {
      order: v.body.order,
      site: site?.name ?? "",
      stage: v.body.stage,
      start: v.body.start,
      tasks: Object.fromEntries(tasksOf(order).map((x) => [x.id, x.name])),
    };
  }
  return { day, settings, visits };
}

/** The person's own day as it is now, worked out anew after each tap and whenever tick changes; undefined until the core and the settings are there. */
export function useDay(date: string, tick: number): Named | undefined {
  const { db, me } = useDevice();
  const ready = useCore();
  return useLive(db, async (db) => (ready ? readDay(db, me.id, date) : undefined), [me, ready, date, tick]);
}
