import { length } from './length';
import type { LaserPaths } from './paths';
import { POINT } from './points';

/** Turns that are tried to shorten the dark ways of one frame, at most. */
const TRIES = 4000;

/**
 * In which order paths are drawn, and which way round, so that the mirrors travel little in the dark: from each to the nearest, and
 * then stretches turned round (2-opt) while that saves any, within a fixed number of tries. Allocates nothing after it is made.
 */
export class PathOrder {
  /** Paths in their order; a negative number −1 − p is path p from its end. */
  readonly order: Int32Array;
  readonly #taken: Uint8Array;
  /** Where each path begins and ends: x, y, x, y. */
  readonly #ends: Float64Array;
  constructor(most = 512) {
    this.order = new Int32Array(most);
    this.#taken = new Uint8Array(most);
    this.#ends = new Float64Array(4 * most);
  }

  /** @param x @param y - where the mirrors are before */
  find(paths: LaserPaths, x: number, y: number): void {
    const n = paths.paths,
      { order } = this,
      ends = this.#ends,
      taken = this.#taken;
    for (let p = 0; p < n; p++) {
      const first = paths.starts[p]! * POINT,
        last = (paths.starts[p + 1]! - 1) * POINT;
      ends[4 * p] = paths.corners[first]!;
      ends[4 * p + 1] = paths.corners[first + 1]!;
      ends[4 * p + 2] = paths.corners[last]!;
      ends[4 * p + 3] = paths.corners[last + 1]!;
    }
    taken.fill(0, 0, n);
    let px = x,
      py = y;
    for (let k = 0; k < n; k++) {
      let best = 0,
        least = Infinity;
      for (let p = 0; p < n; p++) {
        if (taken[p]) continue;
        // Squares order as lengths do.
        const ax = ends[4 * p]! - px,
          ay = ends[4 * p + 1]! - py,
          bx = ends[4 * p + 2]! - px,
          by = ends[4 * p + 3]! - py,
          a = ax * ax + ay * ay,
          b = bx * bx + by * by;
        if (a < least) {
          least = a;
          best = p;
        }
        if (b < least) {
          least = b;
          best = -1 - p;
        }
      }
      order[k] = best;
      const p = best < 0 ? -1 - best : best,
        end = 4 * p + (best < 0 ? 0 : 2);
      taken[p] = 1;
      px = ends[end]!;
      py = ends[end + 1]!;
    }
    this.#turn(n, x, y);
  }

  /** Place among the ends where a path is left (or, from its beginning, reached) in the way it is drawn. */
  #left(code: number): number {
    return code < 0 ? 4 * (-1 - code) : 4 * code + 2;
  }
  #reached(code: number): number {
    return code < 0 ? 4 * (-1 - code) + 2 : 4 * code;
  }
  #turn(n: number, x: number, y: number): void {
    const { order } = this,
      ends = this.#ends;
    let tries = 0,
      better = true;
    while (better && tries < TRIES) {
      better = false;
      for (let i = 0; i < n && tries < TRIES; i++) {
        const before = i > 0 ? this.#left(order[i - 1]!) : -1,
          bx = before < 0 ? x : ends[before]!,
          by = before < 0 ? y : ends[before + 1]!;
        for (let j = i; j < n && tries < TRIES; j++) {
          tries++;
          // Turned round, i … j are reached at j's end and left at i's beginning.
          const a = this.#reached(order[i]!),
            b = this.#left(order[j]!),
            ax = ends[a]!,
            ay = ends[a + 1]!,
            ex = ends[b]!,
            ey = ends[b + 1]!;
          let now = length(ax - bx, ay - by),
            then = length(ex - bx, ey - by);
          if (j + 1 < n) {
            const c = this.#reached(order[j + 1]!),
              cx = ends[c]!,
              cy = ends[c + 1]!;
            now += length(cx - ex, cy - ey);
            then += length(cx - ax, cy - ay);
          }
          if (then >= now - 1e-9) continue;
          better = true;
          for (let k = i, m = j; k <= m; k++, m--) {
            const first = order[k]!;
            order[k] = -1 - order[m]!;
            order[m] = -1 - first;
          }
        }
      }
    }
  }
}

/** How far the mirrors travel in the dark for an order. @param order - all paths, as {@link PathOrder} gives them */
export function darkTravel(paths: LaserPaths, order: ArrayLike<number>, x: number, y: number): number {
  let sum = 0,
    px = x,
    py = y;
  for (let k = 0; k < paths.paths; k++) {
    sum += apart(px, py, placeX(paths, order[k]!, true), placeY(paths, order[k]!, true));
    px = placeX(paths, order[k]!, false);
    py = placeY(paths, order[k]!, false);
  }
  return sum;
}
const apart = (ax: number, ay: number, bx: number, by: number): number => length(bx - ax, by - ay);
/** The corner where a path begins, or ends, in the way it is drawn. */
function cornerOf(paths: LaserPaths, code: number, first: boolean): number {
  const p = code < 0 ? -1 - code : code;
  return first === code >= 0 ? paths.starts[p]! : paths.starts[p + 1]! - 1;
}
const placeX = (paths: LaserPaths, code: number, first: boolean): number =>
  paths.corners[cornerOf(paths, code, first) * POINT]!;
const placeY = (paths: LaserPaths, code: number, first: boolean): number =>
  paths.corners[cornerOf(paths, code, first) * POINT + 1]!;
