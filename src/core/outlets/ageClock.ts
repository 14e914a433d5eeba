import type { Milliseconds } from '../units';

/** Two machines' clocks drift apart by no more than this share of the time. */
const DRIFT = 1e-4;

/**
 * How old something is that was stamped by another clock. The quickest way from there to here that was seen tells how far the clocks
 * are apart; what took longer is late by so much. Whatever leaps only makes things look older, or as if they had just come.
 */
export class AgeClock {
  #apart = Infinity;
  #at: Milliseconds = NaN;

  /** @param stamp - of the other clock @param now - of this one @returns when it was stamped, by this clock; never later than now */
  made(stamp: Milliseconds, now: Milliseconds): Milliseconds {
    if (!Number.isFinite(stamp)) return -Infinity;
    const crept = this.#apart + (now > this.#at ? (now - this.#at) * DRIFT : 0);
    this.#apart = Math.min(crept, now - stamp);
    this.#at = now;
    return stamp + this.#apart;
  }
  /** Another clock from now on. */
  forget(): void {
    this.#apart = Infinity;
    this.#at = NaN;
  }
}
