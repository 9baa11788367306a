import { type RefObject, useEffect, useRef } from "react";
import { type Scale, snapped } from "./scale";
import { groundOf, under } from "./useDrag";

/** Tells of a press on a stretch of a lane on which nothing is. */
export function useEmpty(root: RefObject<HTMLElement | null>, hidden: boolean, scale: Scale, onEmpty: (person: string, at: number) => void) {
  const latest = useRef({ scale, onEmpty });
  latest.current = { scale, onEmpty };
  useEffect(() => {
    const all = root.current;
    if (hidden || !all) return;
    const press = (e: MouseEvent) => {
      const on = e.target as HTMLElement;
      const ground = on.closest(".lane-track") && !on.closest("button") ? groundOf(all) : undefined;
      const at = ground && under(ground, latest.current.scale, e.clientX, e.clientY);
      if (at) latest.current.onEmpty(at.lane, snapped(at.at));
    };
    all.addEventListener("click", press);
    return () => all.removeEventListener("click", press);
  }, [root, hidden]);
}
