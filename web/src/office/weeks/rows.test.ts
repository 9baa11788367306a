import { expect, test } from "vitest";
import type { Weeks } from "../../types";
import { filteredWeeks, rowsOf, sumOf } from "./rows";

const visit = (id: string, more: object) => ({
  id,
  kind: "repair",
  stage: "sent",
  customer: "Tessary Dairies",
  start: "2026-03-09T08:00:00Z",
  minutes: 60,
  ...more,
});
const day = (...visits: object[]) => ({ hours: 28800, work: 3600, drive: 0, always: false, skills: [], visits });
const weeks = {
  days: [
    { date: "2026-03-09", promised: [{ id: "o1" }], things: [] },
    { date: "2026-03-10", promised: [], things: [] },
  ],
  people: [
    { id: "ben", name: "Ben Orme", short: "B. Orme", skills: [], days: [day(visit("v1", { with: "A. Vale" })), day()] },
    {
      id: "ann",
      name: "Ann Vale",
      short: "A. Vale",
      skills: ["pumps"],
      days: [day(visit("v1", {})), day(visit("v2", { kind: "", sheets: ["Pump", "Heads"] }))],
    },
  ],
  unplaced: [{ id: "o1", kind: "repair", customer: "Orrisk Parks", skills: [] }],
} as unknown as Weeks;

test("people in rows, by name, with all their days", () => {
  const rows = rowsOf(filteredWeeks(weeks, {}, undefined), "person", {}, [], "none");
  expect(rows.map((r) => [r.id, r.cells.map((c) => c.chips.map((x) => x.id))])).toEqual([
    ["ann", [["v1"], ["v2"]]],
    ["ben", [["v1"], []]],
  ]);
});

test("other rows hold each visit once for each of its groups, what is in none last", () => {
  const kinds = rowsOf(weeks, "kind", {}, [{ id: "repair", text: "Repair" }], "none");
  expect(kinds.map((r) => [r.name, r.cells.flatMap((c) => c.chips.map((x) => x.id))])).toEqual([
    ["Repair", ["v1"]],
    ["none", ["v2"]],
  ]);
  expect(rowsOf(weeks, "sheet", {}, [], "none").map((r) => r.name)).toEqual(["Heads", "Pump", "none"]);
});

test("filters leave out people and what waits, and fade visits", () => {
  const shown = filteredWeeks(weeks, { skill: "pumps", customer: "orrisk" }, undefined);
  expect(shown.people.map((p) => p.id)).toEqual(["ann"]);
  expect(shown.unplaced).toEqual([]);
  expect(shown.days[0].promised).toEqual([]);
  expect(rowsOf(shown, "person", { customer: "orrisk" }, [], "none")[0].cells[0].chips[0].faded).toBe(true);
});

test("a day sums up those who are shown: who has too much leaves nothing over for others", () => {
  const people = [
    { short: "A. Vale", days: [{ hours: 8, work: 3, skills: ["pumps"] }] },
    { short: "B. Orme", days: [{ hours: 8, work: 12, skills: ["pumps", "wells"] }] },
    { short: "C. Pell", days: [{ hours: 0, work: 0, skills: ["wells"], off: { why: "leave" } }] },
  ];
  expect(sumOf({ people } as unknown as Weeks, 0)).toEqual({
    hours: 16,
    work: 15,
    left: 5,
    leftBy: { pumps: 5, wells: 0 },
    off: [{ name: "C. Pell", off: { why: "leave" } }],
  });
});

test("work over several days is one piece, and comes first on each of them", () => {
  const long = (id: string) => visit(id, { order: "long" });
  const single = (id: string) => visit(id, { order: id });
  const days = [day(single("a"), long("l1")), day(single("b"), long("l2")), day(visit("l3", { order: "long", stage: "withdrawn" }))];
  const three = {
    ...weeks,
    days: ["2026-03-09", "2026-03-10", "2026-03-11"].map((date) => ({ date, promised: [], things: [] })),
    people: [{ ...weeks.people[1], days }],
  } as unknown as Weeks;
  const [row] = rowsOf(three, "person", {}, [], "none");
  expect(row.cells.map((c) => c.chips.map((x) => `${x.before ? "-" : ""}${x.id}${x.after ? "-" : ""}`))).toEqual([["l1-", "a"], ["-l2", "b"], ["l3"]]);
});
