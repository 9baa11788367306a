/** A map of the coast and its roads that needs no signal, with spots on it and ways between them. */
import { type ReactNode, useMemo } from "react";
import { core } from "../device/core";
import type { CoreCoast, MapPoint } from "../types";

export interface Spot {
  id: string;
  at: MapPoint;
  label: string;
  dim?: boolean;
}

export interface Way {
  id: string;
  line: MapPoint[];
  dim?: boolean;
}

let coast: CoreCoast | undefined;

/** A unit of the map is about a hundred metres. */
const scale = 1112;
const squeeze = Math.cos((54.8 * Math.PI) / 180);
const xy = (p: MapPoint): [number, number] => [p.lon * scale * squeeze, -p.lat * scale];
const path = (line: MapPoint[]) => line.map((p, i) => `${i ? "L" : "M"}${xy(p)[0].toFixed(1)} ${xy(p)[1].toFixed(1)}`).join("");

function frame(points: MapPoint[]) {
  const xs = points.map((p) => xy(p)[0]);
  const ys = points.map((p) => xy(p)[1]);
  const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const edge = Math.max(12, (right - left) * 0.12, (bottom - top) * 0.12);
  const width = Math.max(right - left + 2 * edge, 60);
  const height = Math.max(bottom - top + 2 * edge, 45);
  return { x: (left + right - width) / 2, y: (top + bottom - height) / 2, width, height };
}

interface Props {
  spots: Spot[];
  ways?: Way[];
  label: string;
  onSpot?: (id: string) => void;
  nothing?: ReactNode;
}

export function CoastMap({ spots, ways = [], label, onSpot, nothing = null }: Props) {
  coast ??= core("coast", {});
  const land = useMemo(() => coast!.land.map((l) => `${path(l)}Z`).join(""), []);
  const roads = useMemo(() => Object.fromEntries(Object.entries(coast!.roads).map(([k, lines]) => [k, lines.map((l) => path(l)).join("")])), []);
  const points = [...spots.map((s) => s.at), ...ways.flatMap((w) => w.line)];
  if (points.length === 0) return nothing;
  const f = frame(points);
  const size = Math.max(f.width, f.height) / 100; // so that marks look alike at every scale
  const r = size * 3.4;
  return (
    <svg className="day-map" viewBox={`${f.x} ${f.y} ${f.width} ${f.height}`} role="img" aria-label={label}>
      <path className="map-land" d={land} fillRule="evenodd" strokeWidth={size * 0.4} />
      <path className="map-lane" d={roads.lane} strokeWidth={size * 0.35} />
      <path className="map-main" d={roads.main} strokeWidth={size * 0.9} />
      <path className="map-ferry" d={roads.ferry} strokeWidth={size * 0.45} strokeDasharray={`${size * 1.2} ${size}`} />
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
