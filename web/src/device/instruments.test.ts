import { describe, expect, it } from "vitest";
import { SimulatedGauge } from "./instruments";

describe("the simulated gauge", () => {
  const gauge = new SimulatedGauge();
  it("shows about what was measured before, as a decimal", async () => {
    const got = await gauge.read("bar", 4.6);
    expect(got.unit).toBe("bar");
    expect(got.value).toMatch(/^-?\d+\.\d\d$/);
    expect(Math.abs(Number(got.value) - 4.6)).toBeLessThan(0.1);
  });
  it("measures where nothing was measured yet", async () => expect(Number((await gauge.read("A")).value)).toBeGreaterThan(0));
  it("says what it measures in", () => expect(gauge.units).toContain("bar"));
});
