import type { Choice, Code } from "../types";
import { say } from "../words/i18n";
import { duration } from "./format";

/** Why somewhere is a good or a bad place for a visit, in words; skills by their names. */
export const planReasons = (why: Code[], skills: Choice[]): string[] =>
  why.map((w) => {
    const { skill = "", minutes = "0" } = w.args ?? {};
    return say({ ...w, args: { ...w.args, skill: skills.find((s) => s.id === skill)?.text ?? skill, time: duration(Number(minutes) * 60) } });
  });
