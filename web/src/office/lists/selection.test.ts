import { expect, test } from "vitest";
import { draftOf } from "./Selection";

const line = (cells: Record<string, string>) => ({ id: "W1", cells });
const said = { value: "soon", reason: "No crane", until: "2026-12-01" };

test("what is done to many is one command for each that is not so already", () => {
  expect(draftOf("priority", line({ priority: "normal" }), said)).toEqual([
    { kind: "record.amended", subject: { type: "workorder", id: "W1" }, body: { priority: "soon" }, base: { priority: "normal" } },
  ]);
  expect(draftOf("priority", line({ priority: "soon" }), said)).toEqual([]);
  expect(draftOf("responsible", line({ responsible_id: "mirin" }), { ...said, value: "" })[0]).toMatchObject({
    body: { responsible: null },
    base: { responsible: "mirin" },
  });
  expect(draftOf("held", line({}), said)[0]).toMatchObject({ kind: "work.held", body: { reason: "No crane", until: "2026-12-01" } });
  expect(draftOf("held", line({ held: "2026-11-30" }), said)).toEqual([]);
});
