/** Quantities, labels and the catalogue with the real core. */
import { beforeAll, describe, expect, it } from "vitest";
import { Catalogue, kitItem, partItem } from "../../catalogue/catalogue";
import { core } from "../../device/core";
import { loadRealCore } from "../../device/realCore";
import type { Part } from "../../types";
import { say } from "../../words/i18n";
import { inUnit, readCode } from "./useBasket";

const hose: Part = { number: "TU-06", name: "Dosing tube", unit: "m", price: "2.10", packs: [{ name: "coil", size: "25" }] };
const seal: Part = { number: "SK-38", name: "Mechanical seal", unit: "each", price: "84.50", codes: ["036000291452"], packs: [{ name: "box", size: "10" }] };
const old: Part = { number: "SK-35", name: "Seal of old", unit: "each", price: "80", codes: ["4006381333931"], retired: true, replacedBy: "SK-38" };

beforeAll(loadRealCore);

describe("a quantity", () => {
  it.each([
    [hose, "2", "m", "2"],
    [hose, "2,5", "m", "2.5"],
    [hose, " 2 ", "coil", "50"],
    [hose, "50", "cm", "0.5"],
    [seal, "3", "box", "30"],
  ])("%#: is in the part's own unit", (of, quantity, unit, want) => expect(inUnit({ of, quantity, unit }).quantity).toBe(want));
  it.each([
    [hose, "2", "kg", "Dosing tube is not sold by kg, but by m."],
    [seal, "0.5", "each", "0.5 each of Mechanical seal: there is no part of one."],
  ])("%#: or why not", (of, quantity, unit, why) => {
    const { problem } = inUnit({ of, quantity, unit });
    expect(problem && say(problem)).toBe(why);
  });
  it.each(["", "two", "-1", "1e9", "0", "1234567890", "1.2345678"])("%j is none", (quantity) => {
    expect(inUnit({ of: seal, quantity, unit: "each" }).problem).toBeDefined();
  });
  it("may be in these units", () => expect(core("units", hose).units.slice(0, 2)).toEqual(["m", "coil"]));
});

describe("a label", () => {
  const catalogue = () =>
    new Catalogue(
      [
        partItem("SK-38", seal),
        partItem("SK-35", old),
        partItem("TU-06", hose),
        kitItem("SK-38", { number: "K-SEAL", name: "Seal kit", price: "148", parts: [] }),
      ],
      (codes) => core("codes", { codes }),
    );
  const found = (text: string) => {
    const code = readCode(text);
    return (
      code &&
      catalogue()
        .withCode(code.key)
        .map((i) => i.key)
    );
  };
  it.each([
    ["a label of our own", "ITER-P/TU-06", ["part TU-06"]],
    ["a number, in small letters", "tu-06", ["part TU-06"]],
    ["a UPC as an EAN", "0036000291452", ["part SK-38"]],
    ["a GTIN in a square of a maker", "]d20100036000291452", ["part SK-38"]],
    ["what is retired", "4006381333931", ["part SK-35"]],
    ["a part and a kit with one id", "SK-38", ["part SK-38", "kit SK-38"]],
    ["what nobody knows", "7777777777", []],
  ])("%s", (_, text, want) => expect(found(text)).toEqual(want));
  it.each(["", "\u0000", "x".repeat(300)])("%j says nothing", (text) => expect(readCode(text)).toBeUndefined());
  it("may say the serial number too", () => expect(readCode("]d2010003600029145221S-77")?.serial).toBe("S-77"));
});
