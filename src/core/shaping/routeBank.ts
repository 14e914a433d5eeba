import { onePole, type Seconds } from '../units';
import { leastFitHigh, TAP_INDEX, TAPS, type Shaping } from './steps';

const STRIKE = 1, FLOOR = 2, FIT = 4, COMING = 8, CLAMP = 16, SMOOTH = 32;

/** What a learning fit has found so far; kept in the memory. */
export interface FitState { readonly low: number; readonly high: number }

/**
 * The shaping of many routes, one row each, in typed arrays. A row's live state (smoothing, strike, learned fit)
 * is touched by nothing but its own steps: other rows may be added, changed or freed at any time.
 */
export class RouteBank {
  #capacity = 0;
  #flags!: Uint8Array;
  #floor!: Float64Array;
  #low!: Float64Array;
  #high!: Float64Array;
  #forget!: Float64Array;
  #least!: Float64Array;
  #clampLow!: Float64Array;
  #clampHigh!: Float64Array;
  #attack!: Float64Array;
  #release!: Float64Array;
  #rise!: Float64Array;
  #fall!: Float64Array;
  #hold!: Float64Array;
  #drop!: Float64Array;
  #amount!: Float64Array;
  // Live state
  #level!: Float64Array;
  #strikeFrom!: Float64Array;
  #strikeAge!: Float64Array;
  #learnedLow!: Float64Array;
  #learnedHigh!: Float64Array;
  #dt: Seconds = NaN;
  /** Row whose numbers are kept at every step, or −1. */
  tapped = -1;
  /** The tapped row's numbers, by {@link TAP_INDEX}; NaN for a step it does not have. */
  readonly taps = new Float32Array(TAPS.length).fill(NaN);

  constructor(capacity = 64) {
    this.#grow(capacity);
  }

  #grow(capacity: number): void {
    const wider = (old: Float64Array | undefined, fill = 0): Float64Array => {
      const next = new Float64Array(capacity).fill(fill);
      if (old) next.set(old);
      return next;
    };
    const flags = new Uint8Array(capacity);
    if (this.#capacity) flags.set(this.#flags);
    this.#flags = flags;
    this.#floor = wider(this.#floor);
    this.#low = wider(this.#low);
    this.#high = wider(this.#high, 1);
    this.#forget = wider(this.#forget, 30);
    this.#least = wider(this.#least);
    this.#clampLow = wider(this.#clampLow);
    this.#clampHigh = wider(this.#clampHigh, 1);
    this.#attack = wider(this.#attack);
    this.#release = wider(this.#release);
    this.#rise = wider(this.#rise, 1);
    this.#fall = wider(this.#fall, 1);
    this.#hold = wider(this.#hold);
    this.#drop = wider(this.#drop);
    this.#amount = wider(this.#amount, 1);
    this.#level = wider(this.#level);
    this.#strikeFrom = wider(this.#strikeFrom);
    this.#strikeAge = wider(this.#strikeAge, Infinity);
    this.#learnedLow = wider(this.#learnedLow, NaN);
    this.#learnedHigh = wider(this.#learnedHigh, NaN);
    this.#capacity = capacity;
  }

  /** Forgets a row's live state, for a new route on it. May allocate: set-up only. */
  reset(row: number): void {
    if (row >= this.#capacity) this.#grow(Math.max(row + 1, this.#capacity * 2));
    this.#level[row] = 0;
    this.#strikeFrom[row] = 0;
    this.#strikeAge[row] = Infinity;
    this.#learnedLow[row] = NaN;
    this.#learnedHigh[row] = NaN;
  }

  /**
   * Sets a row's shaping; its live state carries on from where it is.
   * @param usual - what its signal usually reads when loud
   */
  set(row: number, shaping: Shaping, usual: number): void {
    if (row >= this.#capacity) this.#grow(Math.max(row + 1, this.#capacity * 2));
    const { strike, floor, fit, clamp, smooth } = shaping;
    this.#flags[row] = (strike ? STRIKE : 0) | (floor ? FLOOR : 0) | (fit ? FIT : 0) | (fit?.mode === 'coming' ? COMING : 0) | (clamp ? CLAMP : 0) | (smooth ? SMOOTH : 0);
    this.#floor[row] = floor?.at ?? 0;
    this.#least[row] = leastFitHigh(usual);
    if (fit && fit.mode !== 'coming') { this.#low[row] = fit.low; this.#high[row] = fit.high; }
    this.#forget[row] = fit?.mode === 'coming' ? fit.forgetS : 30;
    this.#clampLow[row] = clamp?.low ?? 0;
    this.#clampHigh[row] = clamp?.high ?? 1;
    this.#attack[row] = (smooth?.attackMs ?? 0) / 1000;
    this.#release[row] = (smooth?.releaseMs ?? 0) / 1000;
    this.#hold[row] = (strike?.holdMs ?? 0) / 1000;
    this.#drop[row] = (strike?.fallMs ?? 0) / 1000;
    this.#amount[row] = shaping.amount;
    this.#ease(row, this.#dt);
  }

  #ease(row: number, dt: Seconds): void {
    this.#rise[row] = onePole(dt, this.#attack[row]!);
    this.#fall[row] = onePole(dt, this.#release[row]!);
  }

  learned(row: number): FitState | null {
    const high = this.#learnedHigh[row]!;
    return Number.isNaN(high) ? null : { low: this.#learnedLow[row]!, high };
  }
  teach(row: number, fit: FitState): void {
    this.#learnedLow[row] = fit.low;
    this.#learnedHigh[row] = fit.high;
  }

  /** Every number that a row carries from tick to tick, for tests of what an edit leaves alone. */
  liveState(row: number): readonly number[] {
    return [this.#level[row]!, this.#strikeFrom[row]!, this.#strikeAge[row]!, this.#learnedLow[row]!, this.#learnedHigh[row]!];
  }

  /** Call once a tick, before the rows. Coefficients follow `dt` only when it changes. */
  begin(dt: Seconds, rows: number): void {
    if (dt === this.#dt) return;
    this.#dt = dt;
    for (let row = 0; row < rows; row++) this.#ease(row, dt);
  }

  /**
   * Takes one row one tick further. Allocates nothing, never throws.
   * @param x - the signal's number; a non-finite one holds the row
   * @param strength - for a row with a strike: strength of a hit in this tick, 0 for none
   * @returns the shaped number: 0 is rest, 1 is reach
   */
  step(row: number, x: number, strength: number): number {
    const flags = this.#flags[row]!;
    const dt = this.#dt;
    const tap = row === this.tapped ? this.taps : null;
    if (tap) { tap.fill(NaN); tap[TAP_INDEX.heard] = x; }
    let y = x - x === 0 ? x : NaN;

    if (flags & STRIKE) {
      const age = this.#strikeAge[row]! + dt;
      this.#strikeAge[row] = age;
      const left = this.#strikeLevel(row, age);
      if (strength > 0 && strength >= left) {
        this.#strikeFrom[row] = strength;
        this.#strikeAge[row] = 0;
        y = strength;
      } else y = left;
      if (tap) tap[TAP_INDEX.strike] = y;
    }
    if (flags & FLOOR) {
      y = y > this.#floor[row]! ? y : y - y;
      if (tap) tap[TAP_INDEX.floor] = y;
    }
    if (flags & FIT) {
      let low: number, high: number;
      if (flags & COMING) {
        this.#follow(row, y, dt);
        low = this.#learnedLow[row]!;
        high = this.#learnedHigh[row]!;
      } else {
        low = this.#low[row]!;
        high = this.#high[row]!;
      }
      if (flags & FLOOR && low < this.#floor[row]! && this.#floor[row]! < high) low = this.#floor[row]!;
      // A learning fit that has heard nothing yet keeps its parameter at rest.
      y = high - high !== 0 ? y - y : high > low ? (y - low) / (high - low) : y >= high ? 1 : 0;
      if (tap) tap[TAP_INDEX.fit] = y;
    }
    if (flags & CLAMP) {
      const low = this.#clampLow[row]!, high = this.#clampHigh[row]!;
      y = y < low ? low : y > high ? high : y;
      if (tap) tap[TAP_INDEX.clamp] = y;
    }
    if (flags & SMOOTH) {
      const level = this.#level[row]!;
      const gap = y - level;
      // One NaN let in would stay for the rest of the show.
      y = gap - gap === 0 ? level + gap * (gap > 0 ? this.#rise[row]! : this.#fall[row]!) : level;
      // The tail of a release ends, instead of halving for ever through denormal numbers.
      if (y < 1e-12 && y > -1e-12) y = 0;
      this.#level[row] = y;
      if (tap) tap[TAP_INDEX.smooth] = y;
    } else if (y - y === 0) this.#level[row] = y;
    else y = this.#level[row]!;
    y *= this.#amount[row]!;
    if (tap) tap[TAP_INDEX.amount] = y;
    return y;
  }

  /** Strike: its strength for the hold, then a straight line to 0. */
  #strikeLevel(row: number, age: Seconds): number {
    const hold = this.#hold[row]!;
    if (age <= hold) return this.#strikeFrom[row]!;
    const drop = this.#drop[row]!;
    const left = drop > 0 ? 1 - (age - hold) / drop : 0;
    return left > 0 ? this.#strikeFrom[row]! * left : 0;
  }

  /** The learning fit: loudest and quietest of what sounds, each forgotten towards the other. Silence teaches nothing. */
  #follow(row: number, x: number, dt: Seconds): void {
    const least = this.#least[row]!;
    if (!(x > least / 8)) return;
    const share = onePole(dt, this.#forget[row]!);
    let low = this.#learnedLow[row]!, high = this.#learnedHigh[row]!;
    if (high - high !== 0) { low = x; high = x; }
    high = x > high ? x : high + (x - high) * share;
    low = x < low ? x : low + (x - low) * share;
    this.#learnedHigh[row] = high > least ? high : least;
    this.#learnedLow[row] = low < high / 2 ? low : high / 2;
  }
}
