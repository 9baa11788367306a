import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { clock, dayOrTime, duration, isDate, isoDate, isTime, kilometres, moment, momentOf, setZone, shortDate, time, timeOrDay } from "./format";

beforeEach(() => void vi.useFakeTimers({ now: new Date("2026-07-10T12:00:00Z"), toFake: ["Date"] }));
afterEach(() => void vi.useRealTimers());

describe("times on the company's clock", () => {
  it("finds the moment of a local time, in winter, in summer and on the day the clocks change", () => {
    setZone("Europe/Dublin");
    for (const [date, hm, utc] of [
      ["2026-01-10", "14:00", "2026-01-10T14:00:00.000Z"],
      ["2026-07-10", "14:00", "2026-07-10T13:00:00.000Z"],
      ["2026-03-29", "12:00", "2026-03-29T11:00:00.000Z"],
      ["2026-07-10", "00:10", "2026-07-09T23:10:00.000Z"],
    ]) {
      const m = momentOf(date, hm);
      expect(m.toISOString()).toBe(utc);
      expect([isoDate(m), time(m)]).toEqual([date, hm]);
    }
  });
  it("knows the hour that is not there when the clocks go forward, and what is no date", () => {
    setZone("Europe/Dublin");
    expect([isTime("2026-03-29", "01:30"), isTime("2026-03-29", "02:00"), isTime("2026-10-25", "01:30")]).toEqual([false, true, true]);
    expect([isDate("2026-02-28"), isDate("2026-02-30"), isDate("abc"), isDate(""), isDate(null)]).toEqual([true, false, false, false, false]);
  });
  it("says the year of a date in another one", () => {
    setZone("Europe/Dublin");
    expect([shortDate("2026-01-05T12:00:00Z"), shortDate("2027-01-05T12:00:00Z")]).toEqual(["Mon 5 Jan", "Tue, 5 Jan 2027"]);
  });
  it("keeps to the browser's zone when it does not know the company's", () => {
    setZone("Coast/Nowhere");
    expect(time(new Date(2026, 0, 1, 9, 5))).toBe("09:05");
  });
  it("writes durations and clocks", () => {
    expect([duration(0), duration(59 * 60), duration(3900), duration(86_400)]).toEqual(["0 min", "59 min", "1 h 05", "24 h 00"]);
    expect([clock(-3), clock(59), clock(3_661)]).toEqual(["0:00:00", "0:00:59", "1:01:01"]);
  });
});

describe("where there is little room", () => {
  it("says the time today, and the day otherwise", () => {
    setZone("Europe/Dublin");
    const now = "2026-07-10T12:00:00Z";
    expect([dayOrTime("2026-07-10T08:05:00Z", now), dayOrTime("2026-07-09T08:05:00Z", now)]).toEqual(["09:05", "Thu 9 Jul"]);
    expect([timeOrDay("2026-07-10T08:05:00Z", now), timeOrDay("2026-07-09T08:05:00Z", now)]).toEqual(["09:05", "Thu 9 Jul 09:05"]);
    expect(isoDate("2026-07-09T23:30:00Z"), "past midnight on the company's clock").toBe("2026-07-10");
  });
});

describe("moments that are sent", () => {
  it("are on the company's clock, and fall on its date", () => {
    setZone("Europe/Dublin");
    expect(moment("2026-03-10T23:30:05.007Z")).toBe("2026-03-10T23:30:05.007+00:00");
    expect(moment("2026-07-10T23:30:05Z")).toBe("2026-07-11T00:30:05.000+01:00");
    expect(moment(momentOf("2026-03-29", "01:30"))).toMatch(/^2026-03-29T0[02]:30/); // that hour is not there
    setZone("America/St_Johns");
    expect(moment("2026-07-10T01:00:00Z")).toBe("2026-07-09T22:30:00.000-02:30");
  });
  it("ways are in kilometres", () => {
    expect([940, 9949, 9950, 23_400].map(kilometres)).toEqual(["0.9 km", "9.9 km", "10 km", "23 km"]);
  });
});
