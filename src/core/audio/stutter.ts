import type { Seconds } from '../units';

const SLOTS = 10,
  SLOT: Seconds = 1,
  /** The clock of a sound device and that of the machine go apart by less than this in a second: 0.5 ms at most, and twice that to be sure. */
  APART: Seconds = 0.001,
  /** After so long a time in which nobody looked, the machine slept. */
  SLEPT: Seconds = 2.5;

/** Whether so much missing sound of ten seconds is heard as a stutter. */
export const isStutter = (missed: Seconds): boolean => missed >= 0.1;

/**
 * How much sound a device went without: what it was given against the clock. Sound is asked for in bursts, so of each second only the
 * moment counts at which it was least behind. Any thread; allocates nothing once it is made.
 */
export class Stutter {
  /** Seconds that are missing since it was made. */
  all: Seconds = 0;
  /** Seconds that were missing in the last ten. */
  ofLate: Seconds = 0;
  readonly #missed = new Float64Array(SLOTS);
  #at = 0;
  #least = Infinity;
  #before = NaN;
  #from: Seconds = NaN;
  #seen: Seconds = NaN;

  /** What comes next is no matter of what was before: sound was stopped, or begins. What is counted stays. */
  restart(): void {
    this.#before = NaN;
    this.#from = NaN;
    this.#least = Infinity;
  }

  /** @param now - of any even clock @param given - sound that the device has taken until now */
  look(now: Seconds, given: Seconds): void {
    if (now - this.#seen > SLEPT) this.restart();
    this.#seen = now;
    if (this.#from !== this.#from) this.#from = now;
    if (now - given < this.#least) this.#least = now - given;
    if (now - this.#from < SLOT) return;
    const missed = this.#least - this.#before - APART * (now - this.#from);
    // The first second has none before it.
    const counts = missed > 0 ? missed : 0;
    this.#missed[this.#at] = counts;
    this.#at = (this.#at + 1) % SLOTS;
    this.all += counts;
    this.ofLate = 0;
    for (let i = 0; i < SLOTS; i++) this.ofLate += this.#missed[i]!;
    this.#before = this.#least;
    this.#least = Infinity;
    this.#from = now;
  }
}
