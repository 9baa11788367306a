import { expect, test } from "vitest";
import { daysOn, monthOf, monthsOn, weekOf } from "./span";

test.each([
  ["2026-11-30", 1, "2026-11-30", 7],
  ["2026-12-06", 1, "2026-11-30", 7],
  ["2026-12-01", 2, "2026-11-30", 14],
  ["2027-01-01", 1, "2026-12-28", 7],
])("the week of %s", (date, weeks, from, days) => expect(weekOf(date, weeks)).toEqual({ from, days }));

test.each([
  ["2026-11-15", "2026-10-26", 42],
  ["2027-02-28", "2027-02-01", 28],
  ["2026-12-01", "2026-11-30", 35],
])("the month of %s in whole weeks", (date, from, days) => expect(monthOf(date)).toEqual({ from, days }));

test("days and months on, over the ends of years", () => {
  expect(daysOn("2026-12-31", 1)).toBe("2027-01-01");
  expect(monthsOn("2026-12-31", 1)).toBe("2027-01-01");
  expect(monthsOn("2027-01-31", -1)).toBe("2026-12-01");
});
