import { type PointerEvent, type RefObject, useEffect, useRef } from "react";
import type { Board } from "../../types";
import { minute, type Scale, snapped } from "./scale";
import { type Aim, heldOn } from "./useAim";

/** How far the pointer goes before a press is a drag, in pixels. */
const slack = 5;

/** The shortest visit that a drag makes, in seconds. */
const shortest = 15 * minute;

interface Drag {
  id: string;
  x: number;
  y: number;
  taken: number; // where on the day it was taken hold of, in seconds
  begin: number;
  length: number;
  lane?: string;
  stretch: boolean; // its end is drawn out
  ground: Ground;
  cover?: HTMLElement; // once it moves
  aim?: Aim; // where it is held now
}

interface Handlers {
  board: Board;
  scale: Scale;
  root: RefObject<HTMLElement | null>;
  onAim: (aim: Aim | undefined) => void;
  onDrop: (aim: Aim | undefined) => void;
}

/** Where lanes lie, as they did when a drag began: to look for what is under the pointer at each move would take longer than a frame. */
interface Ground {
  box: HTMLElement;
  scroller: DOMRect;
  left: number;
  width: number; // of the tracks
  lanes: { id: string; top: number; bottom: number; thing: boolean }[];
}

export function groundOf(root: HTMLElement | null): Ground | undefined {
  const track = root?.querySelector<HTMLElement>(".hours-track");
  if (!root?.parentElement || !track) return undefined;
  const lanes = [...root.querySelectorAll<HTMLElement>("[data-lane]")];
  return {
    box: root,
    scroller: root.parentElement.getBoundingClientRect(),
    left: track.offsetLeft,
    width: track.offsetWidth,
    lanes: lanes.map((l) => ({ id: l.dataset.lane ?? "", top: l.offsetTop, bottom: l.offsetTop + l.offsetHeight, thing: l.classList.contains("thing") })),
  };
}

/** Where a pointer is on the lanes: in whose, and at what time. */
export function under({ box, scroller, left, width, lanes }: Ground, scale: Scale, x: number, y: number) {
  if (x < scroller.left || x > scroller.right || y < scroller.top || y > scroller.bottom) return undefined;
  const at = box.getBoundingClientRect();
  const lane = lanes.find((l) => y - at.top >= l.top && y - at.top < l.bottom);
  return lane && { lane: lane.id, thing: lane.thing, at: ((x - at.left - left) / width) * scale.length };
}

/** Lies over all while something is dragged, so that the pointer meets nothing else; the wheel still goes to the lanes. */
function cover(scroller: HTMLElement | null): HTMLElement {
  const over = document.createElement("div");
  over.className = "drag-cover";
  over.addEventListener("wheel", (e) => scroller?.scrollBy(e.deltaX, e.deltaY), { passive: true });
  document.body.append(over);
  return over;
}

/**
 * Visits and what waits are dragged to lanes and times. What is under the pointer is told once a frame; a press that goes nowhere stays a
 * press.
 */
export function useDrag({ board, scale, root, onAim, onDrop }: Handlers) {
  const drag = useRef<Drag>(undefined);
  const latest = useRef({ board, scale, onAim, onDrop });
  latest.current = { board, scale, onAim, onDrop };
  useEffect(() => {
    let frame = 0;
    let last: globalThis.PointerEvent | undefined;
    const aim = () => {
      frame = 0;
      const d = drag.current;
      if (!d || !last) return;
      const { scale, onAim } = latest.current;
      const to = under(d.ground, scale, last.clientX, last.clientY);
      if (d.stretch && d.lane) {
        if (to) d.aim = { id: d.id, lane: d.lane, begin: d.begin, length: Math.max(shortest, snapped(d.length + to.at - d.taken)) };
      } else if (to && (to.thing || (last.ctrlKey && d.lane && to.lane !== d.lane))) {
        // A thing is booked for a visit where that is, and somebody comes along to it; what nobody has yet is given to somebody first.
        d.aim = d.lane ? { id: d.id, lane: d.lane, begin: d.begin, length: d.length, along: to.lane } : undefined;
      } else {
        d.aim = to && { id: d.id, lane: to.lane, begin: Math.max(0, snapped(d.begin + to.at - d.taken)), length: d.length };
      }
      onAim(d.aim);
    };
    const move = (e: globalThis.PointerEvent) => {
      const d = drag.current;
      if (!d) return;
      if (e.buttons === 0) return end(false); // it was let go outside the window
      if (!d.cover && Math.hypot(e.clientX - d.x, e.clientY - d.y) < slack) return;
      d.cover ??= cover(d.ground.box.parentElement);
      last = e;
      frame ||= requestAnimationFrame(aim);
    };
    const end = (dropped: boolean) => {
      const d = drag.current;
      if (frame) {
        cancelAnimationFrame(frame);
        aim(); // where it was let go
      }
      drag.current = undefined;
      if (!d?.cover) return;
      d.cover.remove();
      // The press that ends a drag presses nothing.
      const swallow = (e: Event) => e.stopPropagation();
      addEventListener("click", swallow, { capture: true, once: true });
      setTimeout(() => removeEventListener("click", swallow, { capture: true }));
      if (dropped) latest.current.onDrop(d.aim);
      else latest.current.onAim(undefined);
    };
    const up = () => end(true);
    const cancel = () => end(false);
    const letGo = (e: KeyboardEvent) => e.key === "Escape" && drag.current?.cover && end(false);
    addEventListener("pointermove", move);
    addEventListener("pointerup", up);
    addEventListener("pointercancel", cancel);
    addEventListener("keydown", letGo);
    return () => {
      removeEventListener("pointermove", move);
      removeEventListener("pointerup", up);
      removeEventListener("pointercancel", cancel);
      removeEventListener("keydown", letGo);
      cancelAnimationFrame(frame);
      drag.current?.cover?.remove();
    };
  }, []);

  /** Takes hold of what carries data-take, its id; data-stretch within it draws out its end. */
  return (e: PointerEvent) => {
    const held = (e.target as HTMLElement).closest<HTMLElement>("[data-take]");
    const id = held?.dataset.take;
    if (!id || e.button !== 0 || e.pointerType === "touch") return;
    const found = heldOn(latest.current.board, latest.current.scale, id);
    if (!found) return;
    const ground = groundOf(root.current);
    if (!ground) return;
    const at = under(ground, latest.current.scale, e.clientX, e.clientY)?.at;
    const begin = found.begin ?? 0; // what waits begins where the pointer is
    drag.current = {
      id,
      x: e.clientX,
      y: e.clientY,
      taken: found.begin === undefined ? 0 : (at ?? begin),
      begin,
      length: found.length,
      lane: found.lane,
      stretch: (e.target as HTMLElement).closest("[data-stretch]") !== null,
      ground,
    };
  };
}
