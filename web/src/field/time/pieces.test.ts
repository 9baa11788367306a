import { describe, expect, test } from "vitest";
import type { Piece } from "../../types";
import { setZone } from "../../ui/format";
import { byDate, change, endDate } from "./pieces";

const at = (hm: string) => `2026-03-10T${hm}:00.000+00:00`;
const work = (start: string, end: string): Piece => ({ kind: "work", visit: "A", start: at(start), end: at(end) });
const show = (pieces: Piece[]) => pieces.map((p) => `${p.start.slice(11, 16)}-${p.end.slice(11, 16)} ${p.kind}`);

describe("a span that is changed", () => {
  const old = { start: at("08:00"), end: at("10:00") };
  test.each([
    ["shorter at its end", work("08:00", "09:30"), ["08:00-09:30 work", "09:30-10:00 off"]],
    ["shorter at both ends", work("08:30", "09:30"), ["08:00-08:30 off", "08:30-09:30 work", "09:30-10:00 off"]],
    ["longer", work("07:30", "10:30"), ["07:30-10:30 work"]],
    ["moved over its end", work("09:00", "11:00"), ["08:00-09:00 off", "09:00-11:00 work"]],
    ["moved away", work("12:00", "14:00"), ["08:00-10:00 off", "12:00-14:00 work"]],
    ["moved away, before", work("05:00", "07:00"), ["05:00-07:00 work", "08:00-10:00 off"]],
  ])("%s", (_, piece, want) => expect(show(change(old, piece))).toEqual(want));
  test("one that is added is itself", () => expect(show(change(undefined, work("08:00", "09:00")))).toEqual(["08:00-09:00 work"]));
});

describe("work at night", () => {
  test("ends on the next date when its end is not after its beginning", () => {
    expect([endDate("2026-03-10", "22:00", "01:00"), endDate("2026-03-10", "08:00", "17:00"), endDate("2026-03-10", "22:00", "22:00")]).toEqual([
      "2026-03-11",
      "2026-03-10",
      "2026-03-11",
    ]);
  });
  test("is one piece on each of its dates", () => {
    setZone("Europe/Dublin");
    const night: Piece = { kind: "work", visit: "A", start: at("22:00"), end: "2026-03-11T01:00:00.000+00:00" };
    expect(byDate([work("08:00", "09:00"), night]).map(([date, pieces]) => [date, show(pieces)])).toEqual([
      ["2026-03-10", ["08:00-09:00 work", "22:00-00:00 work"]],
      ["2026-03-11", ["00:00-01:00 work"]],
    ]);
    const until: Piece = { ...night, end: "2026-03-11T00:00:00.000+00:00" };
    expect(
      byDate([until]).map(([date]) => date),
      "until midnight it is on one",
    ).toEqual(["2026-03-10"]);
  });
});
