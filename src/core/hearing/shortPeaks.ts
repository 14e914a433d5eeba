import type { Frames, Hz, Seconds } from '../units';

/** Lengths over which the signal is summed: octaves from a bare impulse to a knock. */
const LENGTHS: readonly Seconds[] = [0.000125, 0.00025, 0.0005, 0.001, 0.002];
export const SCALE_COUNT = LENGTHS.length;
/** Longest hop. */
const MOST: Frames = 2048;

/**
 * How high a signal goes when it is summed over a few short lengths. A pulse of just such a length comes through whole, while noise
 * takes itself away: it stands out further than in any spectrum whose window is longer than it.
 */
export class ShortPeaks {
  /** Of each length the largest power in the newest hop, both channels together. */
  readonly peaks = new Float64Array(SCALE_COUNT);
  /** Of each length the mean power in the newest hop. */
  readonly powers = new Float64Array(SCALE_COUNT);
  /** Of each length the frame of the hop in which the sum that was largest began; below 0 in the hop before. */
  readonly began = new Int32Array(SCALE_COUNT);
  readonly #lengths: Int32Array;
  readonly #tail: Frames;
  readonly #left: Float32Array;
  readonly #right: Float32Array;

  constructor(sampleRate: Hz) {
    this.#lengths = Int32Array.from(LENGTHS, (s) => Math.max(1, Math.round(s * sampleRate)));
    this.#tail = this.#lengths.at(-1)!;
    this.#left = new Float32Array(this.#tail + MOST);
    this.#right = new Float32Array(this.#tail + MOST);
  }

  /** Takes one hop of finite numbers. Allocates nothing. */
  process(left: Float32Array, right: Float32Array, frames: Frames): void {
    const tail = this.#tail,
      l = this.#left,
      r = this.#right;
    for (let i = 0; i < frames; i++) {
      l[tail + i] = left[i]!;
      r[tail + i] = right[i]!;
    }
    for (let s = 0; s < SCALE_COUNT; s++) {
      const length = this.#lengths[s]!;
      let a = 0,
        b = 0,
        peak = 0,
        sum = 0,
        at = 0;
      for (let i = tail - length; i < tail; i++) {
        a += l[i]!;
        b += r[i]!;
      }
      for (let i = 0; i < frames; i++) {
        a += l[tail + i]! - l[tail + i - length]!;
        b += r[tail + i]! - r[tail + i - length]!;
        const p = a * a + b * b;
        sum += p;
        if (p > peak) {
          peak = p;
          at = i;
        }
      }
      const n = 2 * length * length;
      this.peaks[s] = peak / n;
      this.powers[s] = sum / (n * frames);
      this.began[s] = at + 1 - length;
    }
    l.copyWithin(0, frames, frames + tail);
    r.copyWithin(0, frames, frames + tail);
  }
}
