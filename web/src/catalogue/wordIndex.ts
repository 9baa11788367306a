/** Finds lines by their words: whole ones, beginnings and parts, in any order, with slips of typing. */

/** Text as it is searched: lower case, without accents. */
export const plain = (s: string) =>
  s
    .normalize("NFD")
    .replace(/\p{Mn}/gu, "")
    .toLowerCase();

/** The words of a text, as they are searched. */
export const words = (s: string) =>
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

/** Below how many found slips are looked for too. */
const few = 5;

/** What a search takes, beside the words. */
export interface Search {
  /** how many are given at most */
  limit: number;
  /** which lines come into question; all when left out */
  takes?: (at: number) => boolean;
  /** how much sooner than others a line comes, whatever its words; 0 or nothing: by its words */
  rank?: (at: number) => number | undefined;
}

/** A search library's index took too long for a phone with 20,000 parts: make bench measures this one. */
export class WordIndex {
  /** The lines' words, each after a space. */
  private readonly texts: string[];
  /** Which lines each word without digits occurs in. */
  private readonly vocabulary = new Map<string, { at: number[]; letters: number }>();

  constructor(lines: string[][]) {
    this.texts = lines.map((all, at) => {
      for (const w of new Set(all)) {
        const have = this.vocabulary.get(w);
        if (have) have.at.push(at);
        else if (!/\p{N}/u.test(w)) this.vocabulary.set(w, { at: [at], letters: letters(w) });
      }
      return ` ${all.join(" ")}`;
    });
  }

  /** Which lines match, the best first. Without text: all that come into question. */
  find(text: string, search: Search): number[] {
    const typed = words(text);
    const exact = typed.map((w) => {
      const begins = ` ${w}`;
      return (at: number) => {
        const i = this.texts[at].indexOf(w);
        return i < 0 ? 0 : this.texts[at][i - 1] === " " || this.texts[at].includes(begins, i) ? 3 : 2;
      };
    });
    const found = this.best(exact, search);
    if (found.length >= few || typed.every((w) => slips(w) === 0)) return found;
    const near = typed.map((w, i) => {
      const marked = this.near(w);
      return (at: number) => exact[i](at) || marked[at];
    });
    const more = this.best(near, search);
    return [...found, ...more.filter((i) => !found.includes(i))].slice(0, search.limit);
  }

  /** Marks what has a word that one begins with, but for a slip. */
  private near(word: string): Uint8Array {
    const marked = new Uint8Array(this.texts.length);
    const allowed = slips(word);
    if (allowed === 0) return marked;
    const own = letters(word);
    for (const [other, has] of this.vocabulary) {
      if (other.length < word.length - allowed || ones(own & ~has.letters) > allowed || slipsBetween(word, other, allowed) > allowed) continue;
      for (const i of has.at) marked[i] = 1;
    }
    return marked;
  }

  /** The best of what all words match: by rank, then by how the words match. */
  private best(matches: ((at: number) => number)[], { limit, takes, rank }: Search): number[] {
    const buckets: number[][] = [];
    const usual: number[] = [];
    for (let at = 0; at < this.texts.length; at++) {
      if (takes && !takes(at)) continue;
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
      if (rank?.(at)) usual.push(at);
      else {
        buckets[score] ??= [];
        if (buckets[score].length < limit) buckets[score].push(at);
      }
    }
    usual.sort((a, b) => (rank?.(b) ?? 0) - (rank?.(a) ?? 0));
    return [...usual, ...buckets.reverse().flat()].slice(0, limit);
  }
}
