/** The core of devices leaves out what only the office records. */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { beforeAll, expect, it } from "vitest";
import { type CoreError, core } from "./core";
import { loadRealCore } from "./realCore";

beforeAll(loadRealCore);

const screens = ["field", "terminal", "sheet"].flatMap((dir) => {
  const root = join(import.meta.dirname, "..", dir);
  return readdirSync(root, { recursive: true, encoding: "utf8" }).flatMap((f) => (/\.tsx?$/.test(f) ? [readFileSync(join(root, f), "utf8")] : []));
});
const recorded = [...new Set(screens.flatMap((text) => [...text.matchAll(/(?:record|save)\("([a-z_]+\.[a-z_]+)"/g)].map((m) => m[1])))];

const codeOf = (kind: string) => {
  try {
    core("record", {
      docs: [],
      now: Date.now(),
      zone: { name: "UTC", shifts: [] },
      state: { replica: "R", person: "ann", cursor: "", skew: 0 },
      draft: { kind, subject: { type: "visit", id: "V1" }, body: {} },
      id: "01KKB59BR0ABYZR1S1G9JMY5HZ",
    });
  } catch (e) {
    return (e as CoreError).code.code;
  }
};

it("has all that screens of the field record", () => {
  expect(recorded.length).toBeGreaterThan(35);
  expect(recorded.filter((kind) => codeOf(kind) === "entry.kind")).toEqual([]);
  expect(codeOf("record.created")).toBe("entry.kind");
});
