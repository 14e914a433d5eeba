import type { Hz, Seconds } from '../units';
import { BAND_COUNT, type BandFrame } from './bandFrame';
import { Gru, type GruWeights } from './gru';
import trained from './weights/speech.json';

/** Speaking begins when the likelihood passes the upper mark, and ends when it has stayed under the lower one for the hold. */
const BEGIN = 0.6, END = 0.35;
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
  readonly #input = new Float32Array(BAND_COUNT * 2);
  readonly #pool = new Float32Array(BAND_COUNT);
  readonly #before = new Float32Array(BAND_COUNT);
  readonly #step: Seconds;
  #half = false;
  #first = true;
  #quiet: Seconds = 0;

  constructor(sampleRate: Hz, hopFrames: number) { this.#step = (2 * hopFrames) / sampleRate; }

  /** Takes a frame; works on every second. Allocates nothing. */
  process(frame: BandFrame): void {
    const x = frame.bands;
    if (!this.#half) { this.#pool.set(x); this.#half = true; return; }
    this.#half = false;
    for (let b = 0; b < BAND_COUNT; b++) {
      const m = x[b]! > this.#pool[b]! ? x[b]! : this.#pool[b]!;
      const rise = this.#first ? 0 : m - this.#before[b]!;
      this.#input[b] = m;
      this.#input[BAND_COUNT + b] = rise > 0 ? rise : 0;
      this.#before[b] = m;
    }
    this.#first = false;
    const p = this.#gru.step(this.#input)[0]!;
    this.likelihood += (p - this.likelihood) * (1 - Math.exp(-this.#step / SMOOTH));
    if (this.likelihood > BEGIN) { this.speaking = true; this.#quiet = 0; }
    else if (this.likelihood < END) { this.#quiet += this.#step; if (this.#quiet > HOLD) this.speaking = false; }
    else this.#quiet = 0;
  }
}
