/** A maintenance plan as its form has it. */

import { recordEntry } from "../../records";
import type { AgreementLine, EntryDraft, Named, Need, Template, UpkeepPlan, UpkeepTarget } from "../../types";
import { typedNumber } from "../../ui/decimal";
import { isoDate } from "../../ui/format";
import { crewOf } from "../intake/call";
import { blankRule, type Rule, readRule, writeRule } from "./rule";

export type Sort = "machines" | "site" | "agreement";
export type By = "date" | "counter" | "both";

export interface PlanForm extends Omit<Rule, "unit"> {
  name: string;
  sort: Sort;
  machines: Named[];
  /** "" while none is chosen */
  siteId: string;
  siteName: string;
  agreement: string;
  problem: string;
  tasks: string;
  minutes: string;
  kind: string;
  skills: string[];
  crew: string;
  things: string[];
  sheets: string[];
  needs: Need[];
  by: By;
  /** "own" for a rule that is written out */
  unit: Rule["unit"] | "own";
  rule: string;
  point: string;
  counterEvery: string;
  counted: "plan" | "last";
  begin: string;
  end: string;
  before: string;
  after: string;
  ahead: string;
}

/** What a form begins with: a plan that is new, for a machine or site perhaps. */
export function blankPlan(target?: { type: string; id: string; name: string }): PlanForm {
  return {
    ...blankRule,
    name: "",
    sort: target?.type === "site" ? "site" : "machines",
    machines: target?.type === "asset" ? [{ id: target.id, name: target.name }] : [],
    siteId: target?.type === "site" ? target.id : "",
    siteName: target?.type === "site" ? target.name : "",
    agreement: "",
    problem: "",
    tasks: "",
    minutes: "60",
    kind: "",
    skills: [],
    crew: "",
    things: [],
    sheets: [],
    needs: [],
    by: "date",
    rule: "",
    point: "",
    counterEvery: "",
    counted: "plan",
    begin: isoDate(Date.now()),
    end: "",
    before: "7",
    after: "14",
    ahead: "14",
  };
}

/** A plan that there is, as its form has it. */
export function formOf(p: UpkeepPlan, targets: UpkeepTarget[]): PlanForm {
  const rule = p.rule ? readRule(p.rule) : blankRule;
  const site = targets.find((x) => x.id === p.site);
  return {
    ...blankPlan(),
    ...blankRule,
    ...rule,
    unit: rule ? rule.unit : "own",
    rule: rule ? "" : (p.rule ?? ""),
    name: p.name,
    sort: p.agreement ? "agreement" : p.site ? "site" : "machines",
    machines: (p.assets ?? []).map((id) => ({ id, name: called(targets.find((x) => x.id === id)) || id })),
    siteId: p.site ?? "",
    siteName: site?.siteName ?? "",
    agreement: p.agreement ?? "",
    ...work(p),
    by: p.rule && p.counter ? "both" : p.counter ? "counter" : "date",
    point: p.counter?.point ?? "",
    counterEvery: p.counter?.every ?? "",
    counted: p.fromLast ? "last" : "plan",
    begin: p.begin,
    end: p.end ?? "",
    before: String(p.before ?? 0),
    after: String(p.after ?? 0),
    ahead: String(p.ahead ?? 0),
  };
}

const called = (x?: UpkeepTarget) => [x?.name, x?.siteName].filter(Boolean).join(", ");

/** What is done, as ready-made work or a plan says it. */
export const work = (w: Omit<Template, "name">) => ({
  problem: w.problem,
  tasks: (w.tasks ?? []).join("\n"),
  minutes: String(w.minutes),
  kind: w.kind ?? "",
  skills: w.skills ?? [],
  crew: w.crew ? String(w.crew) : "",
  things: w.things ?? [],
  sheets: w.sheets ?? [],
  needs: w.needs ?? [],
});

const some = <T>(list: T[]) => (list.length > 0 ? list : undefined);

/** The plan of a form. */
export function planOf(f: PlanForm): UpkeepPlan {
  const rule = f.unit === "own" ? f.rule.trim() : writeRule({ ...f, unit: f.unit });
  return {
    name: f.name.trim(),
    problem: f.problem.trim(),
    kind: f.kind || undefined,
    tasks: some(
      f.tasks
        .split("\n")
        .map((x) => x.trim())
        .filter(Boolean),
    ),
    minutes: Math.round(Number(f.minutes)),
    skills: some(f.skills),
    crew: crewOf(f.crew),
    things: some(f.things),
    sheets: some(f.sheets),
    needs: some(f.needs.map((n) => ({ ...n, quantity: typedNumber(n.quantity) }))),
    assets: f.sort === "machines" ? f.machines.map((m) => m.id) : undefined,
    site: (f.sort === "site" && f.siteId) || undefined,
    agreement: (f.sort === "agreement" && f.agreement) || undefined,
    rule: f.by === "counter" ? undefined : rule,
    counter: f.by === "date" ? undefined : { point: f.point, every: typedNumber(f.counterEvery) },
    fromLast: f.by === "both" || f.counted === "last" || undefined,
    begin: f.begin,
    end: f.end || undefined,
    before: Number(f.before) || undefined,
    after: Number(f.after) || undefined,
    ahead: Number(f.ahead) || undefined,
  };
}

/** Whether something that a plan can't do without is missing. */
export const lacking = (f: PlanForm) =>
  (f.sort === "machines" && f.machines.length === 0) ||
  (f.sort === "site" && !f.siteId) ||
  (f.sort === "agreement" && !f.agreement) ||
  (f.by !== "date" && !f.point) ||
  !f.begin;

/** What saves a plan: it is made, or what is another in it is changed. */
export const saving = (f: PlanForm, id: string, known?: UpkeepPlan): EntryDraft | undefined => {
  if (!known) return recordEntry({ type: "upkeep", id }, planOf(f));
  const { changes: _, ...before } = known;
  return recordEntry({ type: "upkeep", id }, planOf(f), before);
};

/** The agreements that a plan may be of, as a choice. */
export const agreementChoices = (list: AgreementLine[], chosen: string) =>
  list.filter((a) => !a.over || a.id === chosen).map((a) => [a.id, `${a.whose}: ${a.name}`] as const);
