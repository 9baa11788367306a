import { useMay } from "../../session/session";
import type { Need } from "../../types";
import { decimal } from "../../ui/decimal";
import { useCommands } from "../queries";

/** The parts that are planned for a work order beside what came of requests, and planning one more or one less. */
export function usePlannedParts(order: string, needs: Need[] | undefined) {
  const commands = useCommands();
  const may = useMay("work.needs_planned");
  const own = (needs ?? []).filter((n) => !n.request);
  const set = (to: Need[], then?: () => void) =>
    commands.mutate([{ kind: "work.needs_planned", subject: { type: "workorder", id: order }, body: { needs: to } }], { onSuccess: then });
  return {
    own,
    may,
    busy: commands.isPending,
    error: commands.error,
    add: (part: string, then: () => void) => {
      const have = own.find((n) => n.part === part);
      const more = own.map((n) => (n === have ? { ...n, quantity: decimal(n.quantity).plus(1).toString() } : n));
      set(have ? more : [...own, { part, quantity: "1" }], then);
    },
    drop: (need: Need) => set(own.filter((n) => n !== need)),
  };
}
