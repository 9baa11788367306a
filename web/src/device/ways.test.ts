import { expect, it } from "vitest";
import { isNewer } from "./ways";

it("tells a place that is newer than the ways from one that no road reaches, and from a firm without roads", () => {
  const ways = { rev: "r", source: "Made up", places: [{ lat: 50, lon: -5 }], pieces: [], known: [] };
  expect(isNewer(ways, { lat: 50, lon: -5 })).toBe(false);
  expect(isNewer(ways, { lat: 50.00001, lon: -5 })).toBe(true);
  expect(isNewer(undefined, { lat: 51, lon: -5 })).toBe(false);
});
