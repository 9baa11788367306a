/** How far apart marks stand that are pressed, in CSS pixels. */
export const apart = 32;

/** More marks than these stand where they are: they are looked at from nearer. */
const most = 120;

export interface Point {
  x: number;
  y: number;
}

/**
 * How far to move each mark so that each can be pressed though several lie on one spot: those that come first stay, and what is too near one
 * of them moves aside.
 */
export function spread(points: Point[]): Point[] {
  if (points.length > most) return points.map(() => ({ x: 0, y: 0 }));
  const placed: Point[] = [];
  return points.map((p) => {
    const at = { ...p };
    let near = placed.find((q) => close(at, q));
    while (near) {
      at.x = near.x + apart;
      near = placed.find((q) => close(at, q));
    }
    placed.push(at);
    return { x: at.x - p.x, y: 0 };
  });
}

// A hair less than apart: what was moved aside by it is never too near again, however the sum was rounded.
const close = (a: Point, b: Point) => Math.abs(a.x - b.x) < apart - 0.01 && Math.abs(a.y - b.y) < apart - 0.01;
