import type { Seconds } from '../units';

/** For how long the quickest way there counts, in seconds: longer than a busy network stays busy, shorter than clocks drift apart. */
const WINDOW = 4;
/** What is late by so much for so long is a show that begins anew, in seconds. */
const LEAP = 0.25,
  PATIENCE = 0.5;
/** How much of what it is apart is walked in a second. */
const WALK = 2;

/**
 * Show time on another machine, from the times that frames carry and when they came. What came by the quickest way is trusted, as it
 * waited least; the rest is the network's jitter. Two machines that are told the same therefore agree to within the difference of their
 * quickest ways, whatever their own clocks say. Allocates nothing.
 */
export class ShowClock {
  /** Show time less own time: the greatest of this stretch, of the one before, and as it is used. */
  #best = -Infinity;
  #before = -Infinity;
  #used = NaN;
  #since = -Infinity;
  #walkedAt = 0;
  #lateSince = NaN;

  /** @param show - the frame's own time @param came - when it came, by this machine's monotonic clock */
  take(show: Seconds, came: Seconds): void {
    const offset = show - came;
    if (came - this.#since > WINDOW) {
      this.#before = this.#best;
      this.#best = -Infinity;
      this.#since = came;
    }
    const known = Math.max(this.#best, this.#before);
    if (offset < known - LEAP) {
      // Late once is late; late for longer, it is a show that begins anew.
      if (this.#lateSince !== this.#lateSince) this.#lateSince = came;
      if (came - this.#lateSince < PATIENCE) return;
      this.#best = this.#before = -Infinity;
      this.#used = NaN;
    }
    this.#lateSince = NaN;
    this.#best = Math.max(this.#best, offset);
    const goal = Math.max(this.#best, this.#before),
      share = Math.min(1, Math.max(0, came - this.#walkedAt) * WALK);
    // Nothing comes before it was: upward it is followed at once, downward it is walked.
    this.#used = this.#used >= goal ? this.#used + (goal - this.#used) * share : goal;
    this.#walkedAt = came;
  }
  /** Show time now; NaN before anything came. @param now - by this machine's monotonic clock */
  at(now: Seconds): Seconds {
    return now + this.#used;
  }
}
