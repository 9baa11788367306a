import { describe, expect, it } from "vitest";
import { comparisons } from "../office/designer/Rules";
import type { Question, Sheet } from "../types";
import { findQuestion, keyOf, placeOf } from "./source";

const q = (id: string, kind: Question["kind"] = "text"): Question => ({ id, kind, text: id });
const sheet: Sheet = {
  id: "s",
  version: 1,
  title: "S",
  sections: [
    { title: "A", questions: [q("a")] },
    { title: "B", questions: [q("b")] },
  ],
};

describe("questions of a sheet", () => {
  it("are found in any section", () =>
    expect([findQuestion(sheet, "a")?.id, findQuestion(sheet, "b")?.id, findQuestion(sheet, "c")]).toEqual(["a", "b", undefined]));
  it("have a key of their own for each item", () => expect([keyOf("a"), keyOf("a", ""), keyOf("a", "r1")]).toEqual(["a", "a", "a@r1"]));
  it("have a place on the page that a selector can name", () => expect(placeOf("a", "r1")).toMatch(/^[a-z][\w-]*$/));
});

describe("how answers can be compared", () => {
  it.each([
    ["yesno", "is", "above"],
    ["choice", "is_not", "has"],
    ["several", "has", "is"],
    ["number", "at_least", "has"],
    ["date", "below", "has"],
    ["photo", "at_least", "is"],
    ["text", "is", "above"],
    ["signature", "answered", "is"],
  ] as const)("%s: %s, but not %s", (kind, yes, no) => {
    expect(comparisons(q("x", kind))).toContain(yes);
    expect(comparisons(q("x", kind))).not.toContain(no);
  });
  it("always has answered and not answered", () => {
    for (const kind of ["yesno", "area", "part", "scan", "signature", "computed", "reading"] as const)
      expect(comparisons(q("x", kind))).toEqual(expect.arrayContaining(["answered", "empty"]));
  });
});
