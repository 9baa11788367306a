/** The sections of a visit's page, and which of them settles what the visit is looked at for. */
import type { ReviewExceptionKind } from "../../types";

export const visitSections = [
  "asked",
  "hours",
  "tasks",
  "diagnoses",
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
export type VisitSection = (typeof visitSections)[number];

/** What is read to settle an exception. */
const settles: Record<ReviewExceptionKind, VisitSection[]> = {
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

/** The sections that settle some exceptions, in the order of those, and the rest. With none, what most people look at comes first. */
export function settling(exceptions: ReviewExceptionKind[]): { first: VisitSection[]; rest: VisitSection[] } {
  const wanted = exceptions.length > 0 ? exceptions.flatMap((e) => settles[e]) : (["hours", "notes", "parts"] as const);
  const first = [...new Set<VisitSection>(["asked", ...wanted])];
  return { first, rest: visitSections.filter((p) => !first.includes(p)) };
}
