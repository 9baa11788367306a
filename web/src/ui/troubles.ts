/** The company's tree of troubles, their causes and remedies (core/trouble). */
import { plain } from "../catalogue/wordIndex";
import type { TroubleKind, TroubleNode } from "../types";

export type Tree = TroubleNode[];

/** A node and those above it, from the top. */
export function lineage(tree: Tree, id?: string): Tree {
  const out: Tree = [];
  for (let n = tree.find((x) => x.id === id); n; n = tree.find((x) => x.id === n?.parent)) out.unshift(n);
  return out;
}

/** What is said with a node: from the top of the tree down to it; its id when it is not in the tree any more. */
export const pathText = (tree: Tree, id?: string): string =>
  lineage(tree, id)
    .map((n) => n.text)
    .join(" › ") ||
  (id ?? "");

/** The text of a node alone. */
export const nodeText = (tree: Tree, id?: string): string => tree.find((n) => n.id === id)?.text ?? id ?? "";

/** What was wrong, why, and what was done about it, in a line. */
export const diagnosisText = (tree: Tree, d: { trouble?: string; cause?: string; remedy?: string }): string =>
  [d.trouble, d.cause, d.remedy]
    .filter(Boolean)
    .map((id) => nodeText(tree, id))
    .join(" › ");

/** Whether a node may be of a kind of machine: it and those above it say none, or this one. */
const fits = (above: Tree, machine?: string) => above.every((n) => !n.assets?.length || !machine || n.assets.includes(machine));

/**
 * The nodes of a kind that may be said: those that hang under what was said before come first, what hangs under something else of that kind not
 * at all.
 */
export function offered(tree: Tree, kind: TroubleKind, machine?: string, under?: string): Tree {
  const said = lineage(tree, under).map((n) => n.id);
  const fitting = tree.filter((n) => {
    const above = lineage(tree, n.id);
    return n.kind === kind && !above.some((x) => x.retired) && fits(above, machine);
  });
  if (!under) return fitting;
  const below = fitting.filter((n) => lineage(tree, n.id).some((x) => x.id === under));
  const beside = fitting.filter((n) => !below.includes(n) && lineage(tree, n.id).every((x) => x.kind === kind || said.includes(x.id)));
  return [...below, ...beside];
}

/** The nodes whose path has all words of a text. */
export function matching(tree: Tree, nodes: Tree, text: string): Tree {
  const wanted = plain(text).split(/\s+/).filter(Boolean);
  return nodes.filter((n) => {
    const path = plain(pathText(tree, n.id));
    return wanted.every((w) => path.includes(w));
  });
}
