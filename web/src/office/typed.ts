/** What somebody typed at the office and did not save: it is in this browser's storage until it is saved, thrown away, or they sign out. */
import { Drafts } from "../draft/draft";

/** After how long a draft that nobody came back to is let go of, in milliseconds. */
const longest = 30 * 86_400_000;

const prefix = (person: string) => `iter.typed.${person}.`;

/** The names of what a person typed. */
function names(person: string): string[] {
  const begin = prefix(person);
  return Object.keys(localStorage)
    .filter((key) => key.startsWith(begin))
    .map((key) => key.slice(begin.length));
}

/** The value of a draft that can be read and is not too old. */
function read(key: string): object | undefined {
  try {
    const { at, value } = JSON.parse(localStorage.getItem(key) ?? "null") as { at: number; value: object };
    return Date.now() - at < longest && typeof value === "object" ? value : undefined;
  } catch {
    return undefined;
  }
}

/** A person's drafts at the office. In a browser without storage, or whose storage is full, they last as long as the page. */
export function draftsOf(person: string): Drafts {
  return new Drafts({
    load: async () =>
      names(person).flatMap((name) => {
        const value = read(prefix(person) + name);
        if (!value) localStorage.removeItem(prefix(person) + name);
        return value ? [[name, value] as [string, object]] : [];
      }),
    put: (name, value) => {
      try {
        localStorage.setItem(prefix(person) + name, JSON.stringify({ at: Date.now(), value }));
      } catch {
        // it is in memory all the same
      }
    },
    drop: (name) => localStorage.removeItem(prefix(person) + name),
  });
}

/** Lets go of all that a person typed: they sign out. */
export function forgetTyped(person: string) {
  for (const name of names(person)) localStorage.removeItem(prefix(person) + name);
}
