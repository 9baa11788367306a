import { describe, expect, it } from "vitest";
import type { Lacking, Settings, StepTaken, Visit, VisitView } from "../../types";
import { isLater } from "../../ui/later";
import { isUnsigned, waitsFor } from "../stops";
import { endOf, endsNow } from "./outcomes";

const lacking = (duty: Lacking["duty"], check: Lacking["check"] = "after", more: Partial<Lacking> = {}): Lacking => ({
  key: check,
  check,
  duty,
  what: { code: "missing.after" },
  jump: { section: "photos" },
  ...more,
});
const view = (list: Lacking[], visit: Partial<Visit> = {}) =>
  ({ visit: { order: "W1", ...visit }, ready: { lacking: list, done: 0, of: 1 } }) as unknown as VisitView;
const ids = (list: Lacking[], visits?: Settings["visits"]) => endsNow(visits && ({ visits } as Settings), view(list)).map((o) => o.id);

describe("how a visit can end now", () => {
  const all = ["complete", "return_needed", "no_access", "not_needed"];
  it("is in every way when nothing is required", () => expect(ids([lacking("asked"), lacking("optional")])).toEqual(all));
  it("is not as complete while something required is missing", () => expect(ids([lacking("required")])).toEqual(all.slice(1)));
  it("does not wait for the signature, which comes after the end", () => expect(ids([lacking("required", "signature")])).toEqual(all));
  it("is as the company says", () => {
    expect(ids([lacking("required")], { outcomes: [{ id: "complete", closes: true }] })).toEqual(["complete"]);
    expect(ids([], { outcomes: [] })).toEqual(all);
  });
  it("keeps what comes next with a work order that is not closed", () => {
    const [complete, back] = endsNow(undefined, view([]));
    const more: StepTaken = { reason: "part" };
    expect(endOf(complete, view([]))).toEqual({ outcome: "complete", order: undefined });
    expect(endOf(back, view([]), more)).toEqual({ outcome: "return_needed", reason: "part", order: "W1" });
  });
});

const finished = (more: Partial<Visit> = {}, signature = true) =>
  ({ stage: "finished", steps: [{ entry: "e", at: "2026-03-10T10:00:00Z", person: "ann", action: "finished", signature }], ...more }) as unknown as Visit;

describe("a visit that is over", () => {
  it.each([
    ["waits for a signature", finished(), true],
    ["does not when nobody has to sign", finished({}, false), false],
    ["does not once somebody signed", finished({ signatures: [{ entry: "s" }] as Visit["signatures"] }), false],
    ["does when the signature was struck out", finished({ signatures: [{ entry: "s", struck: true }] as Visit["signatures"] }), true],
    ["does not when it was said why", finished({ absences: [{ entry: "a" }] as Visit["absences"] }), false],
    ["does not before", finished({ stage: "on_site" }), false],
  ])("%s", (_, v, want) => expect(isUnsigned(v)).toBe(want));
  it("waits for an answer to the office as well", () => {
    const asked = finished({ questions: [{ entry: "q", at: "", person: "noll", text: "Which?" }] }, false);
    const stop = (visit: Visit, part: "own" | "helper") => ({ id: "v", visit, part }) as Parameters<typeof waitsFor>[0][0];
    expect(waitsFor([stop(asked, "own"), stop(asked, "helper"), stop(finished({}, false), "own")], "2026-03-10")).toHaveLength(1);
  });
  it("shows what came later as later", () => {
    const v = view([], finished());
    expect(isLater(v, "2026-03-10T10:00:01Z")).toBe(true);
    expect(isLater(v, "2026-03-10T11:00:00+01:00")).toBe(false);
    expect(isLater(view([], finished({ stage: "on_site" })), "2026-03-10T12:00:00Z")).toBe(false);
  });
});
