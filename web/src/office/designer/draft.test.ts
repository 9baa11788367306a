import { describe, expect, it } from "vitest";
import type { Sheet } from "../../types";
import { idOf, moved, questionsOf, renamed, withQuestion, withSection } from "./draft";

const sheet: Sheet = {
  id: "s",
  version: 1,
  title: "S",
  sections: [
    {
      title: "A",
      questions: [
        { id: "low", kind: "number", text: "Low" },
        { id: "high", kind: "number", text: "High", compare: [{ is: "above", question: "low" }], showIf: { tests: [{ question: "low", is: "answered" }] } },
        { id: "span", kind: "computed", text: "Span", formula: "high - low + lowest", requireIf: { tests: [{ question: "low", is: "above", value: "1" }] } },
      ],
    },
    { title: "B", showIf: { any: true, tests: [{ question: "low", is: "empty" }] }, questions: [{ id: "fit", kind: "part", text: "Fit", quantity: "low" }] },
  ],
};

const order = (s: Sheet) => s.sections.map((x) => x.questions.map((q) => q.id).join(" "));

describe("a name made of words", () => {
  it.each([
    ["Seal dry?", [], "seal_dry"],
    ["  Wo läuft es? ", [], "wo_lauft_es"],
    ["2nd pump", [], "nd_pump"],
    ["???", [], "question"],
    ["Seal", ["seal"], "seal_2"],
    ["Seal", ["seal", "seal_2", "seal_3"], "seal_4"],
    ["A very long question that nobody reads to its end", [], "a_very_long_question_that_nobo"],
  ])("%j is called so", (text, taken, want) => expect(idOf(text as string, taken as string[])).toBe(want));
  it("is one that formulas can read", () => {
    for (const text of ["Ø 50 mm", "_x_", "Ärger / Δp", "9", "L1–L2"]) expect(idOf(text, [])).toMatch(/^[a-z][a-z0-9_]*$/);
  });
});

describe("moving a question", () => {
  it.each([
    ["span", { section: 0, before: "low" }, ["span low high", "fit"]],
    ["low", { section: 0, before: "span" }, ["high low span", "fit"]],
    ["low", { section: 0 }, ["high span low", "fit"]],
    ["high", { section: 1, before: "fit" }, ["low span", "high fit"]],
    ["fit", { section: 0, before: "high" }, ["low fit high span", ""]],
    ["fit", { section: 1 }, ["low high span", "fit"]],
    ["low", { section: 0, before: "low" }, ["low high span", "fit"]],
    ["gone", { section: 0 }, ["low high span", "fit"]],
    ["low", { section: 1, before: "gone" }, ["high span", "fit low"]],
  ])("%s to %j", (id, to, want) => expect(order(moved(sheet, id as string, to as { section: number; before?: string }))).toEqual(want));
  it("leaves what it was given as it was", () => {
    const before = JSON.stringify(sheet);
    moved(sheet, "low", { section: 1 });
    expect(JSON.stringify(sheet)).toBe(before);
  });
});

describe("giving a question another name", () => {
  const after = renamed(sheet, "low", "least");
  const question = (id: string) => questionsOf(after).find((q) => q.id === id)!;
  it("changes the question", () => expect(order(after)).toEqual(["least high span", "fit"]));
  it("changes what it is compared with", () => expect(question("high").compare).toEqual([{ is: "above", question: "least" }]));
  it("changes conditions", () => {
    expect(question("high").showIf?.tests[0].question).toBe("least");
    expect(question("span").requireIf?.tests[0].question).toBe("least");
    expect(after.sections[1].showIf).toEqual({ any: true, tests: [{ question: "least", is: "empty" }] });
  });
  it("changes formulas, whole words only", () => expect(question("span").formula).toBe("high - least + lowest"));
  it("changes quantities", () => expect(question("fit").quantity).toBe("least"));
});

describe("changing a part", () => {
  it("changes one question", () =>
    expect(questionsOf(withQuestion(sheet, "high", (q) => ({ ...q, text: "Top" }))).map((q) => q.text)).toEqual(["Low", "Top", "Span", "Fit"]));
  it("changes one section", () => expect(withSection(sheet, 1, (x) => ({ ...x, title: "Z" })).sections.map((x) => x.title)).toEqual(["A", "Z"]));
});
