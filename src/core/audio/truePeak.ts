import type { Hop } from './hop';
import type { Amplitude, Hz } from '../units';

/** Taps of each phase; 24 keep a quarter of the sample rate within 0.05 dB. */
const TAPS = 24;
const KAISER_BETA = 6.5;

/** Modified Bessel function of the first kind, order 0, by its power series. */
function bessel0(x: number): number {
  let sum = 1, term = 1;
  for (let k = 1; k < 30; k++) { term *= (x / (2 * k)) ** 2; sum += term; }
  return sum;
}

/**
 * Peak of the sound as a converter would draw it between the samples (ITU-R BS.1770-4, annex 2): oversampled to at least
 * 192 kHz by a windowed sinc.
 */
export class TruePeak {
  /** Greatest of the last hop, both channels, linear: may exceed 1. */
  peak: Amplitude = 0;
  /** Frames by which the interpolation is late. */
  readonly delayFrames = TAPS / 2;
  readonly #phases: readonly Float64Array[];
  readonly #before: readonly [Float64Array, Float64Array] = [new Float64Array(TAPS), new Float64Array(TAPS)];
  #at = 0;

  constructor(sampleRate: Hz) {
    const times = Math.max(1, 2 ** Math.ceil(Math.log2(192000 / sampleRate) - 0.2));
    // Phase 0 is the samples themselves.
    this.#phases = Array.from({ length: times - 1 }, (_, p) => {
      const shift = (p + 1) / times;
      const taps = Float64Array.from({ length: TAPS }, (_unused, i) => {
        const t = i - TAPS / 2 + shift, u = t / (TAPS / 2);
        const sinc = t === 0 ? 1 : Math.sin(Math.PI * t) / (Math.PI * t);
        return u * u < 1 ? (sinc * bessel0(KAISER_BETA * Math.sqrt(1 - u * u))) / bessel0(KAISER_BETA) : 0;
      });
      const sum = taps.reduce((a, b) => a + b, 0);
      return taps.map((x) => x / sum);
    });
  }

  /** Takes one hop. Allocates nothing, never throws. */
  process(hop: Hop): void {
    this.peak = 0;
    const start = this.#at;
    this.#channel(hop.left, hop.frames, this.#before[0]);
    const end = this.#at;
    if (hop.mono) { this.#before[1].set(this.#before[0]); return; }
    this.#at = start;
    this.#channel(hop.right, hop.frames, this.#before[1]);
    this.#at = end;
  }

  #channel(x: Float32Array, frames: number, ring: Float64Array): void {
    let at = this.#at, top = this.peak;
    for (let i = 0; i < frames; i++) {
      const raw = x[i]!;
      const v = raw < 1e6 && raw > -1e6 ? raw : 0;
      ring[at] = v;
      if (++at === TAPS) at = 0;
      const a = v < 0 ? -v : v;
      if (a > top) top = a;
      for (let p = 0; p < this.#phases.length; p++) {
        const taps = this.#phases[p]!;
        let y = 0, from = at;
        for (let k = 0; k < TAPS; k++) { y += taps[k]! * ring[from]!; if (++from === TAPS) from = 0; }
        if (y < 0) y = -y;
        if (y > top) top = y;
      }
    }
    this.#at = at;
    this.peak = top;
  }
}
