/** Finds parts and kits: by part of a number or text, in any order of words, with slips, by category, by what a label says. */
import type { Kit, Part } from "../types";

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

/** Text as it is searched: lower case, without accents. */
export const plain = (s: string) =>
  s
    .normalize("NFD")
    .replace(/\p{Mn}/gu, "")
    .toLowerCase();

const words = (s: string) =>
  plain(s)
    .split(/[^\p{L}\p{N}]+/u)
    .filter(Boolean);

/** How many slips of typing a word may have. A number with a slip is another number. */
const slips = (word: string) => (/\p{N}/u.test(word) ? 0 : word.length > 7 ? 2 : word.length > 3 ? 1 : 0);

const rows = [new Uint8Array(64), new Uint8Array(64)];

/** The fewest letters to change, add or leave out in a word so that another begins with it; one more than most when it is more. */
export function slipsBetween(word: string, other: string, most: number): number {
  const n = Math.min(word.length, 60);
  const m = Math.min(other.length, n + most);
  let [before, row] = rows;
  for (let j = 0; j <= m; j++) before[j] = j;
  for (let i = 1; i <= n; i++) {
    row[0] = i;
    let least = i;
    for (let j = 1; j <= m; j++) {
      const changed = before[j - 1] + (word.charCodeAt(i - 1) === other.charCodeAt(j - 1) ? 0 : 1);
      row[j] = Math.min(changed, before[j] + 1, row[j - 1] + 1);
      if (row[j] < least) least = row[j];
    }
    if (least > most) return most + 1;
    [before, row] = [row, before];
  }
  let best = most + 1;
  for (let j = 0; j <= m; j++) if (before[j] < best) best = before[j];
  return best;
}

/** Which letters a word has, a bit each: a word with more than a slip's worth of other letters need not be compared. */
function letters(word: string): number {
  let bits = 0;
  for (let i = 0; i < word.length; i++) bits |= 1 << (word.charCodeAt(i) & 31);
  return bits;
}

function ones(bits: number): number {
  let n = 0;
  for (let b = bits; b; b &= b - 1) n++;
  return n;
}

/** How many are listed at once, and below how many found slips are looked for too. */
const most = 60;
const few = 5;

/** A search library's index took too long for a phone with 20,000 parts: make bench measures this one. */
export class Catalogue {
  private byKey = new Map<string, Item>();
  private byCode = new Map<string, Item[]>();
  /** What is in the catalogue still, with the text each is found by. Words begin after a space. */
  private there: Item[];
  private texts: string[];
  /** Which of those each word without digits occurs in. */
  private vocabulary = new Map<string, { at: number[]; letters: number }>();
  readonly categories: string[];

  /** keys gives what labels are found by, for a list of codes; one that can't be read has none. */
  constructor(
    readonly items: Item[],
    keys: (codes: string[]) => string[],
  ) {
    this.there = items.filter((i) => !i.part?.retired).sort((a, b) => (nameOf(a) < nameOf(b) ? -1 : 1));
    this.texts = this.there.map((i, at) => {
      const number = words(numberOf(i));
      const all = [number.join(""), ...number, ...words([nameOf(i), ...(i.part?.names ?? []), categoryOf(i)].join(" "))];
      for (const w of new Set(all)) {
        const have = this.vocabulary.get(w);
        if (have) have.at.push(at);
        else if (!/\p{N}/u.test(w)) this.vocabulary.set(w, { at: [at], letters: letters(w) });
      }
      return ` ${all.join(" ")}`;
    });
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
    const typed = words(text);
    const rank = new Map(first.map((key, i) => [key, first.length - i]));
    const exact = typed.map((w) => {
      const begins = ` ${w}`;
      return (at: number) => {
        const i = this.texts[at].indexOf(w);
        return i < 0 ? 0 : this.texts[at][i - 1] === " " || this.texts[at].includes(begins, i) ? 3 : 2;
      };
    });
    const found = this.best(exact, category, rank, limit);
    if (found.length >= few || typed.every((w) => slips(w) === 0)) return found;
    const near = typed.map((w, i) => {
      const marked = this.near(w);
      return (at: number) => exact[i](at) || marked[at];
    });
    const more = this.best(near, category, rank, limit);
    return [...found, ...more.filter((i) => !found.includes(i))].slice(0, limit);
  }

  /** Marks what has a word that one begins with, but for a slip. */
  private near(word: string): Uint8Array {
    const marked = new Uint8Array(this.there.length);
    const allowed = slips(word);
    if (allowed === 0) return marked;
    const own = letters(word);
    for (const [other, has] of this.vocabulary) {
      if (other.length < word.length - allowed || ones(own & ~has.letters) > allowed || slipsBetween(word, other, allowed) > allowed) continue;
      for (const i of has.at) marked[i] = 1;
    }
    return marked;
  }

  /** The best of what all words match: what usually comes first, then by how the words match. */
  private best(matches: ((at: number) => number)[], category: string, rank: Map<string, number>, limit: number): Item[] {
    const buckets: Item[][] = [];
    const usual: Item[] = [];
    for (let at = 0; at < this.there.length; at++) {
      const item = this.there[at];
      if (category && categoryOf(item) !== category) continue;
      let score = 0;
      for (const match of matches) {
        const one = match(at);
        if (one === 0) {
          score = -1;
          break;
        }
        score += one;
      }
      if (score < 0) continue;
      if (rank.has(item.key)) usual.push(item);
      else {
        buckets[score] ??= [];
        if (buckets[score].length < limit) buckets[score].push(item);
      }
    }
    usual.sort((a, b) => (rank.get(b.key) ?? 0) - (rank.get(a.key) ?? 0));
    return [...usual, ...buckets.reverse().flat()].slice(0, limit);
  }
}

/** Whether every word typed occurs in a part's name, number, category or codes. */
export function matches(part: Part, typed: string): boolean {
  const text = plain(`${part.number} ${part.name} ${part.category ?? ""} ${part.codes?.join(" ") ?? ""}`);
  return plain(typed)
    .split(/\s+/)
    .every((w) => text.includes(w));
}
