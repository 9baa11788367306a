import { expect, test } from "vitest";
import type { Board, Handed } from "../../types";
import { givenEntries, withoutHelper } from "./giving";

const scale = { begin: Date.parse("2026-03-10T00:00:00Z"), length: 86_400 };
const visit = (id: string, more: object = {}) => ({ id, stage: "sent", start: "2026-03-10T09:00:00Z", minutes: 90, ...more });
const board = {
  people: [
    {
      id: "ann",
      visits: [visit("v1"), visit("begun", { stage: "on_site" }), visit("long", { start: "2026-03-09T09:00:00Z" }), visit("v2", { helpers: ["ben", "cat"] })],
    },
    { id: "ben", visits: [], helps: [{ visit: "v2" }, { visit: "begun" }] },
  ],
  plan: { wants: [{ id: "o1", length: 3600 }] },
} as unknown as Board;
const fitOf = (lane: string, begin: number, ...why: string[]) => ({ lane, begin, why: why.map((code) => ({ code })) }) as unknown as Handed["fit"];

test("visits are moved and work is planned as it was proposed, with what it goes against", () => {
  const entries = givenEntries(
    [
      { id: "v1", fit: fitOf("ben", 36_000, "fit.late", "fit.knows") },
      { id: "o1", fit: fitOf("ben", 43_200) },
      { id: "v2" }, // nobody can
      { id: "v2", fit: fitOf("ann", 32_400) }, // it stays
      { id: "begun", fit: fitOf("ben", 36_000) },
      { id: "long", fit: fitOf("ben", 36_000) },
      { id: "elsewhere", fit: fitOf("ben", 36_000) },
    ],
    "The inspector comes along",
    board,
    scale,
    (what) => `id of ${what}`,
  );
  expect(entries.map((e) => [e.kind, e.subject.id])).toEqual([
    ["visit.moved", "v1"],
    ["visit.planned", "id of visit of o1"],
  ]);
  expect(entries[0].body).toMatchObject({ technician: "ben", minutes: 90, against: { warned: [{ code: "fit.late" }], why: "The inspector comes along" } });
  expect(entries[1].body).toMatchObject({ order: "o1", technician: "ben", minutes: 60 });
});

test("somebody who is off comes along on nothing that has not begun", () => {
  const [ben] = board.people.filter((p) => p.id === "ben");
  expect(withoutHelper(ben, board)).toEqual([
    { kind: "visit.moved", subject: { type: "visit", id: "v2" }, body: { technician: "ann", start: "2026-03-10T09:00:00Z", minutes: 90, helpers: ["cat"] } },
  ]);
});
