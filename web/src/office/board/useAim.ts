import { useCallback, useMemo, useState } from "react";
import type { Board, PlanFit, PlanWant } from "../../types";
import type { AskFits } from "./fits";
import { minute, type Scale, secondsOf } from "./scale";
import { movable, visitOn, wantOf } from "./stops";

/** Where somebody means to put a visit, or work that waits. */
export interface Aim {
  id: string; // of the visit, or the work order
  lane: string;
  begin: number; // seconds of the day
  length: number; // seconds
  thing?: string; // that is to go along, where it is held over the lane of one
}

/** Work that waits, or a visit of the day with whose it is and when it begins. */
interface Held {
  want: PlanWant;
  length: number; // all of it, however much is on the day
  lane?: string;
  begin?: number;
}

/** What goes along, with one more. */
export const withThing = (things: string[] | undefined, thing: string | undefined) => (thing ? [...new Set([...(things ?? []), thing])] : things);

/** What can be taken hold of by its id, and put elsewhere. */
export function heldOn(board: Board, scale: Scale, id: string): Held | undefined {
  const waits = board.plan.wants.find((w) => w.id === id);
  const on = visitOn(board, id);
  if (!on) return waits && { want: waits, length: waits.length };
  const want = waits ?? wantOf(board, id);
  if (!want || !movable(on.visit, scale)) return undefined;
  return { want, length: on.visit.minutes * minute, lane: on.person.id, begin: secondsOf(scale, on.visit.start) };
}

/** What somebody is about to place, and what that comes to. */
export function useAim(board: Board, scale: Scale, ask: AskFits | undefined) {
  const [aim, setAim] = useState<Aim>();
  const fitOf = useCallback(
    ({ id, lane, begin, length, thing }: Aim): PlanFit | undefined => {
      const want = heldOn(board, scale, id)?.want;
      if (!want || !ask) return undefined;
      return ask({ want: { ...want, length: Math.min(length, scale.length - begin), things: withThing(want.things, thing) }, lane, begin })[0];
    },
    [board, scale, ask],
  );
  const fit = useMemo(() => aim && fitOf(aim), [aim, fitOf]);
  return { aim, fit, fitOf, setAim };
}
