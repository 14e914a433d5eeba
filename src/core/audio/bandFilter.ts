import type { Hz, Seconds } from '../units';
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
  const guard = high / low > WIDE_RATIO ? (DELAY_4 * GUARD * low) / (Math.PI * 2 * ((low + high) / 2) ** 2) : 0;
  return DELAY_4 / (Math.PI * (high - low)) + guard;
}

/** Keeps a wished range inside what a sample rate can carry, at least 4 Hz wide. */
export function usableRange(low: Hz, high: Hz, sampleRate: Hz): { low: Hz; high: Hz } {
  const top = sampleRate * 0.47;
  const lo = Math.min(Math.max(1, low), top - 4);
  return { low: lo, high: Math.min(Math.max(lo + 4, high), top) };
}

/**
 * Energy of one range of one channel, as it goes.
 *
 * The sound is turned down by the range's middle frequency (a complex oscillator) and low-passed at half its
 * width by a fourth-order Butterworth: `2|z|²` is the mean square of what lies in the range, without the ripple
 * at twice the frequency that squaring a band-pass has, and with a delay that depends on the width alone. A
 * transform of fixed length would be late by half its length for every range, and blind between its bins.
 */
export class BandFilter {
  readonly delay: Seconds;
  readonly stepFrames: number;
  readonly #turn: number;
  readonly #c: number;
  readonly #s: number;
  readonly #dc: number;
  readonly #f: Float64Array; // a1 a2, twice
  /** What all sections' first numerator coefficients and the DC remover's gain make together: it is put in once, with the oscillator. */
  readonly #gain: number;
  readonly #z = new Float64Array(8); // two sections × two delays × (real, imaginary)
  readonly #guard: Float64Array | null; // the high-pass, like #f
  readonly #g = new Float64Array(4);
  #phase = 0;
  #dcIn = 0;
  #dcOut = 0;

  /** @param low @param high - edges, 0 < low < high < half the sample rate (see {@link usableRange}) @throws RangeError otherwise */
  constructor(low: Hz, high: Hz, sampleRate: Hz) {
    if (!(low > 0 && high > low && high < sampleRate / 2)) throw new RangeError(`BandFilter: 0 < low < high < ${sampleRate / 2} Hz, got ${low} to ${high}`);
    this.delay = bandDelay(low, high);
    this.stepFrames = Math.max(1, Math.round((STEP_FRAMES_48K * sampleRate) / 48000));
    this.#turn = (-Math.PI * (low + high)) / sampleRate;
    this.#c = Math.cos(this.#turn);
    this.#s = Math.sin(this.#turn);
    this.#dc = Math.exp((-2 * Math.PI * DC_CORNER) / sampleRate);
    const sections: Biquad[] = BUTTERWORTH_4_Q.map((q) => lowPass((high - low) / 2, q, sampleRate));
    const guard = high / low > WIDE_RATIO ? BUTTERWORTH_4_Q.map((q) => highPass(GUARD * low, q, sampleRate)) : null;
    const poles = (list: Biquad[]): Float64Array => Float64Array.from(list.flatMap((b) => [b.a1, b.a2]));
    this.#f = poles(sections);
    this.#guard = guard && poles(guard);
    this.#gain = [...sections, ...(guard ?? [])].reduce((gain, b) => gain * b.b0, (1 + this.#dc) / 2);
  }

  /**
   * Takes the next sound and adds each step's mean square to `out`. Allocates nothing, never throws.
   * @param x - one channel
   * @param frames - how many of it
   * @param out - `out[k] += mean square of step k`; the last step may be shorter
   * @returns the number of steps
   */
  process(x: Float32Array, frames: number, out: Float64Array): number {
    const f = this.#f;
    const a01 = f[0]!, a02 = f[1]!, a11 = f[2]!, a12 = f[3]!;
    const z = this.#z;
    let p0 = z[0]!, p1 = z[1]!, q0 = z[2]!, q1 = z[3]!, r0 = z[4]!, r1 = z[5]!, s0 = z[6]!, s1 = z[7]!;
    let dcIn = this.#dcIn, dcOut = this.#dcOut;
    const h = this.#guard ?? f;
    const guarded = this.#guard !== null;
    const k01 = h[0]!, k02 = h[1]!, k11 = h[2]!, k12 = h[3]!;
    const g = this.#g;
    let g0 = g[0]!, g1 = g[1]!, g2 = g[2]!, g3 = g[3]!;
    const pole = this.#dc, gain = this.#gain, c = this.#c, s = this.#s;
    // The oscillator starts each call from its exact phase, so that rounding cannot grow over a night.
    let re = gain * Math.cos(this.#phase), im = gain * Math.sin(this.#phase);
    let steps = 0;
    for (let at = 0; at < frames; steps++) {
      const end = Math.min(frames, at + this.stepFrames);
      const length = end - at;
      let sum = 0;
      // A Butterworth low-pass has the numerator b₀ (1, 2, 1), a high-pass b₀ (1, −2, 1).
      for (; at < end; at++) {
        const raw = x[at]!;
        const xin = raw - raw === 0 ? raw : 0; // NaN and infinity count as silence
        dcOut = xin - dcIn + pole * dcOut;
        dcIn = xin;
        let clean = dcOut;
        if (guarded) {
          const before = clean, t = before + g0;
          g0 = g1 - before - before - k01 * t;
          g1 = before - k02 * t;
          clean = t + g2;
          g2 = g3 - t - t - k11 * clean;
          g3 = t - k12 * clean;
        }
        const u = clean * re;
        const v = clean * im;
        const next = re * c - im * s;
        im = re * s + im * c;
        re = next;
        const y0 = u + p0;
        p0 = u + u - a01 * y0 + p1;
        p1 = u - a02 * y0;
        const y1 = y0 + q0;
        q0 = y0 + y0 - a11 * y1 + q1;
        q1 = y0 - a12 * y1;
        const w0 = v + r0;
        r0 = v + v - a01 * w0 + r1;
        r1 = v - a02 * w0;
        const w1 = w0 + s0;
        s0 = w0 + w0 - a11 * w1 + s1;
        s1 = w0 - a12 * w1;
        sum += y1 * y1 + w1 * w1;
      }
      out[steps]! += (2 * sum) / length;
    }
    // Values under 1e-30 are far below hearing and would turn denormal, which is slow.
    z[0] = tidy(p0); z[1] = tidy(p1); z[2] = tidy(q0); z[3] = tidy(q1); z[4] = tidy(r0); z[5] = tidy(r1); z[6] = tidy(s0); z[7] = tidy(s1);
    g[0] = tidy(g0); g[1] = tidy(g1); g[2] = tidy(g2); g[3] = tidy(g3);
    this.#dcIn = dcIn;
    this.#dcOut = tidy(dcOut);
    this.#phase = (this.#phase + this.#turn * frames) % (2 * Math.PI);
    return steps;
  }
}

function tidy(x: number): number {
  return x > -1e-30 && x < 1e-30 ? 0 : x;
}
