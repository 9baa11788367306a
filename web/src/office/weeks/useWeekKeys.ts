import { type KeyboardEvent, useEffect, useRef } from "react";
import type { Held, Over, useWeekDrag } from "./useWeekDrag";

const arrows: Record<string, [side: number, down: number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/**
 * Dragging by keys: space takes hold, arrows go to another day or person, space or Enter puts it there, Escape lets it go. people are the rows, "" of
 * those that are no people; across tells that they stand side by side.
 */
export function useWeekKeys(drag: ReturnType<typeof useWeekDrag>, people: string[], dates: string[], across: boolean) {
  const latest = useRef({ drag, people, dates, across });
  latest.current = { drag, people, dates, across };
  const byKeys = useRef(false);
  const holding = drag.held !== undefined;
  useEffect(() => {
    if (!holding || !byKeys.current) return;
    const press = (e: globalThis.KeyboardEvent) => {
      const { drag, people, dates, across } = latest.current;
      const arrow = arrows[e.key];
      const ends = e.key === "Escape" || e.key === "Enter" || e.key === " ";
      if (!arrow && !ends) return;
      e.preventDefault();
      e.stopPropagation();
      if (e.key === "Escape") drag.hold(undefined);
      else if (ends) drag.put();
      else if (drag.over) {
        const [day, row] = across ? [arrow[1], arrow[0]] : arrow;
        drag.hold(drag.held, { person: next(people, drag.over.person, row), date: next(dates, drag.over.date, day) });
      }
    };
    addEventListener("keydown", press, { capture: true });
    return () => {
      removeEventListener("keydown", press, { capture: true });
      byKeys.current = false;
    };
  }, [holding]);
  /** Takes hold of something where it is, or at the first of the days. */
  return (e: KeyboardEvent, held: Held, at?: Over) => {
    if (e.key !== " " || holding) return;
    e.preventDefault();
    byKeys.current = true;
    drag.hold(held, at ?? { person: people[0] ?? "", date: dates[0] });
  };
}

/** The one so many on in a list; the last or first at its ends. */
const next = (list: string[], now: string, by: number) => list[Math.max(0, Math.min(list.length - 1, list.indexOf(now) + by))] ?? now;
