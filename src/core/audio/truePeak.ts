import type { Hop } from './hop';
import { kaiser, sinc } from './kaiser';
import { kernels, type Kernels } from '../kernels/kernels';
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
  /** Phase after phase, its taps. */
  readonly #phases: Float32Array;
  readonly #count: number;
  /** The most that any phase makes of samples up to 1. */
  readonly #most: number;
  readonly #kernels: Kernels = kernels();
  /** Of each channel the last frames, then the hop. */
  #sound: readonly [Float32Array, Float32Array] = [new Float32Array(TAPS), new Float32Array(TAPS)];

  constructor(sampleRate: Hz) {
    const times = Math.max(1, 2 ** Math.ceil(Math.log2(192000 / sampleRate) - 0.2));
    // Phase 0 is the samples themselves.
    const phases = Array.from({ length: times - 1 }, (_, p) => {
      const shift = (p + 1) / times;
      const taps = Float64Array.from({ length: TAPS }, (_unused, i) => {
        const t = i - TAPS / 2 + shift;
        return sinc(t) * kaiser(t / (TAPS / 2), KAISER_BETA);
      });
      const sum = taps.reduce((a, b) => a + b, 0);
      return taps.map((x) => x / sum);
    });
    this.#count = phases.length;
    this.#phases = Float32Array.from(phases.flatMap((taps) => [...taps]));
    this.#most = Math.max(0, ...phases.map((taps) => taps.reduce((sum, x) => sum + Math.abs(x), 0)));
  }

  /** Takes one hop. Allocates only when hops grow longer; never throws. */
  process(hop: Hop): void {
    const { left, right, frames, mono } = hop;
    if (this.#sound[0].length < TAPS + frames)
      this.#sound = [this.#longer(0, frames), this.#longer(1, frames)];
    const l = this.#sound[0],
      r = this.#sound[1];
    this.peak = Math.max(take(left, l, frames), mono ? 0 : take(right, r, frames));
    this.#between(l, frames);
    if (!mono) this.#between(r, frames);
    const last = mono ? l : r;
    for (let i = 0; i < TAPS; i++) {
      r[i] = last[frames + i]!;
      l[i] = l[frames + i]!;
    }
  }

  #longer(channel: 0 | 1, frames: number): Float32Array {
    const longer = new Float32Array(TAPS + frames);
    longer.set(this.#sound[channel].subarray(0, TAPS));
    return longer;
  }

  /** Raises the peak to what lies between the samples. */
  #between(x: Float32Array, frames: number): void {
    const { f32, call, scratch } = this.#kernels,
      sound = scratch + 4 * this.#phases.length;
    f32.set(this.#phases, scratch / 4);
    f32.set(x, sound / 4);
    this.peak = call.between(sound, frames, scratch, this.#count, TAPS, this.peak, this.#most, BLOCK);
  }
}

/** Puts a hop behind the frames before it; nonsense counts as silence. @returns its greatest sample */
function take(x: Float32Array, into: Float32Array, frames: number): Amplitude {
  let top = 0;
  for (let i = 0; i < frames; i++) {
    const raw = x[i]!,
      v = raw < 1e6 && raw > -1e6 ? raw : 0,
      a = Math.abs(v);
    into[TAPS + i] = v;
    if (a > top) top = a;
  }
  return top;
}
