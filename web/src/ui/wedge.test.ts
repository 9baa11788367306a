import { describe, expect, it } from "vitest";
import { codeOf, type Key } from "./wedge";

/** Keys as a scanner presses them, some milliseconds apart; stalls are longer before the keys with these numbers. */
function scan(text: string, stalls: Record<number, number> = {}, from = 0): Key[] {
  let at = from;
  return [...text].map((key, i) => {
    at += stalls[i] ?? 8;
    return { key, at };
  });
}

describe("what a scanner says", () => {
  it.each(["7777777777", "4006381333931", "SK-38", "iter:p:SK-38:0042"])("%s is whole, wherever the machine stands still", (code) => {
    for (let i = 1; i < code.length; i++) {
      expect(codeOf(scan(code, { [i]: 300 }))).toBe(code);
      for (let j = i + 1; j < code.length && code.length > 6; j++) expect(codeOf(scan(code, { [i]: 300, [j]: 300 }))).toBe(code);
    }
  });
  it("is told apart from a key that was pressed before it by its check digit", () => {
    expect(codeOf(scan("k4006381333931", { 1: 300 }))).toBe("4006381333931");
    expect(codeOf(scan("994006381333931", { 1: 200, 2: 400 }))).toBe("4006381333931");
  });
  it("is nothing that a person typed, and nothing short", () => {
    expect(codeOf(scan("valve", { 1: 140, 2: 120, 3: 180, 4: 110 }))).toBeUndefined();
    expect(codeOf(scan("abc"))).toBeUndefined();
    expect(codeOf([])).toBeUndefined();
  });
  it("begins with the prefix, at whatever speed and after whatever was typed", () => {
    expect(codeOf(scan("xxB#1234", { 3: 300, 5: 900 }), "B#")).toBe("B#1234");
    expect(codeOf(scan("B#12B#1234"), "B#")).toBe("B#1234");
    expect(codeOf(scan("1234"), "B#")).toBeUndefined();
  });
});
