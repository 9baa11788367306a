/** Where a signature is drawn. */
import { type RefObject, useEffect, useRef } from "react";
import SignaturePad from "signature_pad";
import type { Strokes } from "../types";

/** Strokes in thousandths of the pad's width, so that they look the same on any screen. */
export function strokesOf(pad: SignaturePad | null, width: number): Strokes {
  const scale = (v: number) => Math.round((v / width) * 1000);
  return (pad?.toData() ?? []).map((s) => s.points.map((p) => [scale(p.x), scale(p.y)]));
}

interface PadProps {
  pad: RefObject<SignaturePad | null>;
  canvas: RefObject<HTMLCanvasElement | null>;
  label: string;
  onBegin: () => void;
}

export function Pad({ pad, canvas, label, onBegin }: PadProps) {
  const begin = useRef(onBegin);
  begin.current = onBegin;
  useEffect(() => {
    const c = canvas.current!;
    const ink = getComputedStyle(c).color;
    const made = new SignaturePad(c, { penColor: ink, minWidth: 1, maxWidth: 3 });
    made.addEventListener("beginStroke", () => begin.current());
    pad.current = made;
    const fit = () => {
      const data = made.toData();
      const ratio = Math.max(devicePixelRatio, 1);
      c.width = c.clientWidth * ratio;
      c.height = c.clientHeight * ratio;
      c.getContext("2d")?.scale(ratio, ratio);
      made.clear();
      made.fromData(data);
    };
    const observer = new ResizeObserver(fit);
    observer.observe(c);
    return () => {
      observer.disconnect();
      made.off();
    };
  }, [pad, canvas]);
  return (
    <div className="sign-pad-place">
      <canvas ref={canvas} className="sign-pad" aria-label={label} role="img" />
      <span className="small quiet" aria-hidden="true">
        {label}
      </span>
    </div>
  );
}
