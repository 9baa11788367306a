/** Where a signature is drawn. */
import { useEffect, useRef } from "react";
import SignaturePad, { type PointGroup } from "signature_pad";
import type { Strokes } from "../types";

/** What is drawn, as the pad has it: its points lie on a pad of this width. */
export interface Ink {
  width: number;
  groups: PointGroup[];
}

export const noInk: Ink = { width: 1, groups: [] };

/** Strokes in thousandths of the pad's width, so that they look the same on any screen. */
export function strokesOf({ width, groups }: Ink): Strokes {
  const scale = (v: number) => Math.round((v / width) * 1000);
  return groups.map((s) => s.points.map((p) => [scale(p.x), scale(p.y)]));
}

export const withoutLast = (ink: Ink): Ink => ({ ...ink, groups: ink.groups.slice(0, -1) });

interface PadProps {
  ink: Ink;
  label: string;
  onInk: (ink: Ink) => void;
}

export function Pad({ ink, label, onInk }: PadProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pad = useRef<SignaturePad>(null);
  const now = useRef({ ink, onInk });
  now.current = { ink, onInk };
  useEffect(() => {
    const c = canvas.current!;
    const made = new SignaturePad(c, { penColor: getComputedStyle(c).color, minWidth: 1, maxWidth: 3 });
    made.addEventListener("endStroke", () => now.current.onInk({ width: c.clientWidth, groups: made.toData() }));
    pad.current = made;
    const observer = new ResizeObserver(() => {
      const ratio = Math.max(devicePixelRatio, 1);
      c.width = c.clientWidth * ratio;
      c.height = c.clientHeight * ratio;
      c.getContext("2d")?.scale(ratio, ratio);
      show(made, c, now.current.ink);
    });
    observer.observe(c);
    return () => {
      observer.disconnect();
      made.off();
    };
  }, []);
  // What was taken back elsewhere is not drawn any more.
  useEffect(() => {
    const made = pad.current;
    if (made && made.toData().length !== ink.groups.length) show(made, canvas.current!, ink);
  }, [ink]);
  return (
    <div className="sign-pad-place">
      <canvas ref={canvas} className="sign-pad" aria-label={label} role="img" />
      <span className="small quiet" aria-hidden="true">
        {label}
      </span>
    </div>
  );
}

/** Draws ink, to the width that the pad has now and in its colour. */
function show(pad: SignaturePad, canvas: HTMLCanvasElement, { width, groups }: Ink) {
  const scale = canvas.clientWidth / width;
  pad.clear();
  pad.fromData(groups.map((g) => ({ ...g, penColor: pad.penColor, points: g.points.map((p) => ({ ...p, x: p.x * scale, y: p.y * scale })) })));
}
