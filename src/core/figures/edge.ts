/** The geometry of an edge: a closed outline whose border swells. Everything is mirrored about the outline's own axes by construction. */

export const EDGE_OUTLINES = ['rectangle', 'round', 'drawing'] as const;
export type EdgeOutline = (typeof EDGE_OUTLINES)[number];
export const EDGE_WAYS = ['inward', 'outward', 'both'] as const;
export type EdgeWay = (typeof EDGE_WAYS)[number];
/** Where a side swells most: in its middle, or all along. */
export const EDGE_BULGES = ['middle', 'even'] as const;
export type EdgeBulge = (typeof EDGE_BULGES)[number];

export interface EdgeForm {
  readonly kind: 'edge';
  readonly outline: EdgeOutline;
  /** Of the outline, in surface pixels. */
  readonly width: number;
  readonly height: number;
  /** Radius of a rectangle's corners. */
  readonly corner: number;
  /** Places of an outline that is drawn: x and y of each in turn, −1 to 1 over width and height, y up; empty while there is none. */
  readonly drawing: readonly number[];
  readonly way: EdgeWay;
  readonly bulge: EdgeBulge;
  /** What lies under it is cut along its inner edge. */
  readonly cuts: boolean;
  /** A line is cut into its border. */
  readonly line: boolean;
}

/** Most places of a drawn outline. */
export const EDGE_DRAWING_MOST = 400;
/** The sides, in the order of their rows. */
export const EDGE_SIDES = ['top', 'right', 'bottom', 'left'] as const;
/** Places from the middle of a side (0) to its end (1) at which its swell is known. */
export const EDGE_STEPS = 128;
/** What is cut reaches so far under the border, so that no light comes through between. */
export const EDGE_UNDER = 1;

/**
 * How far a side bulges at *u*, 0 in its middle to 1 at its end, as a share of its swell. `middle`: (1 − u²)², flat at both ends;
 * `even`: everywhere alike, falling off over its last eighth so that corners stay where they are.
 */
export function bulgeAt(u: number, bulge: EdgeBulge): number {
  if (bulge === 'middle') return (1 - u * u) ** 2;
  const x = Math.min(1, Math.max(0, (1 - u) * 8));
  return x * x * (3 - 2 * x);
}

/** Reads a row at a share of its length, between two points as much as it lies between them. */
function rowAt(row: ArrayLike<number>, at: number, points: number, u: number): number {
  const x = u * (points - 1),
    i = Math.min(points - 1, Math.floor(x)),
    j = Math.min(points - 1, i + 1);
  return row[at + i]! + (row[at + j]! - row[at + i]!) * (x - i);
}

/**
 * One side's swell from its middle to its end, in surface pixels: two rows, that of all sides and its own, each from its first point in
 * the middle to its last at the end. Both halves of a side read the same numbers. Allocates nothing.
 * @param out - receives {@link EDGE_STEPS} numbers from `to` on @param points - 1 where it is one number and no row
 * @returns the furthest swell, without its sign
 */
export function sideSwell(
  out: Float32Array,
  to: number,
  bulge: EdgeBulge,
  all: ArrayLike<number>,
  allAt: number,
  allPoints: number,
  own: ArrayLike<number>,
  ownAt: number,
  ownPoints: number,
): number {
  let most = 0;
  for (let i = 0; i < EDGE_STEPS; i++) {
    const u = i / (EDGE_STEPS - 1),
      s = bulgeAt(u, bulge) * (rowAt(all, allAt, allPoints, u) + rowAt(own, ownAt, ownPoints, u));
    out[to + i] = s;
    most = Math.max(most, Math.abs(s));
  }
  return most;
}

/** How much of a glow is left at a distance along the normal from the moving edge: (1 − d / reach)², nothing from its reach on. */
export function glowAt(distance: number, reach: number): number {
  return distance >= reach || reach <= 0 ? 0 : (1 - Math.max(0, distance) / reach) ** 2;
}

/** The outline of an edge that is a drawing, while it has none: a plain diamond. */
const DIAMOND: readonly number[] = [0, 1, 1, 0, 0, -1, -1, 0];
export const drawnOutline = ({ drawing }: Pick<EdgeForm, 'drawing'>): readonly number[] =>
  drawing.length >= 6 ? drawing : DIAMOND;

/** How far about itself the distances from a drawn outline are known, in halves of its width and height. */
export const OUTLINE_REACH = 2;
/**
 * Signed distances from a closed outline, less than 0 within it, on a grid of `n` × `n` points over {@link OUTLINE_REACH} halves each
 * way, row by row from the lower left; in surface pixels. Source: the distance to a segment by projection, the side by crossings.
 */
export function outlineDistances(
  outline: readonly number[],
  width: number,
  height: number,
  n: number,
): Float32Array {
  const count = outline.length / 2,
    xs = new Float64Array(count),
    ys = new Float64Array(count),
    out = new Float32Array(n * n);
  for (let i = 0; i < count; i++) {
    xs[i] = (outline[2 * i]! * width) / 2;
    ys[i] = (outline[2 * i + 1]! * height) / 2;
  }
  for (let row = 0; row < n; row++)
    for (let column = 0; column < n; column++) {
      const x = (((column + 0.5) / n) * 2 - 1) * OUTLINE_REACH * (width / 2),
        y = (((row + 0.5) / n) * 2 - 1) * OUTLINE_REACH * (height / 2);
      let near = Infinity,
        within = false;
      for (let i = 0, j = count - 1; i < count; j = i++) {
        const ax = xs[j]!,
          ay = ys[j]!,
          dx = xs[i]! - ax,
          dy = ys[i]! - ay,
          long = dx * dx + dy * dy,
          t = long > 0 ? Math.min(1, Math.max(0, ((x - ax) * dx + (y - ay) * dy) / long)) : 0;
        near = Math.min(near, (ax + dx * t - x) ** 2 + (ay + dy * t - y) ** 2);
        if (ys[i]! > y !== ay > y && x < ax + ((y - ay) * dx) / dy) within = !within;
      }
      out[row * n + column] = Math.sqrt(near) * (within ? -1 : 1);
    }
  return out;
}

/**
 * A place on the plain outline, at a share of the way round.
 * @param out - receives x and y from the outline's middle, in surface pixels
 */
export function placeOnOutline(form: EdgeForm, share: number, out: number[]): void {
  const w = form.width / 2,
    h = form.height / 2;
  if (form.outline === 'round') {
    out[0] = w * Math.cos(share * 2 * Math.PI);
    out[1] = h * Math.sin(share * 2 * Math.PI);
    return;
  }
  if (form.outline === 'rectangle') {
    const way = share * 4 * (w + h),
      along = way < 2 * w ? 0 : way < 2 * w + 2 * h ? 1 : way < 4 * w + 2 * h ? 2 : 3;
    out[0] = along === 0 ? way - w : along === 1 ? w : along === 2 ? w - (way - 2 * w - 2 * h) : -w;
    out[1] = along === 0 ? h : along === 1 ? h - (way - 2 * w) : along === 2 ? -h : way - 4 * w - 2 * h - h;
    return;
  }
  const d = drawnOutline(form),
    n = d.length / 2,
    at = share * n,
    i = Math.floor(at) % n,
    j = (i + 1) % n,
    f = at - Math.floor(at);
  out[0] = (d[2 * i]! + (d[2 * j]! - d[2 * i]!) * f) * w;
  out[1] = (d[2 * i + 1]! + (d[2 * j + 1]! - d[2 * i + 1]!) * f) * h;
}
