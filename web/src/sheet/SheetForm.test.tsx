import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { AnswerLine, Question, Section, SectionState, SheetItem, SheetProgress } from "../types";
import "../words/i18n";
import { SheetForm } from "./SheetForm";
import { type SheetSource, SheetSourceProvider } from "./source";

const empty: SheetProgress = { sheet: "s@1", title: "S", answered: 0, total: 0, missing: [], blocks: [], alerts: [] };

/** Renders a form of one section, as the core says it stands. */
function form(section: Section, lines: AnswerLine[], more: Partial<SheetSource> & { progress?: Partial<SheetProgress>; shown?: Partial<SectionState> } = {}) {
  const { progress, shown, ...rest } = more;
  const source: SheetSource = {
    name: "S",
    sheet: { id: "s", version: 1, title: "S", sections: [section] },
    state: { ...empty, sections: [{ index: 0, ...shown }], lines, ...progress },
    answers: {},
    currency: "EUR",
    areas: {},
    answer: async () => true,
    repeat: async () => {},
    copy: async () => true,
    catalogue: async () => ({ parts: [], kits: [] }),
    photos: (q, item) => <i>{`photos of ${q.id} ${item ?? ""}`.trim()}</i>,
    reading: (q, line) => <i>{`reading ${q.point} of ${line.asset}`}</i>,
    strike: () => <i>strike</i>,
    strikeItem: () => <i>strike item</i>,
    paper: (q) => <i>{`paper of ${q.id}`}</i>,
    ...rest,
  };
  return renderToStaticMarkup(
    <SheetSourceProvider value={source}>
      <SheetForm />
    </SheetSourceProvider>,
  );
}

const ask = (q: Partial<Question>): Section => ({ title: "A", questions: [{ id: "q", kind: "text", text: "The question", ...q }] });

describe("a question", () => {
  it("that the core does not show is not there", () => {
    const html = form(
      {
        title: "A",
        questions: [
          { id: "a", kind: "text", text: "Shown" },
          { id: "b", kind: "text", text: "Hidden" },
        ],
      },
      [{ question: "a" }],
    );
    expect(html).toContain("Shown");
    expect(html).not.toContain("Hidden");
  });
  it("says that it must be answered, until it is", () => {
    expect(form(ask({ kind: "yesno" }), [{ question: "q", required: true }])).toContain("required");
    expect(form(ask({ kind: "yesno" }), [{ question: "q", required: true, value: "no" }])).not.toContain("required");
  });
  it("shows which options are chosen", () => {
    const options = ["a", "b", "c"].map((id) => ({ id, text: `Option ${id}` }));
    const pressed = (html: string) => [...html.matchAll(/aria-pressed="(true|false)"/g)].map((m) => m[1]);
    expect(pressed(form(ask({ kind: "choice", options }), [{ question: "q", value: "b" }]))).toEqual(["false", "true", "false"]);
    expect(pressed(form(ask({ kind: "several", options }), [{ question: "q", value: "a,c" }]))).toEqual(["true", "false", "true"]);
    expect(pressed(form(ask({ kind: "yesno" }), [{ question: "q" }]))).toEqual(["false", "false"]);
  });
  it("says what is wrong with its answer, and that it is as on record", () => {
    const html = form(ask({ kind: "number" }), [
      { question: "q", value: "3", known: true, problem: { code: "answer.compare_above", args: { question: "Low" } } },
    ]);
    expect(html).toContain("Must be above the answer to “Low”.");
    expect(html).toContain("As it is on record");
  });
  it("of a newer program is readable, with what was answered", () => {
    const html = form(ask({ kind: "hologram" as Question["kind"] }), [{ question: "q", value: "3D:00ff" }]);
    expect(html).toContain("This app is too old to ask this");
    expect(html).toContain("3D:00ff");
  });
  it("can't bring markup of its own", () => {
    const html = form(ask({ text: "<img src=x onerror=alert(1)>", help: "<script>" }), [{ question: "q" }]);
    expect(html).not.toContain("<img");
    expect(html).not.toContain("<script");
  });
});

describe("what is worked out", () => {
  it.each([
    [{ question: "q", value: "1.4" }, { unit: "bar" }, "1.4 bar"],
    [{ question: "q", value: "437.8", amount: "437.80" }, {}, "€437.80"],
    [{ question: "q", value: "yes" }, {}, "Yes"],
    [{ question: "q" }, {}, "not yet"],
    [{ question: "q", problem: { code: "formula.zero" } }, {}, "Divided by zero."],
  ] as [AnswerLine, Partial<Question>, string][])("%j is shown", (line, q, want) => expect(form(ask({ kind: "computed", ...q }), [line])).toContain(want));
});

describe("what an answer asks for", () => {
  it("is a photo and a note, and says what the office is told", () => {
    const html = form(ask({ kind: "yesno" }), [{ question: "q", value: "no", photo: true, note: true, alerts: ["hazard", "failed"] }], {
      progress: { missing: [{ code: "missing.photo", question: "q" }], blocks: [{ code: "missing.block", question: "q" }] },
    });
    for (const words of [
      "A photo of it, please",
      "photos of q",
      "Say more about it",
      "The office is told of this hazard",
      "Counts as failed",
      "can&#x27;t be complete",
    ])
      expect(html).toContain(words);
  });
  it("is nothing when it asks for nothing", () => {
    const html = form(ask({ kind: "yesno" }), [{ question: "q", value: "yes" }]);
    expect(html).not.toContain("photo");
    expect(html).not.toContain("follow");
  });
});

describe("other kinds", () => {
  it("leave photos, readings and documents to where they are kept", () => {
    expect(form(ask({ kind: "photo" }), [{ question: "q" }])).toContain("photos of q");
    expect(form(ask({ kind: "reading", point: "flow" }), [{ question: "q", asset: "A1" }])).toContain("reading flow of A1");
    expect(form(ask({ kind: "instruction" }), [{ question: "q" }])).toContain("paper of q");
  });
  it("show a part with its price and amount", () => {
    const value = JSON.stringify({ part: "SK", name: "Seal kit", quantity: "2", price: "84.50" });
    const html = form(ask({ kind: "part" }), [{ question: "q", value, amount: "169.00" }]);
    for (const words of ["Seal kit", "€84.50 each", "€169.00", "Pick another"]) expect(html).toContain(words);
  });
});

describe("a section that repeats", () => {
  const section: Section = { id: "rooms", title: "Rooms", repeat: { noun: "room" }, questions: [{ id: "q", kind: "text", text: "The question" }] };
  const item = (id: string, name: string): SheetItem => ({ entry: id, at: "2026-01-01T00:00:00Z", person: "p", section: "rooms", id, name });
  const lines = [
    { question: "q", item: "r1", value: "of the first" },
    { question: "q", item: "r2", value: "of the second" },
  ];
  it("opens the last, and says what each lacks", () => {
    const html = form(section, lines, {
      shown: { items: [item("r1", "Cellar"), item("r2", "Loft")] },
      progress: { missing: [{ code: "missing.answer", question: "q", item: "r1" }] },
    });
    expect(html).toContain("of the second");
    expect(html).not.toContain("of the first");
    expect(html).toMatch(/Cellar<b[^>]*>1 missing/);
    expect(html).toContain("Add with the answers of Loft");
  });
  it("offers the first", () => {
    const html = form(section, []);
    expect(html).toContain("Add a room");
    expect(html).not.toContain("Add with the answers");
  });
  it("gives the subtotal of its lines", () => expect(form(section, [], { shown: { amount: "199" } })).toContain("€199.00"));
});
