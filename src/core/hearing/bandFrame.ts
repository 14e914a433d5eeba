import type { Hop } from '../audio/hop';
import { ShortSpectrum } from '../audio/shortSpectrum';
import { powerToDb, type DbFs, type Hz, type Seconds } from '../units';

/** Edges of the bands that are told apart by the long window, and by the short one. */
const LOW_EDGES: readonly Hz[] = [25, 45, 65, 85, 110, 140, 180, 230, 290, 370, 470, 600];
const HIGH_EDGES: readonly Hz[] = [
  300, 450, 650, 900, 1250, 1700, 2300, 3100, 4200, 5700, 7700, 10500, 16000,
];
/** The same, more finely: what strokes and beats are heard from. */
const FINE_LOW_EDGES: readonly Hz[] = [
  25, 40, 55, 70, 85, 100, 115, 130, 150, 170, 190, 215, 245, 280, 320, 370, 430, 500, 600,
];
const FINE_HIGH_EDGES: readonly Hz[] = [
  300, 450, 600, 750, 900, 1100, 1300, 1550, 1850, 2200, 2600, 3100, 3700, 4400, 5300, 6300, 7500, 9000,
  10700, 12700, 16000,
];
/** Ranges in which it is told how much both channels have in common; the first two from the long window. */
const COMMON_LOW_EDGES: readonly Hz[] = [30, 120, 300],
  COMMON_HIGH_EDGES: readonly Hz[] = [300, 1000, 3000, 7000, 16000];
/** Parts into which a hop is cut to say when in it the sound rose. */
const MOMENTS = 4;
/** What is steady in a signal is no sound: it is taken away from below this. */
const STEADY: Hz = 8;
const LONG: Seconds = 0.0427,
  SHORT: Seconds = 0.0107;
/** Bins of both, at most so far apart; a tone's power over them all is that of bins just so far apart, at any sample rate. */
const LONG_BINS: Hz = 11.71875,
  SHORT_BINS: Hz = 46.875;
const LONG_FALL: Seconds = 0.006,
  SHORT_FALL: Seconds = 0.0022;
/** Numbers in one frame: bands, then the newest hop's power, whole and with its treble raised. */
export const BAND_COUNT = LOW_EDGES.length - 1 + (HIGH_EDGES.length - 1) + 2;
/** Numbers in the fine frame: bands, then the newest hop's power, whole and with its treble raised. */
export const FINE_COUNT = FINE_LOW_EDGES.length - 1 + (FINE_HIGH_EDGES.length - 1) + 2;
export const COMMON_COUNT = COMMON_LOW_EDGES.length - 1 + (COMMON_HIGH_EDGES.length - 1);
/** Of each moment its power, and that with its treble raised. */
export const MOMENT_COUNT = 2 * MOMENTS;
/** Ranges in which noise is told from tones, in the short window. */
const FLAT_EDGES: readonly Hz[] = [300, 900, 2500, 7000, 16000];
export const FLAT_COUNT = FLAT_EDGES.length - 1;
/** Everything is told relative to the loudest of late, which is forgotten at this rate and never taken to be quieter than the floor. */
const REFERENCE_FALL_DB_PER_S = 2;
const REFERENCE_FLOOR: DbFs = -74;
const SCALE_DB = 20;
const LEAST = -3.5,
  MOST = 0.8;

interface Group {
  readonly weight: number;
  readonly from: Int32Array;
  readonly to: Int32Array;
  readonly first: Float64Array;
  readonly last: Float64Array;
}

/**
 * What an input sounds like, hop by hop, in {@link BAND_COUNT} numbers that do not depend on how loud it is set: the level of
 * each band in units of 20 dB below the loudest of late. Hits, beat and presence are all heard from these.
 */
export class BandFrame {
  readonly bands = new Float32Array(BAND_COUNT).fill(LEAST);
  /** How noise-like each of four ranges is: the logarithm of its flatness (geometric over arithmetic mean of its bins), 0 for noise, towards −1 and below for tones. */
  readonly flatness = new Float32Array(FLAT_COUNT);
  /** The level of {@link FINE_COUNT} narrower bands, in the same unit. */
  readonly fine = new Float32Array(FINE_COUNT).fill(LEAST);
  /** What both channels have in common in six ranges: 1 for one sound in both, 0 for nothing, −1 for antiphase. */
  readonly common = new Float32Array(COMMON_COUNT);
  /** How loud each quarter of the newest hop is, oldest first: its power, then that of its treble, in the same unit as bands. */
  readonly moments = new Float32Array(MOMENT_COUNT).fill(LEAST);
  /** The reference: the loudest of late. */
  reference: DbFs = REFERENCE_FLOOR;
  /** Power of the last hop, both channels together. */
  level: DbFs = -144;
  readonly #long: ShortSpectrum;
  readonly #short: ShortSpectrum;
  readonly #coarse: readonly Group[];
  readonly #fine: readonly Group[];
  readonly #common: readonly Group[];
  readonly #keep: number;
  /** The newest hop without what is steady in it. */
  readonly left = new Float32Array(2048);
  readonly right = new Float32Array(2048);
  #inLeft = 0;
  #inRight = 0;
  #outLeft = 0;
  #outRight = 0;
  readonly #flatEdges: Int32Array;
  readonly #rate: Hz;
  #beforePower = 0;
  #lastL = 0;
  #lastR = 0;

  constructor(sampleRate: Hz) {
    this.#rate = sampleRate;
    const long = (this.#long = new ShortSpectrum(
        LONG,
        LONG_FALL,
        sampleRate,
        LONG_BINS,
        LOW_EDGES.at(-1)! + LONG_BINS,
      )),
      short = (this.#short = new ShortSpectrum(SHORT, SHORT_FALL, sampleRate, SHORT_BINS));
    this.#coarse = [group(long, LOW_EDGES, LONG_BINS), group(short, HIGH_EDGES, SHORT_BINS)];
    this.#fine = [group(long, FINE_LOW_EDGES, LONG_BINS), group(short, FINE_HIGH_EDGES, SHORT_BINS)];
    this.#common = [group(long, COMMON_LOW_EDGES, LONG_BINS), group(short, COMMON_HIGH_EDGES, SHORT_BINS)];
    this.#keep = Math.exp((-2 * Math.PI * STEADY) / sampleRate);
    const { perBin, size } = short;
    this.#flatEdges = Int32Array.from(FLAT_EDGES, (hz) => Math.min(size / 2, Math.round(hz / perBin)));
  }

  /** Takes one hop, of at most 2048 frames. Allocates nothing, never throws. */
  process(hop: Hop): void {
    const { frames } = hop,
      { left, right, moments, bands, fine, common } = this;
    this.#takeSteadyAway(hop);
    let power = 0,
      bright = 0,
      l0 = this.#lastL,
      r0 = this.#lastR;
    for (let m = 0, i = 0; m < MOMENTS; m++) {
      const from = i,
        to = Math.floor(((m + 1) * frames) / MOMENTS);
      let p = 0,
        q = 0;
      for (; i < to; i++) {
        const l = left[i]!,
          r = right[i]!;
        p += l * l + r * r;
        q += (l - l0) * (l - l0) + (r - r0) * (r - r0);
        l0 = l;
        r0 = r;
      }
      power += p;
      bright += q;
      const n = 2 * Math.max(1, to - from);
      moments[m] = p / n;
      moments[MOMENTS + m] = q / n;
    }
    this.#lastL = l0;
    this.#lastR = r0;
    power /= 2 * frames;
    bright /= 2 * frames;
    this.level = powerToDb(power);
    // Two hops together: a low note's power goes up and down within one.
    const both = powerToDb((power + this.#beforePower) / 2);
    this.#beforePower = power;
    const reference = (this.reference = Math.max(
      both,
      REFERENCE_FLOOR,
      this.reference - (REFERENCE_FALL_DB_PER_S * frames) / this.#rate,
    ));
    // The difference of neighbours weighs treble by up to 6 dB; at other rates it is scaled to what it is at 48 kHz.
    const asAt48 = (this.#rate / 48000) ** 2;
    for (let m = 0; m < MOMENTS; m++) {
      moments[m] = scaled(powerToDb(moments[m]!) - reference);
      moments[MOMENTS + m] = scaled(powerToDb(moments[MOMENTS + m]! * asAt48) - reference);
    }
    this.#long.push(left, right, frames);
    this.#long.update();
    this.#short.push(left, right, frames);
    this.#short.update();
    let at = this.#levels(this.#coarse[0]!, this.#long, bands, 0);
    at = this.#levels(this.#coarse[1]!, this.#short, bands, at);
    bands[at] = scaled(this.level - reference);
    bands[at + 1] = scaled(powerToDb(bright * asAt48) - reference);
    let fineAt = this.#levels(this.#fine[0]!, this.#long, fine, 0);
    fineAt = this.#levels(this.#fine[1]!, this.#short, fine, fineAt);
    fine[fineAt] = bands[at]!;
    fine[fineAt + 1] = bands[at + 1]!;
    const more = this.#shares(this.#common[0]!, this.#long, common, 0);
    this.#shares(this.#common[1]!, this.#short, common, more);
    this.#flat();
  }

  /** Both channels without what is steady in them: an offset is no bass. NaN, infinity and nonsense count as silence. */
  #takeSteadyAway({ left, right, frames }: Hop): void {
    const outLeft = this.left,
      outRight = this.right,
      keep = this.#keep;
    let l = this.#outLeft,
      r = this.#outRight,
      l0 = this.#inLeft,
      r0 = this.#inRight;
    for (let i = 0; i < frames; i++) {
      const a = left[i]!,
        b = right[i]!,
        x = a < 1e6 && a > -1e6 ? a : 0,
        y = b < 1e6 && b > -1e6 ? b : 0;
      outLeft[i] = l = keep * (l + x - l0);
      outRight[i] = r = keep * (r + y - r0);
      l0 = x;
      r0 = y;
    }
    this.#outLeft = l;
    this.#outRight = r;
    this.#inLeft = l0;
    this.#inRight = r0;
  }

  #levels(g: Group, { power }: ShortSpectrum, into: Float32Array, first: number): number {
    for (let b = 0; b < g.from.length; b++)
      into[first + b] = scaled(powerToDb(summed(g, power, b) * g.weight) - this.reference);
    return first + g.from.length;
  }
  #shares(g: Group, { power, common }: ShortSpectrum, into: Float32Array, first: number): number {
    for (let b = 0; b < g.from.length; b++)
      into[first + b] = summed(g, common, b) / (summed(g, power, b) + 1e-14);
    return first + g.from.length;
  }

  #flat(): void {
    const p = this.#short.power;
    for (let b = 0; b < FLAT_COUNT; b++) {
      const from = this.#flatEdges[b]!,
        to = this.#flatEdges[b + 1]!,
        n = to - from;
      let logs = 0,
        sum = 0;
      for (let k = from; k < to; k++) {
        const x = p[k]! + 1e-14;
        logs += Math.log(x);
        sum += x;
      }
      const flat = n > 1 ? (logs / n - Math.log(sum / n)) / 3 : 0;
      this.flatness[b] = flat < -2 ? -2 : flat;
    }
  }
}

/** What lies in a band of a group. */
function summed(g: Group, p: Float64Array, b: number): number {
  const lo = g.from[b]!,
    hi = g.to[b]!;
  let sum = p[lo]! * g.first[b]!;
  if (hi > lo) {
    for (let k = lo + 1; k < hi; k++) sum += p[k]!;
    sum += p[hi]! * g.last[b]!;
  }
  return sum;
}

function scaled(db: number): number {
  const x = db / SCALE_DB;
  return x < LEAST ? LEAST : x > MOST ? MOST : x;
}

/** Which bins make each band, the outermost ones in part. A band above half the sample rate gets the last bin with no weight. */
function group(spectrum: ShortSpectrum, edges: readonly Hz[], bins: Hz): Group {
  const n = edges.length - 1;
  const g: Group = {
    weight: spectrum.perBin / bins,
    from: new Int32Array(n),
    to: new Int32Array(n),
    first: new Float64Array(n),
    last: new Float64Array(n),
  };
  const top = spectrum.size / 2;
  for (let b = 0; b < n; b++) {
    // Bin k covers k − ½ to k + ½.
    const lo = edges[b]! / spectrum.perBin + 0.5,
      hi = edges[b + 1]! / spectrum.perBin + 0.5;
    g.from[b] = Math.min(top, Math.floor(lo));
    g.to[b] = Math.min(top, Math.floor(hi));
    if (Math.floor(lo) > top) continue;
    if (g.from[b] === g.to[b]) g.first[b] = hi - lo;
    else {
      g.first[b] = Math.floor(lo) + 1 - lo;
      g.last[b] = Math.floor(hi) > top ? 1 : hi - Math.floor(hi);
    }
  }
  return g;
}
