/** The records that somebody opened last on this computer. */
import type { Choice } from "./choices";

const most = 8;
const name = (person: string) => `iter.recent.${person}`;

export function remembered(person: string): Choice[] {
  try {
    const list: unknown = JSON.parse(localStorage.getItem(name(person)) ?? "[]");
    return Array.isArray(list) ? list.filter((c): c is Choice => typeof c?.key === "string" && typeof c.to === "string" && typeof c.title === "string") : [];
  } catch {
    return [];
  }
}

/** Lets go of what somebody opened: they sign out. */
export const forgetOpened = (person: string) => localStorage.removeItem(name(person));

export function remember(person: string, choice: Choice) {
  const list = [{ ...choice, slip: undefined }, ...remembered(person).filter((c) => c.key !== choice.key)].slice(0, most);
  try {
    localStorage.setItem(name(person), JSON.stringify(list));
  } catch {
    // a convenience that may be missing
  }
}
