import { describe, expect, it } from "vitest";
import type { BoardPerson, BoardVisit } from "../../types";
import { setZone } from "../../ui/format";
import { scaleOf } from "./scale";
import { drawnAt, graveOf, loadOf, rowsOf } from "./stops";

setZone("UTC");
const day = scaleOf("2026-11-30");
const at = (hm: string) => `2026-11-30T${hm}:00Z`;
const seconds = (hm: string) => (Date.parse(at(hm)) - day.begin) / 1000;
const visit = (more: Partial<BoardVisit>): BoardVisit =>
  ({ id: "v", number: "1", site: "Well", problem: "", stage: "sent", since: at("08:00"), start: at("10:00"), minutes: 60, flags: 0, ...more }) as BoardVisit;
const drive = (arrive: string) => ({ setOff: at("09:00"), arrive: at(arrive), seconds: 600, metres: 9000 });

describe("where a visit is drawn", () => {
  it.each<[string, Partial<BoardVisit>, string, string, string?]>([
    ["as planned", {}, "10:00", "11:00"],
    ["a little off its plan: as planned", { drive: drive("10:04") }, "10:00", "11:00"],
    ["expected later", { drive: drive("10:40") }, "10:40", "11:40", "10:00"],
    ["there since", { stage: "on_site", arrived: at("10:10") }, "10:10", "12:00", "10:00"],
    ["longer than planned: until now", { stage: "on_site", arrived: at("10:00") }, "10:00", "12:00"],
    ["over", { stage: "finished", arrived: at("10:10"), ended: at("10:50") }, "10:10", "10:50"],
    ["over at once: wide enough to be seen", { stage: "finished", arrived: at("10:10"), ended: at("10:12") }, "10:10", "10:25"],
  ])("%s", (_, more, from, to, planned) => {
    const d = drawnAt(visit(more), day, seconds("12:00"));
    expect([d.from, d.to, d.planned]).toEqual([seconds(from), seconds(to), planned && seconds(planned)]);
  });

  it("tells how much is done", () => {
    expect(drawnAt(visit({}), day, seconds("12:00")).done).toBe(0);
    expect(drawnAt(visit({ arrived: at("10:00") }), day, seconds("10:30")).done).toBe(0.5);
    expect(drawnAt(visit({ arrived: at("10:00"), ended: at("10:05") }), day, seconds("12:00")).done).toBe(1);
  });
});

it("puts what lies over another on a row of its own, and what was withdrawn where there is place", () => {
  const lane = rowsOf([
    { id: "gone", from: 9, to: 12, past: true },
    { id: "second", from: 10, to: 13 },
    { id: "first", from: 8, to: 10 },
    { id: "beside", from: 11, to: 12 },
    { id: "early", from: 6, to: 8, past: true },
  ]);
  expect(["first", "second", "beside", "early", "gone"].map(lane.rowOf)).toEqual([0, 0, 1, 0, 2]);
  expect(lane.style).toEqual({ "--rows": 3 });
  expect(rowsOf([]).style).toEqual({ "--rows": 1 });
});

it("counts work, driving and helping against somebody's hours", () => {
  const p = {
    visits: [visit({ drive: drive("10:00") })],
    helps: [{ minutes: 30 }],
    hours: [
      { begin: at("08:00"), end: at("12:00") },
      { begin: at("12:30"), end: at("16:30") },
    ],
  } as BoardPerson;
  expect(loadOf(p)).toEqual({ work: 3600 + 600 + 1800, hours: 8 * 3600 });
});

it("asks why of what is grave alone", () => {
  expect(graveOf([{ code: "fit.knows" }, { code: "fit.skill" }, { code: "fit.after" }])).toEqual([{ code: "fit.skill" }]);
});
