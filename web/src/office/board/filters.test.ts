import { expect, it } from "vitest";
import type { Board } from "../../types";
import { filtered, readFilters, type ShownVisit } from "./filters";

const board = {
  people: [
    {
      id: "ann",
      name: "Ann Vale",
      short: "A. Vale",
      skills: ["pumps"],
      team: "t2",
      areas: ["north"],
      visits: [{ id: "v1", kind: "repair", stage: "sent", customer: "Tessary Dairies" }],
    },
    {
      id: "ben",
      name: "Ben Orme",
      short: "B. Orme",
      skills: [],
      team: "t1",
      visits: [{ id: "v2", kind: "service", stage: "planned", customer: "Orrisk Parks" }],
    },
  ],
  unplaced: [
    { id: "o1", kind: "repair", customer: "Tessary Dairies", skills: ["pumps"] },
    { id: "o2", kind: "service", customer: "Orrisk Parks", skills: [] },
  ],
  plan: { lanes: [{ id: "ann" }, { id: "ben" }, { id: "boat", thing: true }], wants: [{ id: "o1", areas: ["north"] }, { id: "o2" }] },
} as unknown as Board;
const planning = {
  teams: [
    { id: "t1", text: "Ashore" },
    { id: "t2", text: "Boats" },
  ],
};
const shown = (query: string) => {
  const b = filtered(board, readFilters(new URLSearchParams(query)), planning as never);
  return {
    people: b.people.map((p) => p.id).join(),
    lanes: b.plan.lanes.map((l) => l.id).join(),
    waits: b.unplaced.map((o) => o.id).join(),
    faded: b.people.flatMap((p) => p.visits.filter((v) => (v as ShownVisit).faded).map((v) => v.id)).join(),
  };
};

it.each([
  ["", "ann,ben", "o1,o2", ""],
  ["date=2026-11-30", "ann,ben", "o1,o2", ""],
  ["person=vale", "ann", "o1,o2", ""],
  ["team=t1", "ben", "o1,o2", ""],
  ["skill=pumps", "ann", "o1", ""],
  ["area=north", "ann,ben", "o1", ""],
  ["area=south", "ben", "", ""],
  ["kind=repair", "ann,ben", "o1", "v2"],
  ["stage=planned", "ann,ben", "o1,o2", "v1"],
  ["customer=dairies tess", "ann,ben", "o1", "v2"],
  ["order=team", "ben,ann", "o1,o2", ""],
])("shows of the board by %s", (query, people, waits, faded) => {
  const s = shown(query);
  expect([s.people, s.waits, s.faded]).toEqual([people, waits, faded]);
  expect(
    s.lanes
      .split(",")
      .filter((l) => l !== "boat")
      .toSorted()
      .join(),
  ).toBe(people.split(",").toSorted().join());
  expect(s.lanes).toContain("boat");
});
