/** Finds parts and kits: by part of a number or text, in any order of words, with slips, by category, by what a label says. */
import type { Kit, Part } from "../types";
import { plain, WordIndex, words } from "./wordIndex";

export interface Item {
  /** "part P1" or "kit K1": a part and a kit may have the same id. */
  key: string;
  id: string;
  part?: Part;
  kit?: Kit;
}

export const partItem = (id: string, part: Part): Item => ({ key: `part ${id}`, id, part });
export const kitItem = (id: string, kit: Kit): Item => ({ key: `kit ${id}`, id, kit });
export const nameOf = (i: Item) => (i.part ?? i.kit)?.name ?? i.id;
export const numberOf = (i: Item) => (i.part ?? i.kit)?.number ?? i.id;
export const categoryOf = (i: Item) => (i.part ?? i.kit)?.category ?? "";

/** How many are listed at once. */
const most = 60;

export class Catalogue {
  private byKey = new Map<string, Item>();
  private byCode = new Map<string, Item[]>();
  /** What is in the catalogue still, and the words each is found by. */
  private there: Item[];
  private index: WordIndex;
  readonly categories: string[];

  /** keys gives what labels are found by, for a list of codes; one that can't be read has none. */
  constructor(
    readonly items: Item[],
    keys: (codes: string[]) => string[],
  ) {
    this.there = items.filter((i) => !i.part?.retired).sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
    this.index = new WordIndex(
      this.there.map((i) => {
        const number = words(numberOf(i));
        return [number.join(""), ...number, ...words([nameOf(i), ...(i.part?.names ?? []), categoryOf(i)].join(" "))];
      }),
    );
    this.categories = [...new Set(this.there.map(categoryOf))].filter(Boolean).sort((a, b) => a.localeCompare(b));
    for (const i of items) this.byKey.set(i.key, i);
    const codes = items.flatMap((item) => [item.id, numberOf(item), ...(item.part?.codes ?? [])].map((code) => ({ item, code })));
    const read = keys(codes.map((c) => c.code));
    codes.forEach(({ item }, i) => {
      if (!read[i]) return;
      const have = this.byCode.get(read[i]) ?? [];
      if (!have.includes(item)) this.byCode.set(read[i], [...have, item]);
    });
  }

  item(key: string): Item | undefined {
    return this.byKey.get(key);
  }

  /** What has a code on its label: usually one, none when the code is not known. */
  withCode(key: string): Item[] {
    return this.byCode.get(key) ?? [];
  }

  /** What matches, the best first, as many as limit. Without text: all of a category, or what usually comes first. */
  find(text: string, { category = "", first = [] as string[], limit = most } = {}): Item[] {
    const rank = new Map(first.map((key, i) => [key, first.length - i]));
    const found = this.index.find(text, {
      limit,
      takes: category ? (at) => categoryOf(this.there[at]) === category : undefined,
      rank: (at) => rank.get(this.there[at].key),
    });
    return found.map((at) => this.there[at]);
  }
}

/** Whether every word typed occurs in a part's name, number, category or codes. */
export function matches(part: Part, typed: string): boolean {
  const text = plain(`${part.number} ${part.name} ${part.category ?? ""} ${part.codes?.join(" ") ?? ""}`);
  return plain(typed)
    .split(/\s+/)
    .every((w) => text.includes(w));
}
