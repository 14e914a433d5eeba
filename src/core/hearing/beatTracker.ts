import type { Hz, Seconds } from '../units';
import { FINE_COUNT, type BandFrame } from './bandFrame';
import { BeatFollower } from './beatFollower';
import { Gru, type GruWeights } from './gru';
import { PooledFrame } from './pooledFrame';
import trained from './weights/beat.json';
import trainedToo from './weights/beatToo.json';

/** The networks say so long after a beat that it was one. */
const LAG: Seconds = 0.019;

/**
 * Tempo and beat of one input, by itself. Two networks of two layers, trained on music of many kinds (see docs/decisions.md), give
 * the likelihood of a beat and of a bar's first beat every 10.7 ms; they err in different places, and their mean is followed.
 */
export class BeatTracker extends BeatFollower {
  readonly #one = new Gru(trained as GruWeights);
  readonly #other = new Gru(trainedToo as GruWeights);
  readonly #pooled = new PooledFrame(FINE_COUNT);

  constructor(sampleRate: Hz, hopFrames: number) {
    super((2 * hopFrames) / sampleRate, LAG);
  }

  /** Takes a frame; works on every second. Allocates nothing. @returns whether it did */
  process(frame: BandFrame): boolean {
    this.beatAgo = NaN;
    if (!this.#pooled.take(frame.fine)) return false;
    const a = this.#one.step(this.#pooled.input),
      b = this.#other.step(this.#pooled.input);
    this.follow((a[0]! + b[0]!) / 2, (a[1]! + b[1]!) / 2);
    return true;
  }
}
