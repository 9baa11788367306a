/** Orders to suppliers, made of what is to be bought: one for each supplier. */
import type { EntryDraft, PurchaseItem } from "../../types";

export interface ToBuy {
  part: string;
  quantity: string;
  cost: string;
  supplier: string;
  request?: { id: string; order: string };
}

/** The commands that order things: for each supplier one order, in which each part is once. idOf gives the id of a supplier's order. */
export function purchasesOf(list: ToBuy[], place: string, idOf: (supplier: string) => string): EntryDraft[] {
  const by = new Map<string, PurchaseItem[]>();
  for (const b of list) {
    const lines = by.get(b.supplier) ?? [];
    by.set(b.supplier, lines);
    let line = lines.find((l) => l.part === b.part);
    if (!line) {
      line = { part: b.part, quantity: "0", cost: b.cost, requests: [] };
      lines.push(line);
    }
    line.quantity = sum(line.quantity, b.quantity);
    if (b.request) line.requests?.push({ request: b.request.id, order: b.request.order, quantity: b.quantity });
  }
  return [...by].map(([supplier, lines]) => ({
    kind: "purchase.made",
    subject: { type: "purchase", id: idOf(supplier) },
    body: { number: "", supplier, place, lines },
  }));
}

/** Adds two decimals exactly. */
export function sum(a: string, b: string): string {
  const places = Math.max(...[a, b].map((x) => x.split(".")[1]?.length ?? 0));
  const whole = (x: string) => {
    const [i, f = ""] = x.split(".");
    return BigInt(i + f.padEnd(places, "0"));
  };
  const total = (whole(a) + whole(b)).toString().padStart(places + 1, "0");
  return places ? `${total.slice(0, -places)}.${total.slice(-places)}` : total;
}
