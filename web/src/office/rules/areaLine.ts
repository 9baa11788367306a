import type { MapPoint } from "../../types";

/** A line around an area with one more corner: where it makes the line least longer, so that corners can be added in any order. */
export function withCorner(line: MapPoint[], p: MapPoint): MapPoint[] {
  if (line.length < 3) return [...line, p];
  const squeeze = Math.cos((p.lat * Math.PI) / 180);
  const far = (a: MapPoint, b: MapPoint) => Math.hypot(a.lat - b.lat, (a.lon - b.lon) * squeeze);
  const longer = (i: number) => {
    const [a, b] = [line[i], line[(i + 1) % line.length]];
    return far(a, p) + far(p, b) - far(a, b);
  };
  const best = line.map((_, i) => i).reduce((b, i) => (longer(i) < longer(b) ? i : b), 0);
  return line.toSpliced(best + 1, 0, p);
}
