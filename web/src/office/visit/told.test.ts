import { expect, test } from "vitest";
import type { VisitView } from "../../types";
import { setZone } from "../../ui/format";
import { entriesOf, type Telling, wrong } from "./told";

setZone("Etc/UTC");
const blank: Telling = {
  person: "ansa",
  date: "2026-03-10",
  setOff: "",
  arrived: "",
  breakFrom: "",
  breakTo: "",
  finished: "",
  outcome: "",
  reason: "",
  done: [],
  parts: [],
  readings: {},
  note: "",
};
const now = Date.parse("2026-03-10T16:00:00Z");
const view = {
  id: "V1",
  visit: { order: "W1" },
  machines: [{ id: "A1", asset: { kind: "booster" }, points: [{ id: "discharge", unit: "bar" }] }],
} as unknown as VisitView;

test("what is told becomes entries in the order in which it happened, by whoever tells it", () => {
  const told: Telling = {
    ...blank,
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
  expect(out.map((e) => e.told.at)).toEqual(out.map((e) => e.told.at).toSorted());
  expect(out[6].body).toMatchObject({ value: "4.5", unit: "bar", asset: "A1" });
  expect(out[8].body).toEqual({ outcome: "return_needed", reason: "Seal", order: "W1" });
  expect(new Set(out.map((e) => e.told.person))).toEqual(new Set(["ansa"]));
});

test.each([
  [{}, "told.nothing"],
  [{ arrived: "8" }, "told.time"],
  [{ date: "", arrived: "08:00" }, "told.time"],
  [{ setOff: "09:00", arrived: "08:00" }, "told.order"],
  [{ breakTo: "09:00" }, "told.order"],
  [{ arrived: "17:00" }, "told.future"],
  [{ finished: "11:00" }, "told.outcome"],
  [{ outcome: "complete" }, "told.outcome"],
  [{ readings: { "A1/discharge": "much" } }, "told.reading"],
  [{ note: "Only this" }, undefined],
] as [Partial<Telling>, string | undefined][])("%j is %s", (part, code) => {
  expect(wrong({ ...blank, ...part }, now)).toBe(code);
});
