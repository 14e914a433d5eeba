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
  constructor(most = 512) {
    this.order = new Int32Array(most);
    this.#taken = new Uint8Array(most);
  }

  /** @param x @param y - where the mirrors are before */
  find(paths: LaserPaths, x: number, y: number): void {
    const n = paths.paths,
      { order } = this;
    this.#taken.fill(0, 0, n);
    let px = x,
      py = y;
    for (let k = 0; k < n; k++) {
      let best = 0,
        least = Infinity;
      for (let p = 0; p < n; p++) {
        if (this.#taken[p]) continue;
        for (const turned of [false, true]) {
          const code = turned ? -1 - p : p,
            far = apart(px, py, placeX(paths, code, true), placeY(paths, code, true));
          if (far < least) {
            least = far;
            best = code;
          }
        }
      }
      order[k] = best;
      this.#taken[best < 0 ? -1 - best : best] = 1;
      px = placeX(paths, best, false);
      py = placeY(paths, best, false);
    }
    this.#turn(paths, n, x, y);
  }

  #turn(paths: LaserPaths, n: number, x: number, y: number): void {
    const { order } = this;
    let tries = 0,
      better = true;
    const endX = (k: number): number => (k < 0 ? x : placeX(paths, order[k]!, false)),
      endY = (k: number): number => (k < 0 ? y : placeY(paths, order[k]!, false));
    while (better && tries < TRIES) {
      better = false;
      for (let i = 0; i < n && tries < TRIES; i++)
        for (let j = i; j < n && tries < TRIES; j++) {
          tries++;
          // Turned round, i … j are reached at j's end and left at i's beginning.
          const now =
              apart(
                endX(i - 1),
                endY(i - 1),
                placeX(paths, order[i]!, true),
                placeY(paths, order[i]!, true),
              ) +
              (j + 1 < n
                ? apart(
                    endX(j),
                    endY(j),
                    placeX(paths, order[j + 1]!, true),
                    placeY(paths, order[j + 1]!, true),
                  )
                : 0),
            then =
              apart(endX(i - 1), endY(i - 1), endX(j), endY(j)) +
              (j + 1 < n
                ? apart(
                    placeX(paths, order[i]!, true),
                    placeY(paths, order[i]!, true),
                    placeX(paths, order[j + 1]!, true),
                    placeY(paths, order[j + 1]!, true),
                  )
                : 0);
          if (then >= now - 1e-9) continue;
          better = true;
          for (let a = i, b = j; a <= b; a++, b--) {
            const first = order[a]!;
            order[a] = -1 - order[b]!;
            order[b] = -1 - first;
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
const apart = (ax: number, ay: number, bx: number, by: number): number => Math.hypot(bx - ax, by - ay);
/** The corner where a path begins, or ends, in the way it is drawn. */
function cornerOf(paths: LaserPaths, code: number, first: boolean): number {
  const p = code < 0 ? -1 - code : code;
  return first === code >= 0 ? paths.starts[p]! : paths.starts[p + 1]! - 1;
}
const placeX = (paths: LaserPaths, code: number, first: boolean): number =>
  paths.corners[cornerOf(paths, code, first) * POINT]!;
const placeY = (paths: LaserPaths, code: number, first: boolean): number =>
  paths.corners[cornerOf(paths, code, first) * POINT + 1]!;
