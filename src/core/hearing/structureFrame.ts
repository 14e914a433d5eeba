import type { DbFs, Hz, Seconds } from '../units';
import type { BandFrame } from './bandFrame';

/** Bands of {@link BandFrame} that are taken together: the first and the last of each. */
const GROUPS: readonly (readonly [first: number, last: number])[] = [
  [0, 1],
  [2, 4],
  [5, 7],
  [8, 10],
  [11, 13],
  [14, 16],
  [17, 19],
  [20, 22],
];
/** Groups in which a bass drum sounds, and those in which most else is struck. */
const LOW = 2,
  STRUCK_FROM = 4;
/** Hops to a frame: 43 ms. */
export const STRUCTURE_HOPS = 8;
/** Over which a rise is taken. */
const RISE_HOPS = 2;
const RISE_LEAST = 8;
/** What is now is told against these times before. */
const MIDDLE: Seconds = 8,
  LONG: Seconds = 32,
  DENSE: Seconds = 0.6;
/** Further below the usual loudness than this is silence. */
const DEEPEST = 60;
const SILENT: DbFs = -90;
export const STRUCTURE_INPUTS = GROUPS.length * 4 + 3 + 4;

/**
 * How the sound of now stands to the sound of the last half minute, in {@link STRUCTURE_INPUTS} numbers that do not depend on how loud
 * it is set: by groups of bands the level, its leap, and what it is more or less than of late; and how densely something is struck.
 */
export class StructureFrame {
  readonly input = new Float32Array(STRUCTURE_INPUTS);
  /** How many hops ago the low end rose most in this frame and the one before; and by how much, in dB. */
  lowAgo = 0;
  lowRise = 0;
  readonly #sum = new Float64Array(GROUPS.length);
  readonly #rise = new Float64Array(GROUPS.length);
  readonly #before = new Float64Array(GROUPS.length * RISE_HOPS).fill(SILENT);
  readonly #middle = new Float64Array(GROUPS.length + 1);
  readonly #long = new Float64Array(GROUPS.length + 1);
  readonly #dense = new Float64Array(4);
  readonly #step: Seconds;
  #level = 0;
  #usual = 0;
  #hop = 0;
  #frames = 0;
  #newest: [ago: number, rise: number] = [0, 0];

  constructor(sampleRate: Hz, hopFrames: number) {
    this.#step = (STRUCTURE_HOPS * hopFrames) / sampleRate;
  }

  /** Takes one hop. Allocates nothing. @returns whether `input` is new: every eighth hop */
  take({ bands, reference, level }: BandFrame): boolean {
    const before = this.#before,
      row = (this.#hop % RISE_HOPS) * GROUPS.length;
    let low = 0;
    for (let g = 0; g < GROUPS.length; g++) {
      const [first, last] = GROUPS[g]!;
      let most = bands[first]!;
      for (let b = first + 1; b <= last; b++) if (bands[b]! > most) most = bands[b]!;
      const db = Math.max(SILENT, most * 20 + reference),
        rise = db - before[row + g]!;
      before[row + g] = db;
      this.#sum[g]! += db;
      if (rise > this.#rise[g]!) this.#rise[g] = rise;
      if (g < LOW && rise > low) low = rise;
    }
    if (low > this.#newest[1]) {
      this.#newest[0] = this.#hop;
      this.#newest[1] = low;
    }
    this.#level += 10 ** (Math.max(SILENT, level) / 10);
    if (++this.#hop < STRUCTURE_HOPS) return false;
    this.#hop = 0;
    this.#finish();
    return true;
  }

  #finish(): void {
    const { input } = this,
      n = ++this.#frames,
      // At first everything that was heard counts alike.
      usually = Math.max(1 / n, 1 - Math.exp(-this.#step / LONG)),
      middle = Math.max(1 / n, 1 - Math.exp(-this.#step / MIDDLE)),
      power = this.#level / STRUCTURE_HOPS;
    this.#usual += (power - this.#usual) * usually;
    const usual = 10 * Math.log10(this.#usual);
    let at = 0,
      struck = 0;
    for (let g = 0; g <= GROUPS.length; g++) {
      const db = g < GROUPS.length ? this.#sum[g]! / STRUCTURE_HOPS : 10 * Math.log10(power),
        x = Math.max(-DEEPEST, db - usual);
      this.#middle[g]! += (x - this.#middle[g]!) * middle;
      this.#long[g]! += (x - this.#long[g]!) * usually;
      input[at++] = clip(x / 20, -3, 1.5);
      input[at++] = clip((x - this.#middle[g]!) / 10, -2, 2);
      input[at++] = clip((x - this.#long[g]!) / 10, -2, 2);
      if (g === GROUPS.length) break;
      const rise = this.#rise[g]!;
      input[at++] = clip(rise / 20, 0, 1.5);
      if (g >= STRUCK_FROM && rise > struck) struck = rise;
      this.#sum[g] = 0;
      this.#rise[g] = 0;
    }
    const { 0: hop, 1: low } = this.#newest;
    at = this.#density(at, 0, struck);
    this.#density(at, 2, low);
    // The frame before counts still: a stroke at its end is heard in this one.
    if (low >= this.lowRise) {
      this.lowAgo = STRUCTURE_HOPS - hop;
      this.lowRise = low;
    } else {
      this.lowAgo += STRUCTURE_HOPS;
      this.lowRise *= 0.7;
    }
    this.#newest[0] = 0;
    this.#newest[1] = 0;
    this.#level = 0;
  }
  /** How many frames of late had a stroke in them, over a short and a longer time. */
  #density(at: number, of: number, rise: number): number {
    const on = rise > RISE_LEAST ? 1 : 0,
      dense = this.#dense;
    dense[of]! += (on - dense[of]!) * (1 - Math.exp(-this.#step / DENSE));
    dense[of + 1]! += (on - dense[of + 1]!) * (1 - Math.exp(-this.#step / MIDDLE));
    this.input[at] = dense[of]! * 2;
    this.input[at + 1] = (dense[of]! - dense[of + 1]!) * 4;
    return at + 2;
  }
}

function clip(x: number, low: number, high: number): number {
  // What is no number is the middle of nothing.
  return x > low ? (x < high ? x : high) : low;
}
