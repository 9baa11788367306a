import { describe, expect, it } from "vitest";
import { withCorner } from "./areaLine";

const at = (lat: number, lon: number) => ({ lat, lon });

describe("a corner of an area", () => {
  const square = [at(50, 0), at(50, 2), at(52, 2), at(52, 0)];
  it("goes to the end while there is no area yet", () => {
    expect(withCorner(square.slice(0, 2), at(52, 2))).toEqual(square.slice(0, 3));
  });
  it.each([
    ["the first side", at(49.5, 1), 1],
    ["the second", at(51, 2.5), 2],
    ["the last", at(51, -0.5), 4],
  ])("goes between those of %s that it lies by", (_, p, i) => {
    expect(withCorner(square, p)[i]).toEqual(p);
    expect(withCorner(square, p)).toHaveLength(5);
  });
});
