import type { Hop } from './hop';
import type { Hz, Seconds } from '../units';
import type { Biquad } from './biquad';

/** Loudness relative to full scale, ITU-R BS.1770-4. A 997 Hz sine at full scale on one channel reads −3.01. */
export type Lufs = number;
/** What no sound at all reads, and whatever is quieter. */
export const SILENCE_LUFS: Lufs = -120;
const OFFSET = -0.691;
const ABSOLUTE_GATE: Lufs = -70;
/** Sound is gathered in steps this long; 400 ms and 3 s are whole numbers of them. */
const STEP: Seconds = 0.01;
const MOMENTARY_STEPS = 40,
  SHORT_STEPS = 300;
/** Gating blocks of 400 ms overlap by three quarters: one every 100 ms. */
const BLOCK_STEPS = 10;
const BIN: Lufs = 0.02;
const BINS = Math.round((10 - ABSOLUTE_GATE) / BIN);

/**
 * The two stages of K-weighting (BS.1770-4, tables 1 and 2) at any rate: a shelf of +4 dB above about 1.7 kHz and a high-pass
 * at 38 Hz, as the bilinear transforms of the analogue filters that give the tables' numbers at 48 kHz.
 */
export function kWeighting(sampleRate: Hz): readonly [Biquad, Biquad] {
  const shelf = ((): Biquad => {
    const k = Math.tan((Math.PI * 1681.974450955533) / sampleRate),
      q = 0.7071752369554196;
    const high = 10 ** (3.999843853973347 / 20),
      band = high ** 0.4996667741545416,
      a0 = 1 + k / q + k * k;
    return {
      b0: (high + (band * k) / q + k * k) / a0,
      b1: (2 * (k * k - high)) / a0,
      b2: (high - (band * k) / q + k * k) / a0,
      a1: (2 * (k * k - 1)) / a0,
      a2: (1 - k / q + k * k) / a0,
    };
  })();
  const k = Math.tan((Math.PI * 38.13547087602444) / sampleRate),
    q = 0.5003270373238773,
    a0 = 1 + k / q + k * k;
  return [shelf, { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 }];
}

/** Counts of gated values and their summed power, by loudness; so that hours take no more room than minutes. */
class Gated {
  readonly #counts = new Float64Array(BINS);
  readonly #powers = new Float64Array(BINS);
  add(power: number): void {
    const at = Math.floor((toLufs(power) - ABSOLUTE_GATE) / BIN);
    if (at < 0) return;
    const bin = Math.min(at, BINS - 1);
    this.#counts[bin]!++;
    this.#powers[bin]! += power;
  }
  /** Mean power of all bins from one on; 0 when there are none. */
  mean(from = 0): number {
    let n = 0,
      sum = 0;
    for (let i = Math.max(0, from); i < BINS; i++) {
      n += this.#counts[i]!;
      sum += this.#powers[i]!;
    }
    return n > 0 ? sum / n : 0;
  }
  /** First bin above a gate so far below the mean. */
  gate(below: Lufs): number {
    const mean = this.mean();
    return mean > 0 ? Math.ceil((toLufs(mean) - below - ABSOLUTE_GATE) / BIN - 1e-9) : BINS;
  }
  /** Loudness under which a share of all values from bin `from` on lies. */
  percentile(share: number, from: number): Lufs {
    let n = 0;
    for (let i = Math.max(0, from); i < BINS; i++) n += this.#counts[i]!;
    if (n === 0) return SILENCE_LUFS;
    let left = share * (n - 1) + 1;
    for (let i = Math.max(0, from); i < BINS; i++) {
      left -= this.#counts[i]!;
      if (left <= 0) return ABSOLUTE_GATE + (i + 0.5) * BIN;
    }
    return SILENCE_LUFS;
  }
  clear(): void {
    this.#counts.fill(0);
    this.#powers.fill(0);
  }
}

function toLufs(power: number): Lufs {
  return power > 0 ? Math.max(SILENCE_LUFS, OFFSET + 10 * Math.log10(power)) : SILENCE_LUFS;
}

/**
 * Loudness of one input as EBU R 128 has it: momentary (400 ms), short-term (3 s), integrated (gated at −70 LUFS and 10 LU below
 * the mean), and the range (EBU Tech 3342). A mono sound counts as one channel.
 */
export class Loudness {
  /** Goes up by one whenever a step of 10 ms is done. */
  steps = 0;
  readonly #filters: Float64Array; // b0 b1 b2 a1 a2, twice
  readonly #z = new Float64Array(8);
  readonly #ring = new Float64Array(SHORT_STEPS);
  readonly #rate: Hz;
  readonly #integrated = new Gated();
  readonly #shortTerm = new Gated();
  #sum = 0;
  #done = 0;
  #edge: number;
  #momentary = 0;
  #short = 0;

  constructor(sampleRate: Hz) {
    this.#rate = sampleRate;
    this.#filters = Float64Array.from(kWeighting(sampleRate).flatMap((b) => [b.b0, b.b1, b.b2, b.a1, b.a2]));
    this.#edge = Math.round(STEP * sampleRate);
  }

  get momentary(): Lufs {
    return toLufs(this.#momentary);
  }
  get shortTerm(): Lufs {
    return toLufs(this.#short);
  }
  /** Of all since the start or the last `restart`. */
  integrated(): Lufs {
    return toLufs(this.#integrated.mean(this.#integrated.gate(10)));
  }
  /** Loudness range in LU; 0 before anything sounded. */
  range(): number {
    const from = this.#shortTerm.gate(20);
    const low = this.#shortTerm.percentile(0.1, from),
      high = this.#shortTerm.percentile(0.95, from);
    return high > low ? high - low : 0;
  }
  /** Begins a new integration. */
  restart(): void {
    this.#integrated.clear();
    this.#shortTerm.clear();
  }

  /** Takes one hop. Allocates nothing, never throws. @param onStep - called at the end of each step of 10 ms, between two samples */
  process(hop: Hop, onStep?: () => void): void {
    const { left, right, frames, mono } = hop,
      z = this.#z;
    for (let i = 0; i < frames; i++) {
      const l = this.#weigh(left[i]!, 0);
      this.#sum += l * l;
      if (!mono) {
        const r = this.#weigh(right[i]!, 4);
        this.#sum += r * r;
      }
      if (++this.#done >= this.#edge) {
        this.#step();
        onStep?.();
      }
    }
    for (let k = 0; k < 8; k++) {
      const v = z[k]!;
      if (!(v > 1e-30 || v < -1e-30) || v - v !== 0) z[k] = 0;
    }
  }

  #weigh(raw: number, at: number): number {
    const x = raw < 1e6 && raw > -1e6 ? raw : 0,
      f = this.#filters,
      z = this.#z;
    const y = f[0]! * x + z[at]!;
    z[at] = f[1]! * x - f[3]! * y + z[at + 1]!;
    z[at + 1] = f[2]! * x - f[4]! * y;
    const w = f[5]! * y + z[at + 2]!;
    z[at + 2] = f[6]! * y - f[8]! * w + z[at + 3]!;
    z[at + 3] = f[7]! * y - f[9]! * w;
    return w;
  }

  #step(): void {
    // Edges lie at whole hundredths of a second from the start, whatever the rate: no drift at 44.1 kHz.
    this.#ring[this.steps % SHORT_STEPS] = this.#sum / this.#done;
    this.steps++;
    this.#sum = 0;
    this.#done = 0;
    this.#edge =
      Math.round((this.steps + 1) * STEP * this.#rate) - Math.round(this.steps * STEP * this.#rate);
    let momentary = 0,
      short = 0;
    for (let i = 0; i < SHORT_STEPS; i++) {
      const p = this.#ring[(this.steps + SHORT_STEPS - 1 - i) % SHORT_STEPS]!;
      short += p;
      if (i < MOMENTARY_STEPS) momentary += p;
    }
    this.#momentary = momentary / MOMENTARY_STEPS;
    this.#short = short / SHORT_STEPS;
    if (this.steps % BLOCK_STEPS !== 0) return;
    if (this.steps >= MOMENTARY_STEPS) this.#integrated.add(this.#momentary);
    if (this.steps >= SHORT_STEPS) this.#shortTerm.add(this.#short);
  }
}
