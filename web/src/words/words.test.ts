import { describe, expect, it } from "vitest";
import { kinds } from "../office/designer/Outline";
import { comparisons } from "../office/designer/Rules";
import { en } from "./en";
import i18n, { say } from "./i18n";

const has = (key: string) => key in en || `${key}_other` in en;

describe("words", () => {
  it.each(kinds)("name the kind %s and how its answers are compared", (kind) => {
    expect(has(`kind.${kind}`)).toBe(true);
    for (const is of comparisons({ id: "q", kind, text: "" })) expect(has(`is.${is}`), is).toBe(true);
  });
  it.each(["hazard", "alarm", "failed", "note", "follow_up", "warning", "recommendation", "doubt"])("name the concern %s", (c) =>
    expect(has(`concern.${c}`)).toBe(true),
  );
  it.each(["outside", "jump", "fell", "unlike"])("name the doubt %s", (d) => expect(has(`doubt.${d}`)).toBe(true));
  it.each(["delivered", "first_fill", "put_in", "taken_out", "removed", "counted"])("name the act %s", (a) => expect(has(`act.${a}`)).toBe(true));
  it("have a plural for each singular", () => {
    for (const key of Object.keys(en).filter((k) => k.endsWith("_one"))) expect(Object.keys(en)).toContain(key.replace(/_one$/, "_other"));
  });
  it("ask for the same arguments in singular and plural", () => {
    const asked = (s: string) =>
      [...s.matchAll(/{{(\w+)}}/g)]
        .map((m) => m[1])
        .filter((a) => a !== "count")
        .sort();
    const all = en as Record<string, string>;
    for (const key of Object.keys(all).filter((k) => k.endsWith("_one"))) expect(asked(all[key]), key).toEqual(asked(all[key.replace(/_one$/, "_other")]));
  });
});

describe("screens", () => {
  const sources = import.meta.glob("../**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true }) as Record<string, string>;
  const asked = Object.entries(sources)
    .filter(([file]) => !file.includes(".test."))
    .flatMap(([file, text]) => [...text.matchAll(/\bt\(\s*(?:"([^"]+)"|`([^`$]+)\$\{)/g)].map(([, whole, begin]) => ({ file, whole, begin })));
  it("ask for words that there are", () => {
    const missing = asked.filter(({ whole, begin }) => (whole ? !has(whole) : !Object.keys(en).some((key) => key.startsWith(begin))));
    expect(asked.length).toBeGreaterThan(1000);
    expect(missing).toEqual([]);
  });
});

describe("what the core says", () => {
  it.each([
    [{ code: "formula.name", args: { name: "lwo" } }, "There is no answer called lwo."],
    [{ code: "missing.photos", args: { count: "1" } }, "1 photo missing"],
    [{ code: "missing.photos", args: { count: "3" } }, "3 photos missing"],
    [{ code: "area.size", args: { shape: "2" } }, "Shape 2: sizes are above zero."],
    [{ code: "unit.unlike", args: { from: "bar", to: "m" } }, "bar and m measure different things."],
    [{ code: "never.heard.of" }, "Something went wrong. Nothing was changed; try again."],
  ])("%j is a sentence", (code, want) => expect(say(code)).toBe(want));
  it("is never a code", () => expect(say({ code: "never.heard.of" })).not.toContain("never"));
  it("quotes what somebody typed as it is", () => expect(say({ code: "formula.name", args: { name: "<b>" } })).toContain("<b>"));
});

it("is in English first", () => expect(i18n.language).toBe("en"));
