import type { Milliseconds } from '../units';

/** The second act must come within this time of the first, and not in the same breath. */
export const READY_MS: Milliseconds = 20000;
export const READY_LEAST_MS: Milliseconds = 250;
export const LASER_ACTS = ['ready', 'arm', 'let go', 'dark'] as const;
/** First *ready*, where the laser is looked at; then *arm*, at its sign in the frame. *Let go* and *dark* end both. */
export type LaserAct = (typeof LASER_ACTS)[number];

/** Arming in two acts. Pure: it is told the time. What ends it is the gate's, which it never opens by itself. */
export class Arming {
  #readyAt = NaN;

  /** @returns whether the laser is armed by this act */
  act(act: LaserAct, now: Milliseconds): boolean {
    if (act === 'ready') {
      this.#readyAt = now;
      return false;
    }
    const waited = now - this.#readyAt;
    this.#readyAt = NaN;
    return act === 'arm' && waited >= READY_LEAST_MS && waited <= READY_MS;
  }
  /** Whether the second act would arm it. */
  isReady(now: Milliseconds): boolean {
    return now - this.#readyAt <= READY_MS;
  }
  forget(): void {
    this.#readyAt = NaN;
  }
}
