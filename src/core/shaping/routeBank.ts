import { onePole, type Seconds } from '../units';
import { CURVE_TABLE, curveTable, readCurve } from './curve';
import { Past } from './past';
import { leastFitHigh, TAP_INDEX, TAPS, type Shaping } from './steps';

const STRIKE = 1, FLOOR = 2, FIT = 4, COMING = 8, CLAMP = 16, SMOOTH = 32, FLIP = 64, CURVE = 128, HOLD = 256, STEADY = 512, AVERAGE = 1024, STEPS = 2048, DELAY = 4096;
/** Any of these needs the slower part of a row. */
const SELDOM = FLIP | CURVE | HOLD | STEADY | AVERAGE | STEPS | DELAY;
/** How quickly the steady filter's own measure of speed follows, as in Casiez, Roussel & Vogel 2012: 1 Hz. */
const SPEED_TAU: Seconds = 1 / (2 * Math.PI);

/** Settings and state of the steps that few routes have, by row. */
interface Seldom {
  curve: Float64Array | null;
  holdS: Seconds; held: number; heldAge: Seconds;
  restTau: Seconds; quick: number; calm: number; speed: number; before: number;
  averageS: Seconds; average: Past | null;
  size: number;
  delayS: Seconds; delay: Past | null;
}

/** What a learning fit has found so far; kept in the memory. */
export interface FitState { readonly low: number; readonly high: number }

/**
 * The shaping of many routes, one row each, in typed arrays. A row's live state (smoothing, strike, learned fit)
 * is touched by nothing but its own steps: other rows may be added, changed or freed at any time.
 */
export class RouteBank {
  #capacity = 0;
  #flags!: Uint16Array;
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
  readonly #seldom: (Seldom | null)[] = [];
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
    const flags = new Uint16Array(capacity);
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
    this.#seldom[row] = null;
  }

  /**
   * Sets a row's shaping; its live state carries on from where it is.
   * @param usual - what its signal usually reads when loud
   */
  set(row: number, shaping: Shaping, usual: number): void {
    if (row >= this.#capacity) this.#grow(Math.max(row + 1, this.#capacity * 2));
    const { strike, floor, fit, clamp, smooth } = shaping;
    this.#flags[row] = (strike ? STRIKE : 0) | (floor ? FLOOR : 0) | (fit ? FIT : 0) | (fit?.mode === 'coming' ? COMING : 0) | (clamp ? CLAMP : 0) | (smooth ? SMOOTH : 0) | seldomFlags(shaping);
    this.#floor[row] = floor?.at ?? 0;
    this.#least[row] = leastFitHigh(usual, fit?.mode === 'coming' ? fit.mostDb : undefined);
    if (fit && fit.mode !== 'coming') { this.#low[row] = fit.low; this.#high[row] = fit.high; }
    this.#forget[row] = fit?.mode === 'coming' ? fit.forgetS : 30;
    this.#clampLow[row] = clamp?.low ?? 0;
    this.#clampHigh[row] = clamp?.high ?? 1;
    this.#attack[row] = (smooth?.attackMs ?? 0) / 1000;
    this.#release[row] = (smooth?.releaseMs ?? 0) / 1000;
    this.#hold[row] = (strike?.holdMs ?? 0) / 1000;
    this.#drop[row] = (strike?.fallMs ?? 0) / 1000;
    this.#amount[row] = shaping.amount;
    this.#setSeldom(row, shaping);
    this.#ease(row, this.#dt);
  }

  #setSeldom(row: number, { curve, hold, steady, average, steps, delay }: Shaping): void {
    if (!(this.#flags[row]! & SELDOM)) { this.#seldom[row] = null; return; }
    const s = (this.#seldom[row] ??= { curve: null, holdS: 0, held: 0, heldAge: Infinity, restTau: 0, quick: 0, calm: NaN, speed: 0, before: NaN, averageS: 0, average: null, size: 1, delayS: 0, delay: null });
    s.curve = curve ? curveTable(curve.points, s.curve ?? new Float64Array(CURVE_TABLE + 1)) : null;
    s.holdS = (hold?.ms ?? 0) / 1000;
    if (!hold) { s.held = 0; s.heldAge = Infinity; }
    s.restTau = (steady?.restMs ?? 0) / 1000;
    s.quick = steady?.quick ?? 0;
    if (!steady) { s.calm = s.before = NaN; s.speed = 0; }
    s.averageS = (average?.ms ?? 0) / 1000;
    s.average = average ? s.average ?? new Past() : null;
    s.size = steps ? (steps.by === 'count' ? 1 / steps.count : steps.size) : 1;
    s.delayS = (delay?.ms ?? 0) / 1000;
    s.delay = delay ? s.delay ?? new Past() : null;
  }

  #ease(row: number, dt: Seconds): void {
    this.#rise[row] = onePole(dt, this.#attack[row]!);
    this.#fall[row] = onePole(dt, this.#release[row]!);
    const s = this.#seldom[row];
    if (!s) return;
    s.average?.setUp(s.averageS, dt);
    s.delay?.setUp(s.delayS, dt);
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
    const s = this.#seldom[row];
    return [this.#level[row]!, this.#strikeFrom[row]!, this.#strikeAge[row]!, this.#learnedLow[row]!, this.#learnedHigh[row]!, ...(s ? [s.held, s.heldAge, s.calm, s.speed, s.before, s.average?.mean() ?? 0, s.delay?.delayed() ?? 0] : [])];
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
   * @param more - what its amount is scaled by, when a signal moves that
   * @returns the shaped number: 0 is rest, 1 is reach
   */
  step(row: number, x: number, strength: number, more = 1): number {
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
    const seldom = flags & SELDOM ? this.#seldom[row]! : null;
    if (seldom) y = this.#before(flags, seldom, y, tap);
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
    if (seldom) y = this.#after(flags, seldom, y, tap);
    y *= this.#amount[row]! * more;
    if (tap) tap[TAP_INDEX.amount] = y;
    return y;
  }

  /** Flip, curve and hold. */
  #before(flags: number, s: Seldom, x: number, tap: Float32Array | null): number {
    let y = x;
    if (flags & FLIP) { y = 1 - y; if (tap) tap[TAP_INDEX.flip] = y; }
    if (flags & CURVE) { y = y - y === 0 ? readCurve(s.curve!, y) : y; if (tap) tap[TAP_INDEX.curve] = y; }
    if (flags & HOLD && y - y === 0) {
      s.heldAge += this.#dt;
      // Half a tick of grace, so that the time is met and not passed by rounding.
      if (y >= s.held || s.heldAge > s.holdS + this.#dt / 2) { s.held = y; s.heldAge = 0; }
      y = s.held;
      if (tap) tap[TAP_INDEX.hold] = y;
    }
    return y;
  }

  /** Steady, average, steps and delay. */
  #after(flags: number, s: Seldom, x: number, tap: Float32Array | null): number {
    let y = x;
    const dt = this.#dt;
    if (flags & STEADY) {
      if (s.calm !== s.calm) { s.calm = s.before = y; s.speed = 0; }
      if (dt > 0) s.speed += ((y - s.before) / dt - s.speed) * onePole(dt, SPEED_TAU);
      s.before = y;
      // Cut-off at rest plus what the speed adds; expressed as a time.
      const tau = s.restTau > 0 ? 1 / (1 / s.restTau + 2 * Math.PI * s.quick * Math.abs(s.speed)) : 0;
      s.calm += (y - s.calm) * onePole(dt, tau);
      y = s.calm;
      if (tap) tap[TAP_INDEX.steady] = y;
    }
    if (flags & AVERAGE) { s.average!.put(y); y = s.average!.mean(); if (tap) tap[TAP_INDEX.average] = y; }
    // A hair above the half, so that a third of three is one and not none.
    if (flags & STEPS) { y = Math.floor(y / s.size + 0.5 + 1e-9) * s.size; if (tap) tap[TAP_INDEX.steps] = y; }
    if (flags & DELAY) { s.delay!.put(y); y = s.delay!.delayed(); if (tap) tap[TAP_INDEX.delay] = y; }
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

function seldomFlags({ flip, curve, hold, steady, average, steps, delay }: Shaping): number {
  return (flip ? FLIP : 0) | (curve ? CURVE : 0) | (hold ? HOLD : 0) | (steady ? STEADY : 0) | (average ? AVERAGE : 0) | (steps ? STEPS : 0) | (delay ? DELAY : 0);
}
