import { describe, expect, it } from "vitest";
import type { Part } from "../types";
import { matches } from "./parts";

const seal: Part = { number: "SK-38", name: "Mechanical seal kit 38 mm", category: "Seals", unit: "each", price: "84.50", codes: ["5390001000387"] };

describe("finding a part", () => {
  it.each(["seal", "38 seal", "MECH kit", "sk-38", "seals", "0387", "", "  "])("finds it by %j", (typed) => expect(matches(seal, typed)).toBe(true));
  it.each(["ring", "seal 77", "sk38"])("does not find it by %j", (typed) => expect(matches(seal, typed)).toBe(false));
  it("ignores accents on both sides", () => expect(matches({ ...seal, name: "Joint torique épais" }, "epais")).toBe(true));
});
