import type { Hz, Milliseconds } from '../units';

/**
 * When a stream is sent: at once when something changed, but never more than two values in two of its intervals; again after
 * `keepAlive` when nothing did. Time is any monotonic clock: a wall clock set back would silence it.
 */
export class Pace {
  #interval: Milliseconds;
  #keepAlive: Milliseconds;
  #dirty = false;
  #sentAt = -Infinity;
  /** When the one before that went out: a change often comes in two ticks, and after a rest the second need not wait. */
  #before = -Infinity;

  constructor(mostPerSecond: Hz, keepAlive: Milliseconds | null) {
    this.#interval = 1000 / mostPerSecond;
    this.#keepAlive = keepAlive ?? Infinity;
  }

  set(mostPerSecond: Hz, keepAlive: Milliseconds | null): void {
    this.#interval = 1000 / mostPerSecond;
    this.#keepAlive = keepAlive ?? Infinity;
  }

  /** There is something new to send. */
  change(): void {
    this.#dirty = true;
  }

  /** @returns milliseconds from `now` until it is due: 0 or less when it is, infinite while nothing is to be sent */
  wait(now: Milliseconds): Milliseconds {
    const due = this.#dirty ? this.#before + 2 * this.#interval : this.#sentAt + this.#keepAlive;
    if (due === -Infinity) return this.#dirty ? 0 : Infinity;
    return Number.isNaN(due) ? Infinity : due - now;
  }

  /** Whether a change could be sent now. */
  open(now: Milliseconds): boolean {
    return !(this.#before + 2 * this.#interval > now);
  }

  sent(now: Milliseconds): void {
    this.#dirty = false;
    this.#before = this.#sentAt;
    this.#sentAt = now;
  }
}
