import { type PointerEvent, useRef, useState } from "react";

const far = 90;

/** A sideways swipe on a line: right is one answer, left the other. What it shows on the way is how far it has come. */
export function useSwipe(onRight: () => void, onLeft: () => void) {
  const from = useRef<{ x: number; y: number }>(undefined);
  const [moved, setMoved] = useState(0);
  const way = useRef(0); // as moved, and there before the screen is
  const swiped = useRef(false);
  const move = (x: number) => {
    way.current = Math.max(-140, Math.min(140, x));
    setMoved(way.current);
  };
  const end = (e: PointerEvent) => {
    // A quick swipe ends before its last move is told.
    if (from.current && swiped.current) move(e.clientX - from.current.x);
    from.current = undefined;
    if (way.current > far) onRight();
    else if (way.current < -far) onLeft();
    move(0);
  };
  return {
    moved,
    handlers: {
      onPointerDown: (e: PointerEvent) => {
        from.current = { x: e.clientX, y: e.clientY };
        swiped.current = false;
      },
      onPointerMove: (e: PointerEvent) => {
        if (!from.current) return;
        const x = e.clientX - from.current.x;
        if (Math.abs(x) < 12 && !swiped.current) return;
        if (Math.abs(e.clientY - from.current.y) > Math.abs(x)) return;
        swiped.current = true;
        e.currentTarget.setPointerCapture(e.pointerId);
        move(x);
      },
      onPointerUp: end,
      onPointerCancel: () => {
        from.current = undefined;
        move(0);
      },
      // A swipe is not a tap on what lies under it.
      onClickCapture: (e: { preventDefault: () => void; stopPropagation: () => void }) => {
        if (!swiped.current) return;
        e.preventDefault();
        e.stopPropagation();
      },
    },
  };
}
