import type { Milliseconds } from '../units';
import { FieldMap } from './field';
import { LaserGate } from './gate';
import { At, POINT, POINTS_MOST } from './points';
import { Scanner } from './scanner';
import { type LaserSetting, scannerFor } from './setting';

/**
 * What mirrors would draw of a frame if it were lit: laid into the field, through a gate of its own, and drawn by the model of a
 * scanner. For looking at, before anything is armed; no light comes of it. Allocates nothing after it is made.
 */
export class Rehearsal {
  /** As drawn: {@link POINT} numbers each. */
  readonly points = new Float32Array(POINT * POINTS_MOST);
  count = 0;
  /** Of the last frame: the share of its points that the gate let through, of those that were meant to be lit. */
  passed = 1;
  readonly #map: FieldMap;
  readonly #gate: LaserGate;
  readonly #scanner: Scanner;
  readonly #seconds: number;
  #until: Milliseconds = -Infinity;

  constructor(setting: LaserSetting) {
    this.#map = new FieldMap(setting.field);
    this.#gate = new LaserGate(setting.limits);
    this.#gate.arm();
    this.#scanner = new Scanner(scannerFor(setting));
    this.#seconds = 1 / setting.limits.pointsPerSecond;
  }

  /** Draws a frame, once the one before has had its time. @param now - by a steady clock @returns whether it was drawn */
  draw(wanted: Float32Array, count: number, now: Milliseconds): boolean {
    if (now < this.#until) return false;
    const n = Math.min(count, POINTS_MOST),
      { points } = this;
    this.#until = now + n * this.#seconds * 1000;
    this.count = n;
    points.set(wanted.subarray(0, n * POINT));
    this.#map.apply(points, n);
    let meant = 0;
    for (let i = 0; i < n; i++) if (isLit(points, i)) meant++;
    this.#gate.look(points, n);
    this.#gate.pass(points, n, { now, frameAge: 0, driverAge: 0, dark: false }, points);
    this.passed = meant > 0 ? this.#gate.lit / meant : 1;
    for (let i = 0; i < n; i++) {
      const at = i * POINT;
      this.#scanner.step(points[at + At.X]!, points[at + At.Y]!, this.#seconds);
      points[at + At.X] = this.#scanner.x;
      points[at + At.Y] = this.#scanner.y;
    }
    // A number that is none shut it; here it is looked at, and goes on.
    if (!this.#gate.armed) this.#gate.arm();
    return true;
  }
}
const isLit = (p: Float32Array, i: number): boolean =>
  p[i * POINT + At.Red]! + p[i * POINT + At.Green]! + p[i * POINT + At.Blue]! > 0;
