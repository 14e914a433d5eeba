import { At, POINT } from './points';
import { isInside, type Polygon } from './zones';

/** How far the nearest lit point is from any of the shapes, of the field; 0 inside, Infinity where there is none. */
export function nearest(points: Float32Array, count: number, shapes: readonly Polygon[]): number {
  let least = Infinity;
  for (let i = 1; i < count; i++) {
    const at = i * POINT;
    if (!(points[at + At.Red]! + points[at + At.Green]! + points[at + At.Blue]! > 0)) continue;
    const x = points[at + At.X]!,
      y = points[at + At.Y]!;
    for (const shape of shapes) least = Math.min(least, isInside(shape, x, y) ? 0 : toEdge(shape, x, y));
  }
  return least;
}
function toEdge(p: Polygon, x: number, y: number): number {
  let least = Infinity;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
    const dx = p[i]! - p[j]!,
      dy = p[i + 1]! - p[j + 1]!,
      long2 = dx * dx + dy * dy,
      t = long2 > 0 ? Math.max(0, Math.min(1, ((x - p[j]!) * dx + (y - p[j + 1]!) * dy) / long2)) : 0;
    least = Math.min(least, Math.hypot(x - p[j]! - t * dx, y - p[j + 1]! - t * dy));
  }
  return least;
}
