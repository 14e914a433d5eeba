/** Phrases that are told apart, in bars. */
export const PHRASES = [4, 8, 16] as const;
export type PhraseBars = (typeof PHRASES)[number];
const LONGEST = 16;
/** What was found fades by so much a bar, to half in some twenty bars: then a piece may begin anew. */
const KEEP = 0.97;
/** Another place must be better founded by this much than the one that is believed. */
const STUBBORN = 1.3,
  LEAST = 0.25;

/**
 * Where phrases of 4, 8 and 16 bars begin, from where something became different: of sixteen places those at which it did most of late.
 * A phrase of 8 begins where one of 4 does, one of 16 where one of 8 does. Counts bars; knows no time. Allocates nothing.
 */
export class BarGrid {
  /** Bars since it began to count; −1 before the first. */
  bar = -1;
  readonly #found = new Float64Array(LONGEST);
  readonly #offset: Record<PhraseBars, number> = { 4: 0, 8: 0, 16: 0 };

  /** Another bar begins. */
  step(): void {
    this.bar++;
    for (let i = 0; i < LONGEST; i++) this.#found[i]! *= KEEP;
  }
  /** At the beginning of a bar something became different. @param bar - which, as counted here @param strength - 0 to 1 */
  mark(bar: number, strength: number): void {
    this.#found[mod(bar, LONGEST)]! += strength;
    let among = 0;
    for (const length of PHRASES) {
      const before = length === 4 ? 1 : length / 2;
      // Only places at which the shorter phrase begins too.
      const was = mod(this.#offset[length], before) === among ? this.#offset[length] : among;
      let best = was,
        most = this.#at(was, length);
      for (let place = among; place < length; place += before) {
        const here = this.#at(place, length);
        if (place !== was && here > Math.max(most, this.#at(was, length) * STUBBORN + LEAST)) {
          best = place;
          most = here;
        }
      }
      this.#offset[length] = among = best;
    }
  }
  #at(place: number, length: number): number {
    let sum = 0;
    for (let i = place; i < LONGEST; i += length) sum += this.#found[i]!;
    return sum;
  }
  /** Which bar of its phrase the present one is, from 0. */
  barOf(length: PhraseBars): number {
    return this.bar < 0 ? 0 : mod(this.bar - this.#offset[length], length);
  }
}

const mod = (x: number, n: number): number => ((x % n) + n) % n;
