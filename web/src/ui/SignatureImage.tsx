import type { Strokes } from "../types";

/** A signature, drawn from its strokes. */
export function SignatureImage({ strokes }: { strokes: Strokes }) {
  const points = strokes.flat();
  if (points.length === 0) return null;
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  const pad = 12;
  const [x, y] = [Math.min(...xs) - pad, Math.min(...ys) - pad];
  const box = `${x} ${y} ${Math.max(...xs) - x + pad} ${Math.max(...ys) - y + pad}`;
  return (
    <svg className="signature" viewBox={box} aria-hidden="true">
      {strokes.map((s) => (
        <polyline
          key={s.join(" ")}
          points={s.map((p) => p.join(",")).join(" ")}
          fill="none"
          stroke="currentColor"
          strokeWidth="5"
          strokeLinecap="round"
          strokeLinejoin="round"
        />
      ))}
    </svg>
  );
}
