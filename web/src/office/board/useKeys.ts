import { useEffect, useRef } from "react";
import type { Board, PlanFit } from "../../types";
import { minute, type Scale } from "./scale";
import { type Aim, heldOn } from "./useAim";

interface Keys {
  board: Board;
  scale: Scale;
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
const shortest = 15 * minute;

const moves: Record<string, [lanes: number, time: number]> = { ArrowLeft: [0, -1], ArrowRight: [0, 1], ArrowUp: [-1, 0], ArrowDown: [1, 0] };

/**
 * The board by keys: down and up choose what waits, 1 to 5 take a suggestion, arrows move what is chosen, + and - make it longer and
 * shorter, Enter places it, Escape lets it go.
 */
export function useKeys(keys: Keys) {
  const latest = useRef(keys);
  latest.current = keys;
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const k = latest.current;
      const within = e.target as HTMLElement;
      if (
        !k.may ||
        e.ctrlKey ||
        e.metaKey ||
        e.altKey ||
        within.closest("input, textarea, select, [contenteditable], [role=dialog], [role=combobox], [role=listbox]")
      )
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
  const held = chosen === undefined ? undefined : heldOn(board, k.scale, chosen);
  const from = aim ?? (held?.lane && held.begin !== undefined ? { id: chosen!, lane: held.lane, begin: held.begin, length: held.length } : undefined);
  const longer = { "+": 1, "-": -1 }[e.key];
  if (from && longer) {
    k.onAim({ ...from, length: Math.max(shortest, from.length + longer * shortest) });
    return true;
  }
  const go = moves[e.key];
  if (!go) return false;
  if (from) {
    k.onAim(steered(board, from, go, e.shiftKey ? stride : step));
    return true;
  }
  // What waits is gone through by up and down, from anywhere on the screen but a list of links.
  const order = go[0] !== 0 && !within.closest("nav") ? board.unplaced[waits < 0 ? (go[0] > 0 ? 0 : board.unplaced.length - 1) : waits + go[0]] : undefined;
  if (!order) return false;
  k.onChoose(order.id);
  document.querySelector<HTMLElement>(`.to-place [data-take="${CSS.escape(order.id)}"]`)?.focus();
  return true;
}

/** What is aimed at, moved to another lane or time. */
function steered(board: Board, aim: Aim, [lanes, time]: [number, number], by: number): Aim {
  const at = board.people.findIndex((p) => p.id === aim.lane);
  const lane = board.people[Math.max(0, Math.min(board.people.length - 1, at + lanes))]?.id ?? aim.lane;
  return { ...aim, lane, begin: Math.max(0, aim.begin + time * by) };
}
