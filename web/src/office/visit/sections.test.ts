import { expect, test } from "vitest";
import { settling, visitSections } from "./sections";

test("what settles an exception comes first, in the order of the exceptions, and nothing is shown twice or left out", () => {
  expect(settling(["unsigned", "limits", "changed"]).first).toEqual(["asked", "signatures", "readings"]);
  for (const list of [[], ["late"], ["hazards", "flags"]] as const) {
    const { first, rest } = settling([...list]);
    expect([...first, ...rest].toSorted()).toEqual([...visitSections].toSorted());
  }
});
