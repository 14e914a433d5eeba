import { hopFrames, type Hop } from '../audio/hop';
import type { Hz, Seconds } from '../units';
import type { EarRunner } from './runner';

/**
 * Peak or RMS of the last two hops (10.7 ms): a step reads 71 % after one hop and all of it after two.
 * The peak is the greater of the two channels, the RMS the root of their mean power, so that neither a sound
 * on one side nor one in antiphase is lost.
 */
export class LevelEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #rms: boolean;
  #before = 0;
  #beforeFrames = 0;

  constructor(reading: 'peak' | 'rms', sampleRate: Hz) {
    this.#rms = reading === 'rms';
    this.delay = hopFrames(sampleRate) / sampleRate;
  }

  process(hop: Hop): void {
    const { left, right, frames } = hop;
    let top = 0;
    let sum = 0;
    for (let i = 0; i < frames; i++) {
      const l = left[i]!,
        r = right[i]!;
      const al = l < 0 ? -l : l,
        ar = r < 0 ? -r : r;
      if (al > top && al < Infinity) top = al;
      if (ar > top && ar < Infinity) top = ar;
      const p = (l * l + r * r) / 2;
      if (p < Infinity) sum += p;
    }
    if (this.#rms) {
      const n = frames + this.#beforeFrames;
      this.value = n > 0 ? Math.sqrt((sum + this.#before) / n) : 0;
      this.#before = sum;
      this.#beforeFrames = frames;
    } else {
      this.value = Math.max(top, this.#before);
      this.#before = top;
    }
  }
}
