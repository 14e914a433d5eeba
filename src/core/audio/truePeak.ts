import type { Hop } from './hop';
import { kaiser, sinc } from './kaiser';
import type { Amplitude, Hz } from '../units';

/** Taps of each phase; 24 keep a quarter of the sample rate within 0.05 dB. */
const TAPS = 24;
const KAISER_BETA = 6.5;
/** Frames that are looked at together: between them nothing can rise above the greatest of their samples times the sum of all taps. */
const BLOCK = 16;

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
  /** The most that any phase makes of samples up to 1. */
  readonly #most: number;
  /** Of each channel the last frames, then the hop. */
  #sound: readonly [Float64Array, Float64Array] = [new Float64Array(TAPS), new Float64Array(TAPS)];

  constructor(sampleRate: Hz) {
    const times = Math.max(1, 2 ** Math.ceil(Math.log2(192000 / sampleRate) - 0.2));
    // Phase 0 is the samples themselves.
    this.#phases = Array.from({ length: times - 1 }, (_, p) => {
      const shift = (p + 1) / times;
      const taps = Float64Array.from({ length: TAPS }, (_unused, i) => {
        const t = i - TAPS / 2 + shift;
        return sinc(t) * kaiser(t / (TAPS / 2), KAISER_BETA);
      });
      const sum = taps.reduce((a, b) => a + b, 0);
      return taps.map((x) => x / sum);
    });
    this.#most = Math.max(0, ...this.#phases.map((taps) => taps.reduce((sum, x) => sum + Math.abs(x), 0)));
  }

  /** Takes one hop. Allocates only when hops grow longer; never throws. */
  process(hop: Hop): void {
    const { left, right, frames, mono } = hop;
    if (this.#sound[0].length < TAPS + frames) this.#sound = [this.#longer(0, frames), this.#longer(1, frames)];
    const l = this.#sound[0], r = this.#sound[1];
    this.peak = Math.max(take(left, l, frames), mono ? 0 : take(right, r, frames));
    this.#between(l, frames);
    if (!mono) this.#between(r, frames);
    const last = mono ? l : r;
    for (let i = 0; i < TAPS; i++) { r[i] = last[frames + i]!; l[i] = l[frames + i]!; }
  }

  #longer(channel: 0 | 1, frames: number): Float64Array { const longer = new Float64Array(TAPS + frames); longer.set(this.#sound[channel].subarray(0, TAPS)); return longer; }

  /** Raises the peak to what lies between the samples. */
  #between(x: Float64Array, frames: number): void {
    let top = this.peak;
    for (let from = 0; from < frames; from += BLOCK) {
      const to = Math.min(frames, from + BLOCK);
      let loudest = 0;
      for (let i = from + 1; i < to + TAPS; i++) { const a = Math.abs(x[i]!); if (a > loudest) loudest = a; }
      if (loudest * this.#most <= top) continue;
      for (let p = 0; p < this.#phases.length; p++) {
        const taps = this.#phases[p]!;
        for (let i = from + 1; i <= to; i++) {
          let y0 = 0, y1 = 0;
          for (let k = 0; k < TAPS; k += 2) { y0 += taps[k]! * x[i + k]!; y1 += taps[k + 1]! * x[i + k + 1]!; }
          const y = Math.abs(y0 + y1);
          if (y > top) top = y;
        }
      }
    }
    this.peak = top;
  }
}

/** Puts a hop behind the frames before it; nonsense counts as silence. @returns its greatest sample */
function take(x: Float32Array, into: Float64Array, frames: number): Amplitude {
  let top = 0;
  for (let i = 0; i < frames; i++) {
    const raw = x[i]!, v = raw < 1e6 && raw > -1e6 ? raw : 0, a = Math.abs(v);
    into[TAPS + i] = v;
    if (a > top) top = a;
  }
  return top;
}
