import { describe, expect, test } from "vitest";
import type { Part } from "../types";
import { Catalogue, type Item, kitItem, matches, nameOf, partItem } from "./catalogue";
import { slipsBetween } from "./wordIndex";

const part = (number: string, name: string, more: Partial<Part> = {}): Item => partItem(number, { number, name, unit: "each", price: "1", ...more } as Part);
const items = [
  part("SK-38-EP", "Mechanical seal 38 mm", { category: "Seals", codes: ["4006381333931"], names: ["Gleitringdichtung"] }),
  part("SK-38-VI", "Mechanical seal 38 mm Viton", { category: "Seals" }),
  part("OR-072", "O-ring EPDM 72", { category: "Seals" }),
  part("MT-2200", "Motor 2.2 kW", { category: "Drives" }),
  part("OLD-1", "Seal of old", { category: "Seals", retired: true, codes: ["77"] }),
  kitItem("SK-KIT", { number: "SK-KIT", name: "Seal kit 38 mm", price: "90", parts: [] }),
];
const catalogue = new Catalogue(items, (codes) => codes.map((c) => c.toUpperCase()));
const found = (text: string, more = {}) => catalogue.find(text, more).map((i) => i.id);

test.each([
  ["seal 38", ["SK-38-EP", "SK-38-VI", "SK-KIT"]],
  ["38 seal mech", ["SK-38-EP", "SK-38-VI"]],
  ["mecanical saeal", ["SK-38-EP", "SK-38-VI"]],
  ["8-vi", ["SK-38-VI"]],
  ["sk38ep", ["SK-38-EP"]],
  ["2200", ["MT-2200"]],
  ["gleitring", ["SK-38-EP"]],
  ["SÉAL viton", ["SK-38-VI"]],
  ["drives", ["MT-2200"]],
  ["submarine", []],
])("%s", (text, want) => {
  expect(found(text).sort()).toEqual([...want].sort());
});

test.each([
  ["seal", "seal", 0],
  ["saal", "seals", 1],
  ["mecan", "mechanical", 1],
  ["motor", "pump", 2],
  ["sael", "seal", 2],
])("%s for %s", (word, other, want) => {
  expect(slipsBetween(word, other, want === 2 && word === "motor" ? 1 : 2)).toBe(want);
});

test("a category narrows, and what usually comes first does", () => {
  expect(found("", { category: "Drives" })).toEqual(["MT-2200"]);
  expect(found("", { first: ["part MT-2200", "part OR-072"] }).slice(0, 2)).toEqual(["MT-2200", "OR-072"]);
  expect(found("seal 38", { first: ["part SK-38-VI"] })[0]).toBe("SK-38-VI");
  expect(found("seal")).not.toContain("OLD-1");
});

test("labels find parts, retired ones too", () => {
  expect(catalogue.withCode("4006381333931").map(nameOf)).toEqual(["Mechanical seal 38 mm"]);
  expect(catalogue.withCode("OR-072").map((i) => i.id)).toEqual(["OR-072"]);
  expect(catalogue.withCode("77").map((i) => i.id)).toEqual(["OLD-1"]);
  expect(catalogue.withCode("99")).toEqual([]);
});

describe("one part", () => {
  const seal: Part = { number: "SK-38", name: "Mechanical seal kit 38 mm", category: "Seals", unit: "each", price: "84.50", codes: ["5390001000387"] };
  test.each(["seal", "38 seal", "MECH kit", "sk-38", "seals", "0387", "", "  "])("matches %j", (typed) => expect(matches(seal, typed)).toBe(true));
  test.each(["ring", "seal 77", "sk38"])("does not match %j", (typed) => expect(matches(seal, typed)).toBe(false));
  test("whatever the accents", () => expect(matches({ ...seal, name: "Joint torique épais" }, "epais")).toBe(true));
});
