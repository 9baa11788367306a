/** What is picked and not recorded yet: parts with their quantities, as they were scanned or chosen. */

import { useCallback } from "react";
import type { Item } from "../../catalogue/catalogue";
import { CoreError, core } from "../../device/core";
import { useDraft } from "../../draft/draft";
import type { Code, LabelCode, Part } from "../../types";
import { decimal, isNumber, isQuantity, typedNumber } from "../../ui/decimal";

export interface Picked {
  line: number;
  part: string;
  of: Part;
  quantity: string;
  unit: string;
  serial: string;
}

/** The basket of this name: it outlives the page until what is in it is recorded. */
export function useBasket(name: string) {
  const draft = useDraft<{ lines: Picked[] }>(`basket ${name}`, { lines: [] });
  const { lines } = draft.value;
  const { update } = draft;
  /** One more of a part; of one with a serial number, another line. */
  const add = useCallback(
    (item: Item, serial = "") => {
      const { part: of, id } = item;
      if (!of) return;
      update(({ lines: all }) => {
        const at = all.findIndex((p) => p.part === id && (!of.serial || (serial !== "" && p.serial === serial)));
        if (at >= 0) return { lines: of.serial ? all : all.with(at, { ...all[at], quantity: stepped(all[at].quantity, 1) }) };
        return { lines: [...all, { line: 1 + Math.max(0, ...all.map((p) => p.line)), part: id, of, quantity: "1", unit: of.unit, serial }] };
      });
    },
    [update],
  );
  /** So much of a part that is planned, unless it is in already. */
  const addNeed = useCallback(
    (part: string, of: Part, quantity: string) =>
      update(({ lines: all }) => {
        const line = 1 + Math.max(0, ...all.map((p) => p.line));
        return {
          lines: all.some((p) => p.part === part) ? all : [...all, { line, part, of, quantity: of.serial ? "1" : quantity, unit: of.unit, serial: "" }],
        };
      }),
    [update],
  );
  const change = useCallback(
    (line: number, patch: Partial<Picked>) => update(({ lines: all }) => ({ lines: all.map((p) => (p.line === line ? { ...p, ...patch } : p)) })),
    [update],
  );
  const drop = useCallback((line: number) => update(({ lines: all }) => ({ lines: all.filter((p) => p.line !== line) })), [update]);
  return { draft, lines, add, addNeed, change, drop };
}

export type Basket = ReturnType<typeof useBasket>;

/** One or a few more or less of what is typed: at least 1. */
export function stepped(typed: string, by: number): string {
  const next = (isNumber(typed) ? decimal(typedNumber(typed)) : decimal(0)).plus(by);
  return next.gt(1) ? next.toString() : "1";
}

/** A line's quantity in the part's own unit, or why there is none. */
export function inUnit(p: Pick<Picked, "of" | "quantity" | "unit">): { quantity?: string; problem?: Code } {
  const quantity = typedNumber(p.quantity);
  if (!isQuantity(quantity)) return { problem: { code: "quantity.absurd", args: { quantity } } };
  try {
    return { quantity: core("quantity", { part: p.of, quantity, unit: p.unit }).quantity };
  } catch (e) {
    if (e instanceof CoreError) return { problem: e.code };
    throw e;
  }
}

/** What a label says, or nothing when no label says that. */
export function readCode(text: string): LabelCode | undefined {
  try {
    return core("code", { text });
  } catch {
    return undefined;
  }
}
