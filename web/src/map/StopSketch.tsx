/** Spots and the ways between them, drawn to scale: where no map of the region is to be had. */
import type { MapPoint } from "../types";
import type { MapProps } from "./MapView";

/** A unit of the drawing is about a hundred metres. */
const scale = 1112;

function frame(xs: number[], ys: number[]) {
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const edge = Math.max(12, (right - left) * 0.12, (bottom - top) * 0.12);
  const width = Math.max(right - left + 2 * edge, 60);
  const height = Math.max(bottom - top + 2 * edge, 45);
  return { x: (left + right - width) / 2, y: (top + bottom - height) / 2, width, height };
}

export function StopSketch({ spots, ways = [], label, onSpot }: MapProps) {
  const points = [...spots.map((s) => s.at), ...ways.flatMap((w) => w.line)];
  if (points.length === 0) return null;
  const squeeze = Math.cos((points[0].lat * Math.PI) / 180);
  const xy = (p: MapPoint): [number, number] => [p.lon * scale * squeeze, -p.lat * scale];
  const path = (line: MapPoint[]) => line.map((p, i) => `${i ? "L" : "M"}${xy(p)[0].toFixed(1)} ${xy(p)[1].toFixed(1)}`).join("");
  const f = frame(
    points.map((p) => xy(p)[0]),
    points.map((p) => xy(p)[1]),
  );
  const size = Math.max(f.width, f.height) / 100; // so that marks look alike at every scale
  const r = size * 3.4;
  return (
    <svg className="map-sketch" viewBox={`${f.x} ${f.y} ${f.width} ${f.height}`} role="img" aria-label={label}>
      {ways.map((w) => (
        <path key={w.id} className={w.dim ? "map-done" : "map-way"} d={path(w.line)} strokeWidth={size * 1.5} />
      ))}
      {spots.map((s) => {
        const [x, y] = xy(s.at);
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the list beside the map does the same by keyboard
          <g key={s.id} className={s.dim ? "map-stop done" : "map-stop"} onClick={() => onSpot?.(s.id)}>
            <path d={`M${x} ${y - r}L${x + r} ${y}L${x} ${y + r}L${x - r} ${y}Z`} strokeWidth={size * 0.5} />
            <text x={x} y={y + size * 1.25} fontSize={size * 3.6} textAnchor="middle">
              {s.label}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
