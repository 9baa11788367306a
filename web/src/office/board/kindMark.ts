import type { KindMark, Settings } from "../../types";

/** The mark of a kind of work, where the company has one. */
export const markOf = (settings: Settings | undefined, kind: string | undefined): KindMark | undefined =>
  kind ? settings?.planning.marks?.find((m) => m.kind === kind) : undefined;

/** The classes that draw a mark: its pattern in its colour. */
export const markClass = (mark: KindMark | undefined): string => (mark ? `mark-${mark.pattern ?? "plain"} mark-${mark.colour ?? "ink"}` : "");

/** What the company calls a kind of work. */
export const kindText = (settings: Settings | undefined, kind: string | undefined): string =>
  settings?.orders.works?.find((w) => w.id === kind)?.text ?? kind ?? "";
