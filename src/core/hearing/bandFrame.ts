import type { Hop } from '../audio/hop';
import { ShortSpectrum } from '../audio/shortSpectrum';
import { powerToDb, type DbFs, type Hz, type Seconds } from '../units';

/** Edges of the bands that are told apart by the long window, and by the short one. */
const LOW_EDGES: readonly Hz[] = [25, 45, 65, 85, 110, 140, 180, 230, 290, 370, 470, 600];
const HIGH_EDGES: readonly Hz[] = [
  300, 450, 650, 900, 1250, 1700, 2300, 3100, 4200, 5700, 7700, 10500, 16000,
];
const LONG: Seconds = 0.0427,
  SHORT: Seconds = 0.0107;
/** Bins of both, at most so far apart; a tone's power over them all is that of bins just so far apart, at any sample rate. */
const LONG_BINS: Hz = 11.71875,
  SHORT_BINS: Hz = 46.875;
const LONG_FALL: Seconds = 0.006,
  SHORT_FALL: Seconds = 0.0022;
/** Numbers in one frame: bands, then the newest hop's power, whole and with its treble raised. */
export const BAND_COUNT = LOW_EDGES.length - 1 + (HIGH_EDGES.length - 1) + 2;
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
  readonly spectrum: ShortSpectrum;
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
  /** The reference: the loudest of late. */
  reference: DbFs = REFERENCE_FLOOR;
  /** Power of the last hop, both channels together. */
  level: DbFs = -144;
  readonly #groups: readonly Group[];
  readonly #flatEdges: Int32Array;
  readonly #rate: Hz;
  #beforePower = 0;
  #lastL = 0;
  #lastR = 0;

  constructor(sampleRate: Hz) {
    this.#rate = sampleRate;
    this.#groups = [
      group(
        new ShortSpectrum(LONG, LONG_FALL, sampleRate, LONG_BINS, LOW_EDGES.at(-1)! + LONG_BINS),
        LOW_EDGES,
        LONG_BINS,
      ),
      group(new ShortSpectrum(SHORT, SHORT_FALL, sampleRate, SHORT_BINS), HIGH_EDGES, SHORT_BINS),
    ];
    const { perBin, size } = this.#groups[1]!.spectrum;
    this.#flatEdges = Int32Array.from(FLAT_EDGES, (hz) => Math.min(size / 2, Math.round(hz / perBin)));
  }

  /** Takes one hop. Allocates nothing, never throws. */
  process(hop: Hop): void {
    const { left, right, frames } = hop;
    let power = 0,
      bright = 0,
      l0 = this.#lastL,
      r0 = this.#lastR;
    for (let i = 0; i < frames; i++) {
      const a = left[i]!,
        b = right[i]!;
      const l = a < 1e6 && a > -1e6 ? a : 0,
        r = b < 1e6 && b > -1e6 ? b : 0;
      power += l * l + r * r;
      bright += (l - l0) * (l - l0) + (r - r0) * (r - r0);
      l0 = l;
      r0 = r;
    }
    this.#lastL = l0;
    this.#lastR = r0;
    power /= 2 * frames;
    bright /= 2 * frames;
    this.level = powerToDb(power);
    // Two hops together: a low note's power goes up and down within one.
    const both = powerToDb((power + this.#beforePower) / 2);
    this.#beforePower = power;
    this.reference = Math.max(
      both,
      REFERENCE_FLOOR,
      this.reference - (REFERENCE_FALL_DB_PER_S * frames) / this.#rate,
    );
    const { bands, reference } = this;
    let at = 0;
    for (let g = 0; g < 2; g++) {
      const { spectrum, weight, from, to, first, last } = this.#groups[g]!;
      spectrum.push(left, right, frames);
      spectrum.update();
      const p = spectrum.power;
      for (let b = 0; b < from.length; b++) {
        const lo = from[b]!,
          hi = to[b]!;
        let sum = p[lo]! * first[b]!;
        if (hi > lo) {
          for (let k = lo + 1; k < hi; k++) sum += p[k]!;
          sum += p[hi]! * last[b]!;
        }
        bands[at++] = scaled(powerToDb(sum * weight) - reference);
      }
    }
    const p = this.#groups[1]!.spectrum.power;
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
    bands[at++] = scaled(this.level - reference);
    // The difference of neighbours weighs treble by up to 6 dB; at other rates it is scaled to what it is at 48 kHz.
    bands[at] = scaled(powerToDb(bright * (this.#rate / 48000) ** 2) - reference);
  }
}

function scaled(db: number): number {
  const x = db / SCALE_DB;
  return x < LEAST ? LEAST : x > MOST ? MOST : x;
}

/** Which bins make each band, the outermost ones in part. A band above half the sample rate gets the last bin with no weight. */
function group(spectrum: ShortSpectrum, edges: readonly Hz[], bins: Hz): Group {
  const n = edges.length - 1;
  const g: Group = {
    spectrum,
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
