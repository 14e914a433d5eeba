import type { Frames, Hz, Seconds } from '../units';
import { FINE_COUNT, type BandFrame } from './bandFrame';
import { SCALE_COUNT, ShortPeaks } from './shortPeaks';

/** Bands that are looked at: all narrow ones, without the two that tell of the hop as a whole. */
const BANDS = FINE_COUNT - 2;
/**
 * How far noise's cube root of power goes up and down in each band, as a share of its mean: by how many independent samples there are
 * in it (Wilson and Hilferty, 1931). Measured on white, pink and brown noise in both channels, in which it is the same.
 */
const NOISE_SPREAD: readonly number[] = [
  0.34, 0.33, 0.33, 0.33, 0.34, 0.34, 0.33, 0.32, 0.33, 0.33, 0.31, 0.3, 0.29, 0.27, 0.27, 0.24, 0.23, 0.21,
  0.29, 0.29, 0.29, 0.28, 0.26, 0.27, 0.24, 0.23, 0.22, 0.2, 0.19, 0.17, 0.16, 0.14, 0.14, 0.13, 0.11, 0.1,
  0.1, 0.08,
];
/** A band is noise while its spread is within these of noise's own: tones go up and down less, music and voices more. */
const LIKE_NOISE = [0.5, 1.5] as const;
/** A short sum tells while its cube root of power, hop by hop, goes up and down by no more than this share: in rumble it is no more than the rumble. */
const STEADY_SUM = 0.3;
/** Share of the bands that are noise from which on the whole is one. */
const NOISE_FROM = 0.7;
/** How long it takes to get to know a noise. */
const KNOWN_AFTER: Seconds = 0.25,
  WARM_UP: Seconds = 0.5;
/** In how many of its deviations a band stands out at least, and a short sum: noise goes so far by itself about once in ten minutes. */
export const DEVIATIONS = 5.4;
/** An outlier moves what is known by no more than so many deviations; of powers, by so much of them. */
const OUTLIER = 3,
  OUTLIER_POWER = 2;

/**
 * Clicks in steady noise: what rises further out of a narrow band, or out of sums over a short while, than that noise goes by chance.
 * Networks go by how levels look together, in which a click as loud as the noise is lost; and noise is the one background of which it
 * is known how far it goes by itself.
 */
export class Outstanding {
  readonly #mean = new Float64Array(BANDS);
  readonly #variance = new Float64Array(BANDS);
  readonly #peaks: ShortPeaks;
  readonly #power = new Float64Array(SCALE_COUNT);
  /** Of the cube roots of powers the mean, and how far they go from it. */
  readonly #root = new Float64Array(SCALE_COUNT);
  readonly #rootVariance = new Float64Array(SCALE_COUNT);
  readonly #rate: Hz;
  readonly #hop: Frames;
  readonly #share: number;
  #heard: Seconds = 0;
  /** Whether what is heard is a noise. */
  #noisy = false;
  /** In how many deviations the newest hop stands out of a noise, 0 when it does not or there is none. */
  deviations = 0;
  /** How long before the hop's end that began. */
  ago: Seconds = 0;

  /** @param sampleRate, hop - of the sound, and frames of a hop */
  constructor(sampleRate: Hz, hop: Frames) {
    this.#rate = sampleRate;
    this.#hop = hop;
    this.#share = hop / sampleRate / KNOWN_AFTER;
    this.#peaks = new ShortPeaks(sampleRate);
  }

  /** Takes one frame. Allocates nothing. */
  take(frame: BandFrame): void {
    const first = this.#heard === 0,
      banded = this.#bands(frame.fine, first),
      short = this.#short(frame, first);
    this.#heard += this.#hop / this.#rate;
    const most = Math.max(banded, short);
    this.deviations = most >= DEVIATIONS && this.#heard > WARM_UP && this.#noisy ? most : 0;
  }

  /** @returns in how many deviations the band that stands out furthest does */
  #bands(fine: Float32Array, first: boolean): number {
    let noisy = 0,
      most = 0;
    for (let b = 0; b < BANDS; b++) {
      // A third of the power's exponent; the unit is 20 dB.
      const x = Math.exp(fine[b]! * ((2 / 3) * Math.LN10)),
        own = NOISE_SPREAD[b]!;
      if (first) {
        this.#mean[b] = x;
        this.#variance[b] = x * x * own * own;
      }
      const mean = this.#mean[b]!,
        usual = own * mean,
        spread = Math.sqrt(this.#variance[b]!);
      if (spread > LIKE_NOISE[0] * usual && spread < LIKE_NOISE[1] * usual) {
        noisy++;
        const by = (x - mean) / Math.max(spread, usual);
        if (by > most) most = by;
      }
      const far = OUTLIER * usual,
        off = x - mean > far ? far : x - mean < -far ? -far : x - mean;
      this.#mean[b]! += this.#share * off;
      this.#variance[b]! += this.#share * (off * off - this.#variance[b]!);
    }
    this.#noisy = noisy >= NOISE_FROM * BANDS;
    return most;
  }

  /** @returns in how many deviations the short sum that stands out furthest does; sets since when */
  #short({ left, right }: BandFrame, first: boolean): number {
    const { peaks, powers, began } = this.#peaks;
    this.#peaks.process(left, right, this.#hop);
    let most = 0,
      since = 0;
    for (let s = 0; s < SCALE_COUNT; s++) {
      const now = powers[s]!,
        root = Math.cbrt(now);
      if (first) {
        this.#power[s] = now;
        this.#root[s] = root;
      }
      const power = this.#power[s]!,
        mean = this.#root[s]!,
        by = Math.sqrt(peaks[s]! / (power + 1e-14)),
        far = OUTLIER * STEADY_SUM * mean,
        off = root - mean > far ? far : root - mean;
      if (by > most && this.#rootVariance[s]! < (STEADY_SUM * mean) ** 2) {
        most = by;
        since = began[s]!;
      }
      this.#power[s]! += this.#share * (Math.min(now, OUTLIER_POWER * power + 1e-14) - power);
      this.#root[s]! += this.#share * off;
      this.#rootVariance[s]! += this.#share * (off * off - this.#rootVariance[s]!);
    }
    this.ago = (this.#hop - since) / this.#rate;
    return most;
  }
}
