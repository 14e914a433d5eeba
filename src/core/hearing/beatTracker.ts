import type { Hz, Seconds } from '../units';
import { FINE_COUNT, type BandFrame } from './bandFrame';
import { BeatFollower } from './beatFollower';
import { Gru, type GruWeights } from './gru';
import { PooledFrame } from './pooledFrame';
import trained from './weights/beat.json';

/** The network says so long after a beat that it was one. */
const LAG: Seconds = 0.019;

/**
 * Tempo and beat of one input, by itself. A network of two layers, trained on music of many kinds (see docs/decisions.md), gives
 * the likelihood of a beat and of a bar's first beat every 10.7 ms, and these are followed.
 */
export class BeatTracker extends BeatFollower {
  readonly #network = new Gru(trained as GruWeights);
  readonly #pooled = new PooledFrame(FINE_COUNT);

  constructor(sampleRate: Hz, hopFrames: number) {
    super((2 * hopFrames) / sampleRate, LAG);
  }

  /** Takes a frame; works on every second. Allocates nothing. @returns whether it did */
  process(frame: BandFrame): boolean {
    this.beatAgo = NaN;
    if (!this.#pooled.take(frame.fine)) return false;
    const y = this.#network.step(this.#pooled.input);
    this.follow(y[0]!, y[1]!);
    return true;
  }
}
