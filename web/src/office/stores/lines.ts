import type { Moved } from "../../types";
import { sum } from "./buy";

/** What moves, by part, in the order the parts come. */
export function sumLines(lines: Moved[]): Moved[] {
  const out: Moved[] = [];
  for (const l of lines) {
    const have = out.find((x) => x.part === l.part);
    if (have) have.quantity = sum(have.quantity, l.quantity);
    else out.push({ part: l.part, quantity: l.quantity });
  }
  return out;
}
