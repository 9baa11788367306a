import { describe, expect, it } from "vitest";
import { decimal, isNumber, isPositive, isQuantity, least, sum, sumsByPart, typedNumber } from "./decimal";

describe("what is typed", () => {
  it.each([
    ["2", "2", true, true],
    [" 2,5 ", "2.5", true, true],
    ["2.50", "2.50", true, true],
    [",5", "0.5", true, true],
    ["-,5", "-0.5", true, false],
    ["−3", "-3", true, false],
    ["0", "0", true, true],
    ["0,0000001", "0.0000001", true, false],
    ["1234567890", "1234567890", true, false],
    ["1,234.5", "1.234.5", false, false],
    ["1e3", "1e3", false, false],
    ["0x10", "0x10", false, false],
    ["5.", "5.", false, false],
    ["two", "two", false, false],
    ["", "", false, false],
    ["Infinity", "Infinity", false, false],
  ])("%j", (text, typed, number, quantity) => {
    expect(typedNumber(text)).toBe(typed);
    expect([isNumber(text), isQuantity(text)]).toEqual([number, quantity]);
  });

  it("is positive only when it is more than none", () => {
    expect(["0", "0,0", "-1", "", "0.000001"].map(isPositive)).toEqual([false, false, false, false, true]);
  });
});

describe("decimal", () => {
  it("is exact where floats are not", () => {
    expect(decimal("0.1").plus("0.2").toString()).toBe("0.3");
    expect(sum(Array(10).fill("0.1")).eq(1)).toBe(true);
    expect(decimal("1.1").minus("1").toString()).toBe("0.1");
  });

  it("is written in full, as entries hold it", () => {
    expect(decimal("0.000000001").toString()).toBe("0.000000001");
    expect(decimal("123456789012345").times("1000000000").toString()).toBe("123456789012345000000000");
  });

  it("compares by value", () => {
    expect([least("10", "9.5"), least("2.50", "2.5")]).toEqual(["9.5", "2.50"]);
  });

  it("sums the lines of a part", () => {
    const lines = [
      { part: "b", quantity: "0.1" },
      { part: "a", quantity: "1" },
      { part: "b", quantity: "0.2" },
    ];
    expect(sumsByPart(lines)).toEqual([
      { part: "b", quantity: "0.3" },
      { part: "a", quantity: "1" },
    ]);
  });
});
