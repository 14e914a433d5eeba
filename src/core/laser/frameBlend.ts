import type { Milliseconds } from '../units';
import { At, POINT, POINTS_MOST } from './points';

/** A point that is further than this from where it was is another one: it is not led there. */
const NEAR = 0.12;
/** Frames that come less often are not led into each other: motion would lag behind. */
const APART_MOST: Milliseconds = 40;

/**
 * From one frame to the next without a jump: where both are drawn alike, every point is led from where it was to where it is in the
 * time between them; all others change at once. Allocates nothing after it is made.
 */
export class FrameBlend {
  readonly #now = new Float32Array(POINT * POINTS_MOST);
  readonly #before = new Float32Array(POINT * POINTS_MOST);
  count = 0;
  #alike = false;
  #at: Milliseconds = -Infinity;
  #apart: Milliseconds = 0;

  /** @param points - `count` of them @param at - when they are taken, by a steady clock */
  take(points: Float32Array, count: number, at: Milliseconds): void {
    const n = Math.min(count, POINTS_MOST);
    this.#apart = at - this.#at;
    this.#alike = n === this.count && this.#apart > 0 && this.#apart <= APART_MOST;
    this.#at = at;
    this.count = n;
    this.#before.set(this.#now.subarray(0, n * POINT));
    this.#now.set(points.subarray(0, n * POINT));
  }
  /** Writes a point as it is at a time. @param i - of the frame @param to - its place in `out` */
  put(i: number, at: Milliseconds, out: Float32Array, to: number): void {
    const from = i * POINT,
      a = this.#before,
      b = this.#now;
    const dx = b[from + At.X]! - a[from + At.X]!,
      dy = b[from + At.Y]! - a[from + At.Y]!;
    const way = (at - this.#at) / this.#apart;
    // What is no number is never near: it goes on as it is, and the gate sees it.
    const led = this.#alike && way < 1 && dx > -NEAR && dx < NEAR && dy > -NEAR && dy < NEAR,
      left = led ? 1 - (way > 0 ? way : 0) : 0;
    for (let c = 0; c < POINT; c++) out[to + c] = b[from + c]!;
    if (left > 0) {
      out[to + At.X] = b[from + At.X]! - dx * left;
      out[to + At.Y] = b[from + At.Y]! - dy * left;
    }
  }
}
