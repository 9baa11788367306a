import { describe, expect, it } from "vitest";
import type { PurchaseMade, RequestRef } from "../../types";
import { quantity } from "../../ui/format";
import { purchasesOf, sum, type ToBuy } from "./buy";
import { sumLines } from "./lines";
import { needsFine } from "./NeedsField";
import { serve } from "./Purchases";

describe("adding decimals", () => {
  it.each([
    ["0.1", "0.2", "0.3"],
    ["1", "2", "3"],
    ["0.05", "12", "12.05"],
    ["9.99", "0.01", "10.00"],
    ["0", "0.000001", "0.000001"],
  ])("%s and %s", (a, b, want) => expect(sum(a, b)).toBe(want));
});

describe("orders to suppliers", () => {
  const buy = (part: string, supplier: string, quantity: string, request?: string): ToBuy => ({
    part,
    supplier,
    quantity,
    cost: "6",
    request: request ? { id: request, order: `W-${request}` } : undefined,
  });
  it("are one for each supplier, with each part once", () => {
    const orders = purchasesOf([buy("P1", "harbour", "2", "r1"), buy("P2", "tarn", "1", "r2"), buy("P1", "harbour", "0.5", "r3")], "store", (s) => s);
    const bodies = orders.map((o) => o.body as PurchaseMade);
    expect(bodies.map((b) => [b.supplier, b.lines.map((l) => `${l.quantity} ${l.part}`).join()])).toEqual([
      ["harbour", "2.5 P1"],
      ["tarn", "1 P2"],
    ]);
    expect(bodies[0].lines[0].requests).toEqual([
      { request: "r1", order: "W-r1", quantity: "2" },
      { request: "r3", order: "W-r3", quantity: "0.5" },
    ]);
    expect(new Set(orders.map((o) => o.subject.id)).size).toBe(2);
  });
  it("are none of nothing", () => expect(purchasesOf([], "store", (s) => s)).toEqual([]));
});

describe("what came of an order", () => {
  const asked: RequestRef[] = [
    { request: "a", order: "W1", quantity: "2" },
    { request: "b", order: "W2", quantity: "3" },
  ];
  it.each([
    ["0", "5", ["a", "b"]],
    ["0", "4", ["a"]],
    ["0", "1", []],
    ["2", "3", ["b"]],
    ["1", "1", ["a"]],
    ["5", "5", []],
  ])("%s before, %s now", (before, came, want) => expect(serve(asked, before, came).map((r) => r.request)).toEqual(want));
});

it("lines are added up by part", () => {
  const lines = [
    { part: "P", quantity: "1", order: "W1" },
    { part: "Q", quantity: "0.5" },
    { part: "P", quantity: "2", order: "W2" },
  ];
  expect(sumLines(lines)).toEqual([
    { part: "P", quantity: "3" },
    { part: "Q", quantity: "0.5" },
  ]);
});

describe("planned parts", () => {
  it.each([
    ["1", true],
    ["2,5", true],
    [" 3 ", true],
    ["0", false],
    ["", false],
    ["-1", false],
    ["many", false],
  ])("%j is a quantity: %s", (quantity, fine) => expect(needsFine([{ part: "P1", quantity }])).toBe(fine));
  it("may be none", () => expect(needsFine([])).toBe(true));
});

describe("a quantity", () => {
  it.each([
    ["3", "each", "3"],
    ["2.5", "m", "2.5 m"],
    ["4", "", "4"],
    [7, undefined, "7"],
  ])("%s %s", (q, unit, want) => expect(quantity(q, unit)).toBe(want));
});
