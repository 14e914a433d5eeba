import type { Hz, Seconds } from '../units';

/** How a scanner's mirrors move: each axis like a mass on a spring that is driven towards where it is told to go. */
export interface ScannerSetting {
  /** How quickly it answers: its own frequency. Of a scanner for 30,000 points a second about 2,500. */
  readonly hz: Hz;
  /** 1: it comes to rest without going past; less: it overshoots. */
  readonly damping: number;
  /** Most of the field a second, and a second squared. */
  readonly speed: number;
  readonly acceleration: number;
}
export const USUAL_SCANNER: ScannerSetting = { hz: 2500, damping: 0.8, speed: 2500, acceleration: 3e7 };

/** One axis' worth of steps within a point, so that the model itself adds no error that is seen. */
const STEPS = 4;

/**
 * What two mirrors do of a stream of points: a second-order system with limits for speed and acceleration, stepped by the half-implicit
 * Euler way, which keeps its energy. Where it is, is what is seen, not where it was told to go.
 */
export class Scanner {
  x = 0;
  y = 0;
  #vx = 0;
  #vy = 0;
  readonly #setting: ScannerSetting;
  constructor(setting: ScannerSetting = USUAL_SCANNER) {
    this.#setting = setting;
  }

  /** One point. @param dt - how long it lasts */
  step(x: number, y: number, dt: Seconds): void {
    const { hz, damping, speed, acceleration } = this.#setting,
      w = 2 * Math.PI * hz,
      h = dt / STEPS;
    for (let i = 0; i < STEPS; i++) {
      this.#vx = moved(this.#vx, x - this.x, w, damping, h, speed, acceleration);
      this.#vy = moved(this.#vy, y - this.y, w, damping, h, speed, acceleration);
      this.x += this.#vx * h;
      this.y += this.#vy * h;
    }
  }
}
function moved(
  v: number,
  apart: number,
  w: number,
  damping: number,
  h: Seconds,
  speed: number,
  acceleration: number,
): number {
  let a = w * w * apart - 2 * damping * w * v;
  a = a > acceleration ? acceleration : a < -acceleration ? -acceleration : a;
  const next = v + a * h;
  return next > speed ? speed : next < -speed ? -speed : next;
}
