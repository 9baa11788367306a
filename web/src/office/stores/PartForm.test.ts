import { describe, expect, it } from "vitest";
import type { Part } from "../../types";
import { formOf, partOf } from "./PartForm";

const seal: Part = {
  number: "SK-38",
  name: "Mechanical seal",
  names: ["face seal"],
  category: "Seals",
  unit: "each",
  packs: [{ name: "box", size: "10" }],
  price: "84.50",
  cost: "52",
  codes: ["5390001000387"],
  serial: true,
  warranty: 24,
  supplier: "harbour",
};

describe("the form of a part", () => {
  it("says the part it was filled in from", () => expect(partOf(formOf(seal))).toMatchObject({ ...seal, serial: true, retired: null }));
  it("of a new part says what was typed", () => {
    const form = { ...formOf(undefined), number: " ZZ-1 ", name: "Float", price: "19,50", packs: "box=4\n\nset = 2,5" };
    expect(partOf(form)).toMatchObject({
      number: "ZZ-1",
      name: "Float",
      price: "19.50",
      packs: [
        { name: "box", size: "4" },
        { name: "set", size: "2.5" },
      ],
      supplier: null,
    });
  });
  it.each([
    ["a price", { price: "cheap" }],
    ["a cost below zero", { cost: "-1" }],
    ["a pack without a size", { packs: "box" }],
    ["a pack of some", { packs: "box=some" }],
    ["a warranty", { warranty: "long" }],
  ])("says nothing while %s is no number", (_, change) => expect(partOf({ ...formOf(seal), ...change })).toBeUndefined());
});
