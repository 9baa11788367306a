import type { Choice, Code, PlanFit } from "../types";
import i18next, { say } from "../words/i18n";
import { duration } from "./format";

/** Why somewhere is a good or a bad place for a visit, in words; skills by their names. */
export const planReasons = (why: Code[], skills: Choice[]): string[] =>
  why.map((w) => {
    const { skill = "", minutes = "0" } = w.args ?? {};
    return say({ ...w, args: { ...w.args, skill: skills.find((s) => s.id === skill)?.text ?? skill, time: duration(Number(minutes) * 60) } });
  });

/** How much longer somebody drives, or how much less; "" where nobody knows the way. */
export function driving({ adds, why }: PlanFit): string {
  if (why.some((w) => w.code === "fit.noWay" || w.code === "fit.noPlace")) return "";
  return i18next.t("fit.drive", { time: `${adds.drive < 0 ? "−" : "+"}${duration(Math.abs(adds.drive))}` });
}

/** What a fit comes to: the driving, and what else there is to know. */
export const fitWords = (fit: PlanFit, skills: Choice[]): string => [driving(fit), ...planReasons(fit.why, skills)].filter(Boolean).join(" · ");
