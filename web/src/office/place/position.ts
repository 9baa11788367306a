/** Places on earth as people write them: degrees north, degrees east. */
import type { MapPoint, RegionMap } from "../../types";

/** A place in words. */
export const written = (p: MapPoint) => `${p.lat.toFixed(5)}, ${p.lon.toFixed(5)}`;

const rounded = (degrees: number) => Math.round(degrees * 1e5) / 1e5;

/** A place as it is recorded: to about a metre. */
export const placed = (p: MapPoint): MapPoint => ({ lat: rounded(p.lat), lon: rounded(p.lon) });

/** Reads "54.812, -9.214" and "54.812 -9.214"; undefined for what is no place on earth. */
export function readPlace(text: string): MapPoint | undefined {
  const m = /^\s*(-?\d{1,2}(?:\.\d+)?)\s*[,; ]\s*(-?\d{1,3}(?:\.\d+)?)\s*$/.exec(text);
  if (!m) return undefined;
  const p = { lat: Number(m[1]), lon: Number(m[2]) };
  return Math.abs(p.lat) <= 90 && Math.abs(p.lon) <= 180 && (p.lat !== 0 || p.lon !== 0) ? placed(p) : undefined;
}

const within = (p: MapPoint, r: RegionMap) => p.lat >= r.south && p.lat <= r.north && p.lon >= r.west && p.lon <= r.east;

/** Whether a place is outside the region, and inside when its degrees are swapped. */
export const isSwapped = (p: MapPoint, region: RegionMap | undefined): boolean =>
  Boolean(region?.rev) && !within(p, region!) && within({ lat: p.lon, lon: p.lat }, region!);

/** Whether a place is outside the region that the firm brought. */
export const isOutside = (p: MapPoint, region: RegionMap | undefined): boolean => Boolean(region?.rev) && !within(p, region!);
