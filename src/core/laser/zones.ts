/** A closed shape in the field: x and y of each corner in turn, from −1 to 1. */
export type Polygon = readonly number[];
/** Corners that one may have. */
export const CORNERS_MOST = 64;

/** Whether a place lies inside, by how often a ray from it crosses the edges. */
export function isInside(polygon: Polygon, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    const xi = polygon[i]!,
      yi = polygon[i + 1]!,
      xj = polygon[j]!,
      yj = polygon[j + 1]!;
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

/** Square of how far a place is from a line between two others. */
function apart2(px: number, py: number, ax: number, ay: number, bx: number, by: number): number {
  const dx = bx - ax,
    dy = by - ay,
    long2 = dx * dx + dy * dy;
  let t = long2 > 0 ? ((px - ax) * dx + (py - ay) * dy) / long2 : 0;
  t = t < 0 ? 0 : t > 1 ? 1 : t;
  const x = px - ax - t * dx,
    y = py - ay - t * dy;
  return x * x + y * y;
}
const side = (ax: number, ay: number, bx: number, by: number, px: number, py: number): number =>
  (bx - ax) * (py - ay) - (by - ay) * (px - ax);
function crosses(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  dx: number,
  dy: number,
): boolean {
  return (
    side(ax, ay, bx, by, cx, cy) > 0 !== side(ax, ay, bx, by, dx, dy) > 0 &&
    side(cx, cy, dx, dy, ax, ay) > 0 !== side(cx, cy, dx, dy, bx, by) > 0
  );
}

/**
 * Whether a way from one place to another comes into a shape, or nearer to it than a margin. Allocates nothing.
 * @param margin - 0 or more, in the field's unit
 */
export function comesNear(
  polygon: Polygon,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  margin: number,
): boolean {
  if (isInside(polygon, ax, ay) || isInside(polygon, bx, by)) return true;
  const near2 = margin * margin;
  for (let i = 0, j = polygon.length - 2; i < polygon.length; j = i, i += 2) {
    const cx = polygon[j]!,
      cy = polygon[j + 1]!,
      dx = polygon[i]!,
      dy = polygon[i + 1]!;
    if (crosses(ax, ay, bx, by, cx, cy, dx, dy)) return true;
    if (
      apart2(ax, ay, cx, cy, dx, dy) <= near2 ||
      apart2(bx, by, cx, cy, dx, dy) <= near2 ||
      apart2(cx, cy, ax, ay, bx, by) <= near2 ||
      apart2(dx, dy, ax, ay, bx, by) <= near2
    )
      return true;
  }
  return false;
}
