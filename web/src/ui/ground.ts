/** The ground of the screen: light, dark, or sun for the highest contrast. */
import { useSyncExternalStore } from "react";

export type Ground = "light" | "dark" | "sun";
export const grounds: Ground[] = ["light", "dark", "sun"];

const key = "iter.ground";
const listeners = new Set<() => void>();

function chosen(): Ground {
  const kept = localStorage.getItem(key) as Ground | null;
  if (kept && grounds.includes(kept)) return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export function chooseGround(g: Ground) {
  localStorage.setItem(key, g);
  for (const f of listeners) f();
}

/** Follows what is chosen in another tab. */
if (typeof window !== "undefined")
  addEventListener("storage", (e) => {
    if (e.key === key) for (const f of listeners) f();
  });

/** The chosen ground; also sets it on the page. */
export function useGround(): Ground {
  const ground = useSyncExternalStore((f) => {
    listeners.add(f);
    return () => listeners.delete(f);
  }, chosen);
  document.documentElement.dataset.theme = ground;
  return ground;
}
