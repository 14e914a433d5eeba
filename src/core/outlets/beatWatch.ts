import type { Milliseconds } from '../units';

/** Between two looks further apart than this the watcher itself was kept from looking, and knows nothing of the other. */
const KEPT_FROM_LOOKING: Milliseconds = 150;
/** A beat that was missed only a few looks ago may still come. */
const LOOKS_LEAST = 8;

/**
 * Watches the beat of a loop on another thread. A machine that is too busy stops the watcher too: time in which it could not look
 * does not count, so that only a loop which stands still while others run is taken for stopped.
 */
export class BeatWatch {
  #beat = NaN;
  #stood: Milliseconds = 0;
  #looks = 0;
  #lookedAt = NaN;

  /**
   * @param now - a monotonic clock @param beat - what the other writes at every turn; any change counts
   * @param limit - how long it may stand still
   * @returns true once each time that it stood still for so long
   */
  look(now: Milliseconds, beat: number, limit: Milliseconds): boolean {
    const since = now - this.#lookedAt;
    this.#lookedAt = now;
    if (beat !== this.#beat) {
      this.#beat = beat;
      this.#stood = 0;
      this.#looks = 0;
      return false;
    }
    if (!(since >= 0 && since <= KEPT_FROM_LOOKING)) return false;
    this.#stood += since;
    this.#looks++;
    if (this.#stood < limit || this.#looks < LOOKS_LEAST) return false;
    this.#stood = 0;
    this.#looks = 0;
    return true;
  }
}
