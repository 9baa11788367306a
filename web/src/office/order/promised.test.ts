import { expect, it } from "vitest";
import type { OrderPage, Visit } from "../../types";
import { standing } from "./promised";

const at = (hm: string) => `2026-11-30T${hm}:00Z`;
const visit = (more: Partial<Visit>) => ({ visit: { stage: "sent", start: at("09:00"), minutes: 60, since: at("08:00"), ...more } as Visit });
const arrived = (hm: string) => [{ action: "arrived", at: at(hm) }] as Visit["steps"];

it.each<[string, Partial<Visit>[], boolean, string, string, string]>([
  ["nothing is planned", [], false, "08:00", "open", "open"],
  ["planned in time", [{}], false, "08:00", "open", "open"],
  ["planned too late", [{ start: at("10:30") }], false, "08:00", "risk", "open"],
  ["planned too long", [{ minutes: 200 }], false, "08:00", "open", "risk"],
  ["past", [], false, "13:00", "late", "late"],
  ["came in time, not done yet", [{ stage: "on_site", steps: arrived("09:10") }], false, "11:30", "kept", "open"],
  ["came too late, done in time", [{ stage: "finished", steps: arrived("10:20"), since: at("11:00") }], true, "13:00", "broken", "kept"],
  ["done too late", [{ stage: "finished", steps: arrived("09:20"), since: at("12:30") }], true, "13:00", "kept", "broken"],
  ["withdrawn, and cancelled", [{ stage: "withdrawn" }], true, "13:00", "over", "over"],
])("%s", (_, visits, over, now, come, done) => {
  const page = { order: { promiseTo: at("10:00"), doneBy: at("12:00") }, visits: visits.map(visit) } as unknown as OrderPage;
  const s = standing(page, over, Date.parse(at(now)));
  expect([s.come?.is, s.done?.is]).toEqual([come, done]);
  expect(standing({ order: {}, visits: [] } as unknown as OrderPage, over, Date.parse(at(now)))).toEqual({});
});
