import { expect, test } from "vitest";
import type { EntryDraft } from "../../types";
import { draftOf, intoDraft } from "./usePlanDraft";

test("what is done to the plan becomes changes of a draft, and nobody is sent anything", () => {
  const subject = { type: "visit", id: "V1" };
  const move = { technician: "ann", start: "2026-03-10T08:00:00+01:00", minutes: 60 };
  const entries: EntryDraft[] = [
    { kind: "visit.moved", subject, body: move },
    { kind: "visit.sent", subject, body: {} },
    { kind: "visit.withdrawn", subject: { type: "visit", id: "V2" }, body: {} },
  ];
  expect(intoDraft(entries, draftOf("dilys"))).toEqual([
    {
      kind: "draft.changed",
      subject: { type: "draft", id: "dilys" },
      body: {
        changes: [
          { visit: "V1", move },
          { visit: "V2", withdraw: {} },
        ],
      },
    },
  ]);
  expect(intoDraft([entries[1]], draftOf("dilys"))).toEqual([]);
});
