import type { ReactNode } from "react";
import { useMay } from "./session";

/** What is offered only to those who may record a kind of entry at the office. */
export function May({ kind, children }: { kind: string; children: ReactNode }) {
  return useMay(kind) ? children : null;
}
