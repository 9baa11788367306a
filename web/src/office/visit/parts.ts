/** The parts of a visit's page, and which of them settles what the visit is looked at for. */
import type { ReviewExceptionKind } from "../../types";

export const visitParts = [
  "asked",
  "hours",
  "tasks",
  "talk",
  "messages",
  "readings",
  "parts",
  "answers",
  "proposed",
  "photos",
  "notes",
  "signatures",
  "reports",
] as const;
export type VisitPart = (typeof visitParts)[number];

/** What is read to settle an exception. */
const settles: Record<ReviewExceptionKind, VisitPart[]> = {
  hazards: ["answers", "photos"],
  unsigned: ["signatures"],
  absent: ["signatures"],
  changed: ["signatures"],
  below_zero: ["parts"],
  lacks: ["readings", "answers"],
  limits: ["readings"],
  over_time: ["hours"],
  late: ["hours"],
  left_out: ["answers", "notes"],
  flags: ["hours"],
};

/** The parts that settle some exceptions, in the order of those, and the rest. With none, what most people look at comes first. */
export function settling(exceptions: ReviewExceptionKind[]): { first: VisitPart[]; rest: VisitPart[] } {
  const wanted = exceptions.length > 0 ? exceptions.flatMap((e) => settles[e]) : (["hours", "notes", "parts"] as const);
  const first = [...new Set<VisitPart>(["asked", ...wanted])];
  return { first, rest: visitParts.filter((p) => !first.includes(p)) };
}
