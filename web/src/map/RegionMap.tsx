/** The map of the firm's region, drawn from its tiles, with spots and ways on it. */
import { Map as Drawn, LngLatBounds, Marker } from "maplibre-gl";
import "maplibre-gl/dist/maplibre-gl.css";
import { useEffect, useEffectEvent, useMemo, useRef, useState } from "react";
import { useTranslation } from "react-i18next";
import type { MapPoint } from "../types";
import { useGround } from "../ui/ground";
import styles from "./Map.module.css";
import type { MapProps, Way } from "./MapView";
import { marked } from "./marked";
import { provide } from "./protocol";
import type { MapSource } from "./source";
import { spread } from "./spread";
import { styleOf } from "./style";

const at = (p: MapPoint): [number, number] => [p.lon, p.lat];

/** How far in a map goes by itself. */
const nearest = 13.5;

function boundsOf(points: MapPoint[], source: MapSource): LngLatBounds {
  const { west, south, east, north } = source.about;
  if (points.length === 0) return new LngLatBounds([west, south, east, north]);
  return points.reduce((b, p) => b.extend(at(p)), new LngLatBounds(at(points[0]), at(points[0])));
}

const lines = (ways: Way[]) => ({
  type: "FeatureCollection" as const,
  features: ways.map((w) => ({
    type: "Feature" as const,
    properties: { dim: Boolean(w.dim), width: w.thin ? 2 : 4.5 },
    geometry: { type: "LineString" as const, coordinates: w.line.map(at) },
  })),
});

const none: Way[] = [];

/** What was given, as it was first given: what draws by it need not draw anew. */
function useSame<T>(value: T): T {
  const [same, setSame] = useState(value);
  if (same === value || JSON.stringify(same) === JSON.stringify(value)) return same;
  setSame(value);
  return value;
}

export default function RegionMap({ source, label, onSpot, onPlace, onMove, low, high, ...given }: MapProps & { source: MapSource }) {
  const { t } = useTranslation();
  const ground = useGround();
  const place = useRef<HTMLDivElement>(null);
  const [map, setMap] = useState<Drawn>();
  const pressed = useEffectEvent((p: MapPoint) => onPlace?.(p));
  const moved = useEffectEvent((id: string, p: MapPoint) => (onMove ? onMove(id, p) : onPlace?.(p)));
  const chosen = useEffectEvent((id: string) => onSpot?.(id));
  const spots = useSame(given.spots);
  const ways = useSame(given.ways ?? none);
  const [pressable, placing] = [onSpot !== undefined, onPlace !== undefined];
  const points = useMemo(() => [...spots.map((s) => s.at), ...ways.flatMap((w) => w.line)], [spots, ways]);
  const shown = useRef("");
  const [drawn, setDrawn] = useState(false);

  // biome-ignore lint/correctness/useExhaustiveDependencies: what is shown at first is moved by the effects below
  useEffect(() => {
    const release = provide(source);
    const m = new Drawn({
      container: place.current!,
      style: styleOf(source.about),
      bounds: boundsOf(points, source),
      fitBoundsOptions: { padding: 48, maxZoom: nearest },
      attributionControl: false,
      dragRotate: false,
      pitchWithRotate: false,
      touchPitch: false,
      rollEnabled: false,
      cooperativeGestures: false,
      fadeDuration: 0,
      maxZoom: 19,
      minZoom: source.about.least - 1,
      locale: { "Map.Title": label },
    });
    m.touchZoomRotate.disableRotation();
    m.keyboard.disableRotation();
    m.on("click", (e) => pressed({ lat: e.lngLat.lat, lon: e.lngLat.lng }));
    m.on("styledata", () => wayLayers(m));
    m.once("idle", () => setDrawn(true));
    setMap(m);
    return () => {
      m.remove();
      release();
    };
  }, [source]);

  // biome-ignore lint/correctness/useExhaustiveDependencies: another ground has other colours
  useEffect(() => void map?.setStyle(styleOf(source.about)), [map, source, ground]);

  // The ways, again with each new style.
  useEffect(() => {
    if (!map) return;
    const draw = () => {
      wayLayers(map);
      const known = map.getSource("ways");
      if (known && "setData" in known) (known as { setData(d: object): void }).setData(lines(ways));
    };
    draw();
    map.on("styledata", draw);
    return () => void map.off("styledata", draw);
  }, [map, ways]);

  useEffect(() => {
    if (!map) return;
    const markers = spots.map((s) => {
      const marker = new Marker({ element: marked(s, pressable, () => chosen(s.id)), draggable: placing }).setLngLat(at(s.at)).addTo(map);
      marker.on("dragend", () => moved(s.id, { lat: marker.getLngLat().lat, lon: marker.getLngLat().lng }));
      return marker;
    });
    // A pin that is being placed stands where the place is.
    const aside = () => {
      const by = spread(markers.map((m) => map.project(m.getLngLat())));
      for (const [i, m] of markers.entries()) m.setOffset([by[i].x, by[i].y]);
    };
    if (pressable && !placing) {
      aside();
      map.on("zoom", aside);
      map.on("resize", aside);
    }
    return () => {
      map.off("zoom", aside);
      map.off("resize", aside);
      for (const m of markers) m.remove();
    };
  }, [map, spots, pressable, placing]);

  // It follows what is to be seen, and stays where somebody moved it while that is the same.
  useEffect(() => {
    const now = JSON.stringify(points.length > 60 ? [points[0], points.at(-1), points.length] : points);
    if (!map || now === shown.current) return;
    const first = shown.current === "";
    shown.current = now;
    const seen = map.getBounds();
    if (!first && placing && points.every((p) => seen.contains(at(p)))) return; // a pin that was moved
    map.fitBounds(boundsOf(points, source), { padding: 48, maxZoom: nearest, animate: false });
  }, [map, points, source, placing]);

  return (
    <div className={styles.frame} aria-busy={!drawn}>
      <div ref={place} className={[styles.drawn, onPlace && styles.placing, low && styles.low, high && styles.high].filter(Boolean).join(" ")} />
      <div className={styles.zoom}>
        <button type="button" aria-label={t("map.nearer")} title={t("map.nearer")} onClick={() => map?.zoomIn()}>
          +
        </button>
        <button type="button" aria-label={t("map.farther")} title={t("map.farther")} onClick={() => map?.zoomOut()}>
          −
        </button>
        <button type="button" onClick={() => map?.fitBounds(boundsOf(points, source), { padding: 48, maxZoom: nearest })}>
          {t("map.whole")}
        </button>
      </div>
    </div>
  );
}

/** Has a style draw ways, under the names. */
function wayLayers(m: Drawn) {
  if (!m.style?.stylesheet || m.getSource("ways")) return;
  const page = getComputedStyle(document.documentElement);
  const colour = (name: string) => page.getPropertyValue(name).trim();
  m.addSource("ways", { type: "geojson", data: lines([]) });
  const layout = { "line-join": "round" as const, "line-cap": "round" as const };
  const shade = ["case", ["get", "dim"], 0.45, 1] as ["case", ["get", string], number, number];
  m.addLayer(
    { id: "way-sides", type: "line", source: "ways", layout, paint: { "line-color": colour("--map-land"), "line-width": ["+", ["get", "width"], 3.5] } },
    "road-names",
  );
  m.addLayer(
    { id: "ways", type: "line", source: "ways", layout, paint: { "line-color": colour("--ink"), "line-width": ["get", "width"], "line-opacity": shade } },
    "road-names",
  );
}
