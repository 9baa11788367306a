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
  /** the lane of a thing or a person that is to go along, where it is held over that: whose it is and when stays */
  along?: string;
}

/** Work that waits, or a visit of the day with whose it is and when it begins. */
interface Held {
  want: PlanWant;
  length: number; // all of it, however much is on the day
  lane?: string;
  begin?: number;
}

/** Whether a lane is a thing's. */
export const isThing = (board: Board, lane: string) => board.plan.lanes.some((l) => l.id === lane && l.thing);

/** Who or what goes along, with one more. */
export const withOne = (list: string[] | undefined, one: string) => [...new Set([...(list ?? []), one])];

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
    ({ id, lane, begin, length, along }: Aim): PlanFit | undefined => {
      const want = heldOn(board, scale, id)?.want;
      if (!want || !ask) return undefined;
      const thing = along !== undefined && isThing(board, along);
      const held = { ...want, length: Math.min(length, scale.length - begin), things: thing ? withOne(want.things, along) : want.things };
      return ask({ want: held, lane: thing ? lane : (along ?? lane), begin })[0]; // who comes along has their own way there
    },
    [board, scale, ask],
  );
  const fit = useMemo(() => aim && fitOf(aim), [aim, fitOf]);
  return { aim, fit, fitOf, setAim };
}
