import { expect, test } from "vitest";
import type { VisitView } from "../../types";
import { setZone } from "../../ui/format";
import { blank, entriesOf, type PhonedIn, wrong } from "./phoned";

setZone("Etc/UTC");
const begun: PhonedIn = { ...blank, person: "ansa", date: "2026-03-10" };
const now = Date.parse("2026-03-10T16:00:00Z");
const view = {
  id: "V1",
  visit: { order: "W1" },
  machines: [{ id: "A1", asset: { kind: "booster" }, points: [{ id: "discharge", unit: "bar" }] }],
} as unknown as VisitView;

test("what is told becomes entries in the order in which it happened, by whoever tells it", () => {
  const told: PhonedIn = {
    ...begun,
    setOff: "08:00",
    arrived: "08:30",
    breakFrom: "10:00",
    breakTo: "10:20",
    finished: "11:00",
    outcome: "return_needed",
    reason: "Seal",
    done: ["t1"],
    parts: [{ part: "P1", quantity: "2" }],
    readings: { "A1/discharge": "4,5", "A9/none": "1" },
    note: "Pump 2 is off",
  };
  expect(wrong(told, now)).toBeUndefined();
  const out = entriesOf(told, view, "van-ansa", now);
  expect(out.map((e) => e.kind)).toEqual([
    "visit.set_off",
    "visit.arrived",
    "visit.paused",
    "visit.resumed",
    "task.done",
    "part.used",
    "reading.taken",
    "note.written",
    "visit.finished",
  ]);
  expect(out.map((e) => e.phoned.at)).toEqual(out.map((e) => e.phoned.at).toSorted());
  expect(out[6].body).toMatchObject({ value: "4.5", unit: "bar", asset: "A1" });
  expect(out[8].body).toEqual({ outcome: "return_needed", reason: "Seal", order: "W1" });
  expect(new Set(out.map((e) => e.phoned.person))).toEqual(new Set(["ansa"]));
});

test.each([
  [{}, "phoned.nothing"],
  [{ arrived: "8" }, "phoned.time"],
  [{ date: "", arrived: "08:00" }, "phoned.time"],
  [{ setOff: "09:00", arrived: "08:00" }, "phoned.order"],
  [{ breakTo: "09:00" }, "phoned.order"],
  [{ arrived: "17:00" }, "phoned.future"],
  [{ finished: "11:00" }, "phoned.outcome"],
  [{ outcome: "complete" }, "phoned.outcome"],
  [{ readings: { "A1/discharge": "much" } }, "phoned.reading"],
  [{ note: "Only this" }, undefined],
] as [Partial<PhonedIn>, string | undefined][])("%j is %s", (part, code) => {
  expect(wrong({ ...begun, ...part }, now)).toBe(code);
});
