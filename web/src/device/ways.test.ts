import { expect, it } from "vitest";
import { whyNoWay } from "./ways";

it("tells a place that is newer than the ways, or one stop too many, from one that no road reaches, and from a firm without roads", () => {
  const ways = { rev: "r", source: "Made up", places: [{ lat: 50, lon: -5 }], left: [{ lat: 52, lon: -5 }], pieces: [], known: [] };
  expect(whyNoWay(ways, { lat: 50, lon: -5 })).toBeUndefined();
  expect(whyNoWay(ways, { lat: 50.00001, lon: -5 })).toBe("newer");
  expect(whyNoWay(ways, { lat: 52, lon: -5 })).toBe("tooMany");
  expect(whyNoWay(undefined, { lat: 51, lon: -5 })).toBeUndefined();
});
