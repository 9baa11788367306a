import { describe, expect, it } from "vitest";
import { apart, spread } from "./spread";

describe("marks on a map", () => {
  it("stay where they are when they are far enough apart", () => {
    expect(
      spread([
        { x: 0, y: 0 },
        { x: 40, y: 0 },
        { x: 0, y: 33 },
      ]),
    ).toEqual([
      { x: 0, y: 0 },
      { x: 0, y: 0 },
      { x: 0, y: 0 },
    ]);
  });
  it("move aside, each far enough from all others", () => {
    const points = Array.from({ length: 30 }, (_, i) => ({ x: (i * 7) % 50, y: (i * 13) % 40 }));
    const at = spread(points).map((d, i) => ({ x: points[i].x + d.x, y: points[i].y + d.y }));
    for (const [i, a] of at.entries()) for (const b of at.slice(0, i)) expect(Math.max(Math.abs(a.x - b.x), Math.abs(a.y - b.y))).toBeGreaterThanOrEqual(apart);
    expect(spread(points)[0]).toEqual({ x: 0, y: 0 });
  });
  it("come to rest wherever they lie between pixels", () => {
    for (let seed = 1; seed < 400; seed++) {
      const points = Array.from({ length: 40 }, (_, i) => ({ x: ((i * 7919 * seed) % 9973) / 97 + 1 / seed, y: ((i * 104729 * seed) % 9967) / 131 }));
      const at = spread(points).map((d, i) => points[i].x + d.x);
      expect(at.every(Number.isFinite)).toBe(true);
    }
  });
  it("stay where they are when there are too many", () => {
    expect(spread(Array.from({ length: 500 }, () => ({ x: 1, y: 1 }))).every((d) => d.x === 0)).toBe(true);
  });
});
