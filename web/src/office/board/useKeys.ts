import { useEffect, useRef } from "react";
import type { Board, PlanFit } from "../../types";
import { minute } from "./scale";
import { movable, visitOn } from "./stops";
import { type Aim, wantOn } from "./useAim";

interface Keys {
  board: Board;
  chosen?: string;
  aim?: Aim;
  fits: PlanFit[];
  may: boolean;
  onChoose: (id: string | undefined) => void;
  onAim: (aim: Aim | undefined) => void;
  onPlace: () => void;
}

/** How far a press of an arrow goes, and one with Shift, in seconds. */
const step = 5 * minute;
const stride = 30 * minute;

const moves: Record<string, [lanes: number, time: number]> = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] };

/**
 * The board by keys: down and up choose what waits, 1 to 5 take a suggestion, arrows move what is chosen, with Alt they make it longer or
 * shorter, Enter places it, Escape lets it go.
 */
export function useKeys(keys: Keys) {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const k = latest.current;
      const within = e.target as HTMLElement;
      if (!k.may || e.ctrlKey || e.metaKey || within.closest("input, textarea, select, [contenteditable], [role=dialog], [role=combobox], [role=listbox]"))
        return;
      if (respond(k, e, within)) {
        e.preventDefault();
        e.stopPropagation();
      }
    };
    addEventListener("keydown", press, { capture: true });
    return () => removeEventListener("keydown", press, { capture: true });
  }, []);
}

/** Does what a key says, and tells whether it said anything. */
function respond(k: Keys, e: KeyboardEvent, within: HTMLElement): boolean {
  const { aim, chosen, board } = k;
  if (e.key === "Escape" && (aim || chosen)) {
    if (aim) k.onAim(undefined);
    else k.onChoose(undefined);
    return true;
  }
  if (e.key === "Enter" && aim) {
    k.onPlace();
    return true;
  }
  const waits = board.unplaced.findIndex((o) => o.id === chosen);
  const number = Number(e.key);
  if (waits >= 0 && number >= 1 && number <= k.fits.length) {
    const f = k.fits[number - 1];
    k.onAim({ id: board.unplaced[waits].id, lane: f.lane, begin: f.begin, length: board.unplaced[waits].minutes * minute });
    return true;
  }
  const go = moves[e.key];
  if (!go) return false;
  const on = visitOn(board, chosen);
  if (aim || (on && movable(on.visit))) return steer(k, go, e);
  // What waits is gone through by up and down, from anywhere on the screen but a list of links.
  if (go[0] !== 0 && !within.closest("nav")) {
    const next = waits < 0 ? (go[0] > 0 ? 0 : board.unplaced.length - 1) : waits + go[0];
    const order = board.unplaced[next];
    if (!order) return false;
    k.onChoose(order.id);
    document.querySelector<HTMLElement>(`.to-place [data-take="${CSS.escape(order.id)}"]`)?.focus();
    return true;
  }
  return false;
}

/** Moves what is aimed at, or begins to aim from where the chosen visit is. */
function steer(k: Keys, [lanes, time]: [number, number], e: KeyboardEvent): boolean {
  const { board, chosen } = k;
  let { aim } = k;
  if (!aim) {
    const found = chosen ? wantOn(board, chosen) : undefined;
    if (!found?.lane) return false;
    aim = { id: found.want.id, lane: found.lane.id, begin: found.begin ?? 0, length: found.want.length };
  }
  const by = time * (e.shiftKey ? stride : step);
  if (e.altKey) {
    k.onAim({ ...aim, length: Math.max(15 * minute, aim.length + by) });
    return true;
  }
  const at = board.people.findIndex((p) => p.id === aim.lane);
  const lane = board.people[Math.max(0, Math.min(board.people.length - 1, at + lanes))]?.id ?? aim.lane;
  k.onAim({ ...aim, lane, begin: Math.max(0, aim.begin + by) });
  return true;
}
