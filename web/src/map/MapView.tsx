/** A map with spots on it and ways between them: the firm's region where there is one, else a drawing of the spots alone. */
import { lazy, type ReactNode, Suspense } from "react";
import { useTranslation } from "react-i18next";
import type { MapPoint } from "../types";
import { shortDate } from "../ui/format";
import styles from "./Map.module.css";
import { StopSketch } from "./StopSketch";
import { useMapSource } from "./source";

export interface Spot {
  id: string;
  at: MapPoint;
  /** what stands in the waymark: a number, or a sign */
  label: string;
  /** what it is, for who does not see it */
  name?: string;
  dim?: boolean;
  /** where somebody was last heard of, and what waits for a visit: a stop where it says nothing */
  sort?: "person" | "waits" | "urgent";
}

export interface Way {
  id: string;
  line: MapPoint[];
  dim?: boolean;
  thin?: boolean;
}

export interface MapProps {
  spots: Spot[];
  ways?: Way[];
  /** what the map shows, for who does not see it */
  label: string;
  onSpot?: (id: string) => void;
  /** has the place that is pressed chosen, or the spot moved there */
  onPlace?: (at: MapPoint) => void;
  /** has the spots moved by dragging: each is then told from a place that is pressed */
  onMove?: (id: string, at: MapPoint) => void;
  /** less high, among fields; higher, where it is the screen */
  low?: boolean;
  high?: boolean;
}

const RegionMap = lazy(() => import("./RegionMap"));

let drawable: boolean | undefined;

/** Whether the browser can draw a map. */
function canDraw(): boolean {
  drawable ??= Boolean(document.createElement("canvas").getContext("webgl2"));
  return drawable;
}

export function MapView({ nothing = null, ...props }: MapProps & { nothing?: ReactNode }) {
  const { t } = useTranslation();
  const source = useMapSource();
  const anything = props.spots.length > 0 || (props.ways ?? []).some((w) => w.line.length > 0);
  if (!source?.about.rev || !canDraw()) return anything ? <StopSketch {...props} /> : nothing;
  if (!anything && !props.onPlace) return nothing;
  return (
    <div className={styles.map}>
      <Suspense fallback={<StopSketch {...props} />}>
        <RegionMap source={source} {...props} />
      </Suspense>
      <p className={styles.source}>{t("map.source", { source: source.about.source, day: shortDate(source.about.at) })}</p>
    </div>
  );
}
