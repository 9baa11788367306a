import { describe, expect, it } from "vitest";
import type { WeekHours } from "../types";
import { emptyWeek, openOn, readStretches, weekMinutes, weekOn, weekText, writeStretches } from "./hours";

describe("working hours as they are typed", () => {
  it.each([
    ["8-16:30", "08:00–16:30"],
    ["08:00 – 12:00, 12:30-16:30", "08:00–12:00, 12:30–16:30"],
    ["730-12; 13-17", "07:30–12:00, 13:00–17:00"],
    ["22-6", "22:00–06:00"],
    ["0-24", "00:00–24:00"],
    ["", ""],
    ["24-2", undefined],
    ["8", undefined],
    ["8-9-10", undefined],
    ["8-12, 11-13", undefined],
    ["morning", undefined],
    ["8-25", undefined],
  ])("reads %s", (text, want) => {
    const read = readStretches(text);
    expect(read && writeStretches(read)).toBe(want);
  });

  it("adds a week up, with a night", () => {
    expect(weekMinutes(emptyWeek(""))).toBe(5 * 510);
    expect(weekMinutes({ days: [[{ from: "22:00", to: "06:00" }], [], [], [], [], [], []] as unknown as WeekHours["days"] })).toBe(480);
  });

  it("takes the week that begins last", () => {
    const weeks = [emptyWeek("2026-03-01"), emptyWeek(""), { ...emptyWeek("2026-06-01"), to: "2026-06-30" }];
    expect(weekOn(weeks, "2026-02-28")?.from).toBe("");
    expect(weekOn(weeks, "2026-06-15")?.from).toBe("2026-06-01");
    expect(weekOn(weeks, "2026-07-01")?.from).toBe("2026-03-01");
    expect(weekOn(undefined, "2026-07-01")).toBeUndefined();
  });

  it("writes a week in a line", () => {
    expect(weekText(emptyWeek(""))).toBe("Mon–Fri 08:00–16:30");
    const days = [[], [{ from: "09:00", to: "12:00" }], [{ from: "09:00", to: "12:00" }], [], [{ from: "13:00", to: "17:00" }], [], []];
    expect(weekText({ days: days as unknown as WeekHours["days"] })).toBe("Mon–Tue 09:00–12:00; Thu 13:00–17:00");
  });
});

describe("when a site can be visited", () => {
  const open = [emptyWeek("2026-03-01")];
  it.each([
    ["nothing is said", {}, "2026-03-02", undefined],
    ["on a weekday", { open }, "2026-03-02", "08:00–16:30"],
    ["on a Sunday", { open }, "2026-03-08", ""],
    ["before its hours are known", { open }, "2026-02-27", ""],
    ["closed all day", { open, closed: [{ from: "2026-03-02", to: "2026-03-03" }] }, "2026-03-02", ""],
    ["closed from noon", { open, closed: [{ from: "2026-03-02", to: "2026-03-03", begin: "12:00" }] }, "2026-03-02", "08:00–16:30"],
    ["closed on a day in between", { closed: [{ from: "2026-03-02", to: "2026-03-04", begin: "12:00", end: "09:00" }] }, "2026-03-03", ""],
    ["closed on another day", { closed: [{ from: "2026-03-02", to: "2026-03-02" }] }, "2026-03-03", undefined],
  ])("%s", (_, site, date, want) => {
    const got = openOn(site, date);
    expect(got && writeStretches(got.hours)).toBe(want);
  });
});
