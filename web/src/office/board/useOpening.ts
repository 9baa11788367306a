import { type RefObject, useLayoutEffect } from "react";
import type { Board } from "../../types";
import { along, hour, type Scale, secondsOf } from "./scale";

/** Opens the day where it begins, or with little room, a while before now. */
export function useOpening(scroller: RefObject<HTMLElement | null>, board: Board, scale: Scale, zoom: number, hidden: boolean) {
  const { date } = board;
  // biome-ignore lint/correctness/useExhaustiveDependencies: a day is opened once, and stays where somebody scrolled it to
  useLayoutEffect(() => {
    const box = scroller.current;
    const track = box?.querySelector<HTMLElement>(".hours-track");
    if (!box || !track) return;
    const begins = board.people.flatMap((p) => [...p.hours.map((h) => secondsOf(scale, h.begin)), ...p.visits.map((v) => secondsOf(scale, v.start))]);
    const first = Math.max(0, Math.min(7 * hour, ...begins.filter((b) => b >= 0)));
    const now = secondsOf(scale, board.now);
    const from = zoom <= 6 && now > first && now < scale.length ? now - hour : first;
    box.scrollLeft = (along(scale, from) / 100) * track.offsetWidth;
  }, [date, zoom, hidden]);
}
