import { kernels, type Kernels } from '../kernels/kernels';
import type { Frames, Hz, Seconds } from '../units';
import { BUTTERWORTH_4_Q, highPass, lowPass, type Biquad } from './biquad';

/** Energy is handed out in steps this long at 48 kHz (1.33 ms), four to a hop: fine enough to time a hit. */
const STEP_FRAMES_48K = 64;
/** Corner of the DC remover: below hearing, and slow enough to leave 20 Hz within 0.3 dB. */
const DC_CORNER: Hz = 5;

/** A range wider than this gets a high-pass below it: seen linearly, what lies far below it is hardly farther off than its own edge. */
const WIDE_RATIO = 1.5;
/** Corner of that high-pass: 0.24 dB at the range's lower edge. */
const GUARD = 0.7;
/** Sum of 1/Q of a fourth-order Butterworth's two sections: its group delay at DC in units of 1/ωc. */
const DELAY_4 = 1 / BUTTERWORTH_4_Q[0] + 1 / BUTTERWORTH_4_Q[1];

/**
 * How late a range's energy is, at its middle: the group delay of a fourth-order Butterworth low-pass at DC,
 * `2.6131 / ωc` with `ωc = π (high − low)`, and for a wide range that of the high-pass far above its corner, `2.6131 ωg / ω²`.
 */
export function bandDelay(low: Hz, high: Hz): Seconds {
  const guard =
    high / low > WIDE_RATIO ? (DELAY_4 * GUARD * low) / (Math.PI * 2 * ((low + high) / 2) ** 2) : 0;
  return DELAY_4 / (Math.PI * (high - low)) + guard;
}

/** Keeps a wished range inside what a sample rate can carry, at least 4 Hz wide. */
export function usableRange(low: Hz, high: Hz, sampleRate: Hz): { low: Hz; high: Hz } {
  const top = sampleRate * 0.47;
  const lo = Math.min(Math.max(1, low), top - 4);
  return { low: lo, high: Math.min(Math.max(lo + 4, high), top) };
}

/** Numbers of a filter in the kernels' memory: its coefficients, then what it remembers. */
const COEFFICIENTS = 14,
  REMEMBERED = 28;
const TURN = 8,
  POLE = 10,
  NOW = 11;
/** Most frames in one call. */
const MOST: Frames = 65536;

/**
 * Energy of one range of two channels, as it goes.
 *
 * The sound is turned down by the range's middle frequency (a complex oscillator) and low-passed at half its
 * width by a fourth-order Butterworth: `2|z|²` is the mean square of what lies in the range, without the ripple
 * at twice the frequency that squaring a band-pass has, and with a delay that depends on the width alone. A
 * transform of fixed length would be late by half its length for every range, and blind between its bins.
 */
export class BandFilter {
  readonly delay: Seconds;
  readonly stepFrames: Frames;
  readonly #turn: number;
  readonly #guarded: 0 | 1;
  /** What all sections' first numerator coefficients and the DC remover's gain make together: it is put in once, with the oscillator. */
  readonly #gain: number;
  readonly #block = new Float64Array(COEFFICIENTS + REMEMBERED);
  readonly #kernels: Kernels = kernels();
  /** Where the block lies while it is worked on, and what is remembered in it. */
  readonly #place: number;
  readonly #remembered: Float64Array;
  #phase = 0;

  /** @param low @param high - edges, 0 < low < high < half the sample rate (see {@link usableRange}) @throws RangeError otherwise */
  constructor(low: Hz, high: Hz, sampleRate: Hz) {
    if (!(low > 0 && high > low && high < sampleRate / 2))
      throw new RangeError(`BandFilter: 0 < low < high < ${sampleRate / 2} Hz, got ${low} to ${high}`);
    this.delay = bandDelay(low, high);
    this.stepFrames = Math.max(1, Math.round((STEP_FRAMES_48K * sampleRate) / 48000));
    this.#turn = (-Math.PI * (low + high)) / sampleRate;
    const dc = Math.exp((-2 * Math.PI * DC_CORNER) / sampleRate);
    const sections: Biquad[] = BUTTERWORTH_4_Q.map((q) => lowPass((high - low) / 2, q, sampleRate));
    const guard =
      high / low > WIDE_RATIO ? BUTTERWORTH_4_Q.map((q) => highPass(GUARD * low, q, sampleRate)) : [];
    this.#guarded = guard.length > 0 ? 1 : 0;
    [...sections, ...guard].forEach(({ a1, a2 }, i) => {
      this.#block[2 * i] = a1;
      this.#block[2 * i + 1] = a2;
    });
    this.#block[TURN] = Math.cos(this.#turn);
    this.#block[TURN + 1] = Math.sin(this.#turn);
    this.#block[POLE] = dc;
    this.#gain = [...sections, ...guard].reduce((gain, b) => gain * b.b0, (1 + dc) / 2);
    this.#place = this.#kernels.scratch / 8;
    this.#remembered = this.#kernels.f64.subarray(
      this.#place + COEFFICIENTS,
      this.#place + COEFFICIENTS + REMEMBERED,
    );
  }

  /**
   * Takes the next sound and adds each step's mean square, the mean of both channels, to `out`. Allocates nothing, never throws.
   * @param left @param right - may be one and the same
   * @param frames - how many of them, at most 65,536: no more are heard
   * @param out - `out[k] += mean square of step k`; the last step may be shorter
   * @returns the number of steps
   */
  process(left: Float32Array, right: Float32Array, frames: Frames, out: Float64Array): number {
    const { f32, f64, call } = this.#kernels,
      block = this.#block,
      place = this.#place,
      n = Math.min(frames, MOST),
      steps = Math.ceil(n / this.stepFrames);
    const l = 2 * (place + block.length),
      r = l + n + (n & 1),
      sums = (r + n + (n & 1)) / 2;
    // The oscillator starts each call from its exact phase, so that rounding cannot grow over a night.
    block[NOW] = this.#gain * Math.cos(this.#phase);
    block[NOW + 1] = this.#gain * Math.sin(this.#phase);
    f64.set(block, place);
    for (let i = 0; i < n; i++) {
      f32[l + i] = left[i]!;
      f32[r + i] = right[i]!;
    }
    call.band(8 * place, 4 * l, 4 * r, n, this.stepFrames, this.#guarded, 8 * sums);
    for (let k = 0; k < steps; k++) out[k]! += f64[sums + k]!;
    block.set(this.#remembered, COEFFICIENTS);
    this.#phase = (this.#phase + this.#turn * n) % (2 * Math.PI);
    return steps;
  }
}
