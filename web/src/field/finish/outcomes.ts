/** The ways a visit can end, by the company's rules. */
import type { Outcome, OutcomeRule, Settings, StepTaken, VisitView } from "../../types";

/** Those of a company that has named none: as in core/records. */
const usual: OutcomeRule[] = [
  { id: "complete", closes: true, signature: true, ready: true },
  { id: "return_needed", signature: true, followUp: true },
  { id: "no_access", followUp: true },
  { id: "not_needed", closes: true },
];

/** The ways it can end now: not as complete while something required is missing. The signature comes after the end. */
export function endsNow(settings: Settings | undefined, view: VisitView): OutcomeRule[] {
  const all = settings?.visits.outcomes?.length ? settings.visits.outcomes : usual;
  const blocked = view.ready.lacking.some((l) => l.duty === "required" && !l.skip && l.check !== "signature");
  return blocked ? all.filter((o) => !o.ready) : all;
}

/** What is recorded of an end. What the next visit needs is kept with the work order, unless that is closed. */
export const endOf = (o: OutcomeRule, view: VisitView, more: StepTaken = {}): StepTaken => ({
  outcome: o.id as Outcome,
  ...more,
  order: o.closes ? undefined : view.visit.order,
});
