import { describe, expect, it } from "vitest";
import { isOutside, isSwapped, readPlace, written } from "./position";

const coast = { rev: "r", at: "", source: "", sea: true, west: -9.5, south: 54.6, east: -8.9, north: 55, least: 3, most: 13 };

describe("a place in words", () => {
  it.each([
    ["54.812, -9.214", { lat: 54.812, lon: -9.214 }],
    [" 54.812 -9.214 ", { lat: 54.812, lon: -9.214 }],
    ["54.8123456;-9.2", { lat: 54.81235, lon: -9.2 }],
    ["0, 0", undefined],
    ["91, 4", undefined],
    ["54.8", undefined],
    ["Slip Lane 4", undefined],
  ])("reads %s", (text, place) => expect(readPlace(text)).toEqual(place));

  it("reads what it writes", () => expect(readPlace(written({ lat: -3.5, lon: 170.25 }))).toEqual({ lat: -3.5, lon: 170.25 }));

  it("tells degrees that are swapped from a place that is elsewhere", () => {
    expect(isSwapped({ lat: -9.2, lon: 54.8 }, coast)).toBe(true);
    expect(isSwapped({ lat: 48, lon: 11 }, coast)).toBe(false);
    expect(isOutside({ lat: 48, lon: 11 }, coast)).toBe(true);
    expect(isOutside({ lat: 48, lon: 11 }, undefined)).toBe(false);
  });
});
