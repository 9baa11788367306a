import type { KnowHow, TroubleNode } from "../types";
import { lineage } from "./troubles";

/** Whether know-how that others are offered fits a kind of machine and what was said of its trouble: what it says of either must be so. */
export function fitsWork(k: KnowHow, tree: TroubleNode[], machine: string | undefined, said: (string | undefined)[]): boolean {
  if (!k.kinds?.length && !k.troubles?.length) return false;
  const above = new Set(said.flatMap((id) => lineage(tree, id).map((n) => n.id)));
  return (!k.kinds?.length || k.kinds.includes(machine ?? "")) && (!k.troubles?.length || k.troubles.some((id) => above.has(id)));
}
