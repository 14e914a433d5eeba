import type { Milliseconds, Seconds } from '../units';

/** Outputs that can blink, to be seen how late they are. */
export const BLINKERS = ['wire', 'screen', 'overlay'] as const;
export type Blinker = (typeof BLINKERS)[number];
const STRIDE = 1000;

/** One output as a number that stands in every frame: more than 0. @param index - its place among those of its kind, from 0 */
export const blinkCode = (kind: Blinker, index: number): number =>
  (BLINKERS.indexOf(kind) + 1) * STRIDE + index;
/** Whether an output blinks: 1 lit, −1 dark between two flashes, 0 not at all. @param blink - of a frame @param code - see {@link blinkCode} */
export const blinkOf = (blink: number, code: number): number =>
  Math.abs(blink) === code ? Math.sign(blink) : 0;

/** A flash each second: far from what can hurt, and easy to press along with. */
export const BLINK_EVERY: Milliseconds = 1000;
export const BLINK_LONG: Milliseconds = 150;
/** It ends by itself. */
const BLINK_MOST: Seconds = 60;

/** Which output blinks at a moment of the show, and since when. Pure; stepped with every tick. */
export class Blink {
  /** For the frame: the output's code while it is lit, its negative between two flashes, 0 when none blinks. */
  value = 0;
  /** Show time of its first flash. */
  from: Seconds = 0;
  #code = 0;
  #fresh = false;

  /** @param code - see {@link blinkCode}; 0 ends it */
  set(code: number): void {
    this.#code = Number.isInteger(code) && code > 0 ? code : 0;
    this.#fresh = true;
  }
  step(time: Seconds): void {
    if (this.#fresh) this.from = time;
    this.#fresh = false;
    const since = time - this.from;
    if (since > BLINK_MOST || since < 0) this.#code = 0;
    if (this.#code === 0) {
      this.value = 0;
      return;
    }
    this.value = (since * 1000) % BLINK_EVERY < BLINK_LONG ? this.#code : -this.#code;
  }
}
