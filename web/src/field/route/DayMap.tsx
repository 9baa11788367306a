/** A map of the day that needs no signal: the coast, its roads, the way between the stops. */
import { useMemo } from "react";
import { useTranslation } from "react-i18next";
import { core } from "../../device/core";
import type { CoreCoast, Leg, MapPoint } from "../../types";
import { isOver, type Stop } from "../stops";

interface Props {
  legs: Leg[];
  stops: Stop[];
  onStop?: (id: string) => void;
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

export default function DayMap({ legs, stops, onStop }: Props) {
  const { t } = useTranslation();
  coast ??= core("coast", {});
  const land = useMemo(() => coast!.land.map((l) => `${path(l)}Z`).join(""), []);
  const roads = useMemo(() => Object.fromEntries(Object.entries(coast!.roads).map(([k, lines]) => [k, lines.map((l) => path(l)).join("")])), []);
  const placed = legs.flatMap((l, i) => {
    const stop = stops.find((s) => s.id === l.id);
    return stop?.site?.lat ? [{ stop, leg: l, number: i + 1, at: { lat: stop.site.lat, lon: stop.site.lon ?? 0 } }] : [];
  });
  const points = [...placed.map((p) => p.at), ...legs.flatMap((l) => l.way?.line ?? [])];
  if (points.length === 0) return <p className="empty">{t("map.nothing")}</p>;
  const f = frame(points);
  const size = Math.max(f.width, f.height) / 100; // so that marks look alike at every scale
  return (
    <svg className="day-map" viewBox={`${f.x} ${f.y} ${f.width} ${f.height}`} role="img" aria-label={t("map.label", { count: placed.length })}>
      <path className="map-land" d={land} fillRule="evenodd" strokeWidth={size * 0.4} />
      <path className="map-lane" d={roads.lane} strokeWidth={size * 0.35} />
      <path className="map-main" d={roads.main} strokeWidth={size * 0.9} />
      <path className="map-ferry" d={roads.ferry} strokeWidth={size * 0.45} strokeDasharray={`${size * 1.2} ${size}`} />
      {legs.map((l) => {
        const stop = stops.find((s) => s.id === l.id);
        return l.way && stop ? <path key={l.id} className={isOver(stop) ? "map-done" : "map-way"} d={path(l.way.line)} strokeWidth={size * 1.5} /> : null;
      })}
      {placed.map(({ stop, number, at }) => {
        const [x, y] = xy(at);
        const r = size * 3.4;
        return (
          // biome-ignore lint/a11y/noStaticElementInteractions: the list below the map does the same by keyboard
          <g key={stop.id} className={isOver(stop) ? "map-stop done" : "map-stop"} onClick={() => onStop?.(stop.id)}>
            <path d={`M${x} ${y - r}L${x + r} ${y}L${x} ${y + r}L${x - r} ${y}Z`} strokeWidth={size * 0.5} />
            <text x={x} y={y + size * 1.25} fontSize={size * 3.6} textAnchor="middle">
              {number}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
