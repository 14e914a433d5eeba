import type { Hz, Seconds } from '../units';
import { BAND_COUNT, type BandFrame } from './bandFrame';
import { Gru, type GruWeights } from './gru';
import { PooledFrame } from './pooledFrame';
import trained from './weights/speech.json';

/** Speaking begins when the likelihood passes the upper mark, and ends when it has stayed under the lower one for the hold. */
const BEGIN = 0.6,
  END = 0.35;
const HOLD: Seconds = 0.2;
const SMOOTH: Seconds = 0.05;
/** How long speech has been going on when it is believed, as a rule. */
export const SPEECH_LAG: Seconds = 0.12;

/** Whether somebody speaks, told from music and noise by a network over the band frames; computed every 10.7 ms. */
export class SpeechListener {
  speaking = false;
  /** Smoothed likelihood, 0 to 1. */
  likelihood = 0;
  readonly #gru = new Gru(trained as GruWeights);
  readonly #pooled = new PooledFrame(BAND_COUNT);
  readonly #step: Seconds;
  #quiet: Seconds = 0;

  constructor(sampleRate: Hz, hopFrames: number) {
    this.#step = (2 * hopFrames) / sampleRate;
  }

  /** Takes a frame; works on every second. Allocates nothing. */
  process(frame: BandFrame): void {
    if (!this.#pooled.take(frame.bands)) return;
    const p = this.#gru.step(this.#pooled.input)[0]!;
    this.likelihood += (p - this.likelihood) * (1 - Math.exp(-this.#step / SMOOTH));
    if (this.likelihood > BEGIN) {
      this.speaking = true;
      this.#quiet = 0;
    } else if (this.likelihood < END) {
      this.#quiet += this.#step;
      if (this.#quiet > HOLD) this.speaking = false;
    } else this.#quiet = 0;
  }
}
