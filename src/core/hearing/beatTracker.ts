import type { Hz, Seconds } from '../units';
import { BAND_COUNT, FINE_COUNT, type BandFrame } from './bandFrame';
import { BeatFollower } from './beatFollower';
import { Gru, type GruWeights } from './gru';
import { PooledFrame } from './pooledFrame';
import trained from './weights/beat.json';
import trainedToo from './weights/beatToo.json';
import wide from './weights/beatWide.json';
import wideToo from './weights/beatWideToo.json';

/** The networks say so long after a beat that it was one. */
const LAG: Seconds = 0.019;
/** How much of what is followed the networks of wide bands say, which know syncopated patterns better, and music of other kinds less. */
const WIDE_SHARE = 0.3;

/**
 * Tempo and beat of one input, by itself. Two networks of two layers over narrow bands, trained on music of many kinds, and
 * two over wide ones, trained on patterns (see docs/decisions.md), give the likelihood of a beat and of a bar's first beat every
 * 10.7 ms; they err in different places, and a mean of them is followed.
 */
export class BeatTracker extends BeatFollower {
  readonly #one = new Gru(trained as GruWeights);
  readonly #other = new Gru(trainedToo as GruWeights);
  readonly #pooled = new PooledFrame(FINE_COUNT);
  readonly #wide = new Gru(wide as GruWeights);
  readonly #wideToo = new Gru(wideToo as GruWeights);
  readonly #widePooled = new PooledFrame(BAND_COUNT);

  constructor(sampleRate: Hz, hopFrames: number) {
    super((2 * hopFrames) / sampleRate, LAG);
  }

  /** Takes a frame; works on every second. Allocates nothing. @returns whether it did */
  process(frame: BandFrame): boolean {
    this.beatAgo = NaN;
    const isSecond = this.#pooled.take(frame.fine);
    this.#widePooled.take(frame.bands);
    if (!isSecond) return false;
    const a = this.#one.step(this.#pooled.input),
      b = this.#other.step(this.#pooled.input),
      c = this.#wide.step(this.#widePooled.input),
      d = this.#wideToo.step(this.#widePooled.input),
      own = (1 - WIDE_SHARE) / 2,
      theirs = WIDE_SHARE / 2;
    this.follow(
      own * (a[0]! + b[0]!) + theirs * (c[0]! + d[0]!),
      own * (a[1]! + b[1]!) + theirs * (c[1]! + d[1]!),
    );
    return true;
  }
}
