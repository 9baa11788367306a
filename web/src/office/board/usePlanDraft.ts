/** The plan as it is, or as a draft would have it: what is done on the board is recorded in one or the other. */
import { useSearchParams } from "react-router";
import { useMay, useMe } from "../../session/session";
import type { DraftChange, EntryDraft, PlanDraft, Ref, VisitMove, VisitPlan, Withdraw } from "../../types";
import { useCommands, useQuestion } from "../queries";

/** Whether the board shows the draft of whoever is signed in: its address says so. */
export function useDrafting(): boolean {
  const [params] = useSearchParams();
  const may = useMay("visit.planned");
  return may && params.get("draft") === "true";
}

const none: PlanDraft = { lines: [], days: [] };

/** The draft of whoever is signed in, empty until it is there. */
export function usePlanDraft(): PlanDraft {
  return useQuestion("/api/office/draft", {}, { enabled: useMay("visit.planned") }).data ?? none;
}

/** A change of the plan, as a draft keeps it. */
function changeOf({ kind, subject, body }: EntryDraft): DraftChange | undefined {
  const visit = subject.id;
  if (kind === "visit.planned") return { visit, plan: body as VisitPlan };
  if (kind === "visit.moved") return { visit, move: body as VisitMove };
  return kind === "visit.withdrawn" ? { visit, withdraw: body as Withdraw } : undefined;
}

/** Puts changes of the plan into a draft. Nobody is told of a draft, so that what sends a visit waits until it is published. */
export function intoDraft(entries: EntryDraft[], draft: Ref): EntryDraft[] {
  const changes = entries.map(changeOf).filter((c) => c !== undefined);
  return changes.length > 0 ? [{ kind: "draft.changed", subject: draft, body: { changes } }] : [];
}

export const draftOf = (person: string): Ref => ({ type: "draft", id: person });

/** Puts changes of the plan into a draft, with what else is recorded then, and shows the draft. */
export function useIntoDraft() {
  const [params, setParams] = useSearchParams();
  const commands = useCommands();
  const draft = draftOf(useMe()?.id ?? "");
  const put = async (changes: EntryDraft[], also: EntryDraft[] = []) => {
    await commands.mutateAsync([...intoDraft(changes, draft), ...also]);
    const next = new URLSearchParams(params);
    next.set("draft", "true");
    setParams(next, { replace: true });
  };
  return { put, busy: commands.isPending, error: commands.error, idOf: commands.idOf };
}

/** As useCommands, for what is done to the plan: while the board shows a draft, it goes into that. */
export function usePlanCommands(how?: { form?: boolean }) {
  const commands = useCommands(how);
  const drafting = useDrafting();
  const draft = draftOf(useMe()?.id ?? "");
  const to = (entries: EntryDraft[]) => (drafting ? intoDraft(entries, draft) : entries);
  return {
    ...commands,
    drafting,
    mutate: (entries: EntryDraft[]) => commands.mutate(to(entries)),
    mutateAsync: (entries: EntryDraft[]) => commands.mutateAsync(to(entries)),
  };
}
