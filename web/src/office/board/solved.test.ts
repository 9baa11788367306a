import { expect, it } from "vitest";
import type { SolutionLine } from "../../types";
import { solvedEntries } from "./solved";

const line = (more: object) =>
  ({ id: "W1", order: { things: ["boat"] }, start: "2026-11-30T09:00:00Z", minutes: 60, name: "A. Vane", fit: { lane: "ann" }, ...more }) as SolutionLine;

it("plans each part of what waits with all that go, and moves what was planned", () => {
  const idOf = (what: string) => what;
  const [first, second, moved] = solvedEntries(
    [line({ part: 1, parts: 2, with: ["ben"] }), line({ part: 2, parts: 2, with: ["ben"] }), line({ id: "V1", moved: true, warned: [{ code: "fit.late" }] })],
    " she asked for it ",
    idOf,
  );
  expect(first).toMatchObject({ kind: "visit.planned", body: { order: "W1", technician: "ann", helpers: ["ben"], things: ["boat"] } });
  expect(first.subject.id).not.toBe(second.subject.id);
  expect(moved).toMatchObject({ kind: "visit.moved", subject: { id: "V1" }, body: { helpers: [], against: { why: "she asked for it" } } });
});
