import { useCallback, useMemo, useState } from "react";
import type { Board, PlanFit, PlanLane, PlanWant } from "../../types";
import type { AskFits } from "./fits";

/** Where somebody means to put a visit, or work that waits. */
export interface Aim {
  id: string; // of the visit, or the work order
  lane: string;
  begin: number; // seconds of the day
  length: number; // seconds
}

/** What a visit takes, or work that waits, with the lane it is on and since when. */
export function wantOn(board: Board, id: string): { want: PlanWant; lane?: PlanLane; begin?: number } | undefined {
  const waits = board.plan.wants.find((w) => w.id === id);
  if (waits) return { want: waits };
  for (const lane of board.plan.lanes) {
    const stop = lane.stops?.find((s) => s.id === id);
    if (stop && !lane.thing) return { want: stop, lane, begin: stop.begin };
  }
  return undefined;
}

/** What somebody is about to place, and what that comes to. */
export function useAim(board: Board, ask: AskFits | undefined) {
  const [aim, setAim] = useState<Aim>();
  const fit = useMemo<PlanFit | undefined>(() => {
    const want = aim && wantOn(board, aim.id)?.want;
    return want && ask ? ask({ want: { ...want, length: aim.length }, lane: aim.lane, begin: aim.begin })[0] : undefined;
  }, [aim, ask, board]);
  const clear = useCallback(() => setAim(undefined), []);
  return { aim, fit, setAim, clear };
}
