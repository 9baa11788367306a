import type { VisitView } from "../types";

/** Whether something was recorded after the visit had ended: finishing locks nothing, and what comes later is seen to be later. */
export function isLater(view: VisitView, at: string): boolean {
  const end = view.visit.steps?.findLast((s) => s.action === "finished" && !s.struck);
  return view.visit.stage === "finished" && !!end && Date.parse(at) > Date.parse(end.at);
}
