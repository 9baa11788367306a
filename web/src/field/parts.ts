import type { Part } from "../types";

const plain = (s: string) =>
  s
    .normalize("NFD")
    .replace(/\p{Mn}/gu, "")
    .toLowerCase();

/** Whether every word typed occurs in a part's name, number or category. */
export function matches(part: Part, typed: string): boolean {
  const text = plain(`${part.number} ${part.name} ${part.category ?? ""} ${part.codes?.join(" ") ?? ""}`);
  return plain(typed)
    .split(/\s+/)
    .every((w) => text.includes(w));
}
