import type { ReactNode } from "react";
import type { Right } from "../types";
import { useMay } from "./session";

/** What is offered only to those who have a right at the office. */
export function May({ right, children }: { right: Right; children: ReactNode }) {
  return useMay(right) ? children : null;
}
