import { describe, expect, it } from "vitest";
import { setZone } from "../../ui/format";
import { along, bar, gaps, momentAt, scaleOf, secondsOf, snapped } from "./scale";

describe("a day's scale", () => {
  it("is as long as the day is, when the clock changes too", () => {
    setZone("Europe/Dublin");
    expect(scaleOf("2026-11-30").length).toBe(24 * 3600);
    expect(scaleOf("2026-03-29").length).toBe(23 * 3600);
    expect(scaleOf("2026-10-25").length).toBe(25 * 3600);
    setZone("UTC");
  });

  it("places moments, and gives them back", () => {
    const s = scaleOf("2026-11-30");
    expect(along(s, 6 * 3600)).toBe(25);
    expect(along(s, -5)).toBe(0);
    expect(along(s, 1e9)).toBe(100);
    expect(secondsOf(s, momentAt(s, 1234))).toBe(1234);
    expect(bar(s, 0, 12 * 3600)).toEqual({ left: "0%", width: "50%" });
  });

  it("plans on a clock of five minutes", () => {
    expect([299, 300, 449, 451].map(snapped)).toEqual([300, 300, 300, 600]);
  });

  it("tells what is outside of hours", () => {
    const s = scaleOf("2026-11-30");
    expect(gaps(s, [])).toEqual([{ from: 0, to: s.length }]);
    expect(
      gaps(s, [
        { from: 100, to: 200 },
        { from: 200, to: 300 },
      ]),
    ).toEqual([
      { from: 0, to: 100 },
      { from: 300, to: s.length },
    ]);
    expect(gaps(s, [{ from: 0, to: s.length }])).toEqual([]);
  });
});
