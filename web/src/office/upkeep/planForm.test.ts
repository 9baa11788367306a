import { describe, expect, it } from "vitest";
import type { UpkeepPlan } from "../../types";
import { blankPlan, formOf, lacking, planOf, saving } from "./planForm";

const plan: UpkeepPlan = {
  name: "Half-yearly service",
  problem: "Service of the booster set",
  minutes: 90,
  tasks: ["Check seals", "Oil"],
  assets: ["A1"],
  rule: "FREQ=MONTHLY;INTERVAL=6",
  begin: "2026-03-01",
  after: 14,
};
const targets = [{ id: "A1", name: "Booster set", asset: "A1", site: "S1", siteName: "Orrisk" }];

describe("the form of a maintenance plan", () => {
  it.each<UpkeepPlan>([
    plan,
    { ...plan, rule: "FREQ=MONTHLY;BYMONTHDAY=15,-1" },
    { ...plan, rule: undefined, counter: { point: "hours", every: "2000" }, fromLast: true },
    { ...plan, rule: "FREQ=YEARLY", counter: { point: "hours", every: "2000.5" }, fromLast: true },
    { ...plan, assets: undefined, site: "S1", end: "2027-01-01" },
    { ...plan, assets: undefined, agreement: "care", skills: ["pumps"], needs: [{ part: "P1", quantity: "2" }] },
  ])("has a plan as it is", (p) => {
    expect(JSON.parse(JSON.stringify(planOf(formOf(p, targets))))).toEqual(JSON.parse(JSON.stringify(p)));
    expect(saving(formOf(p, targets), "U1", p)).toBeUndefined();
  });
  it("changes what is another, with what it replaces", () => {
    const form = { ...formOf(plan, targets), minutes: "120", after: "0", kind: "service" };
    expect(saving(form, "U1", plan)).toEqual({
      kind: "record.amended",
      subject: { type: "upkeep", id: "U1" },
      body: { minutes: 120, after: null, kind: "service" },
      base: { minutes: 90, after: 14, kind: null },
    });
  });
  it("says what it can't do without", () => {
    expect(lacking(blankPlan())).toBe(true);
    expect(lacking(blankPlan({ type: "asset", id: "A1", name: "Booster set" }))).toBe(false);
    expect(lacking({ ...blankPlan({ type: "site", id: "S1", name: "Orrisk" }), by: "counter" })).toBe(true);
  });
});
