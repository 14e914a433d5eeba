import { onePole, type Seconds } from '../units';
import { CURVE_TABLE, curveTable } from './curve';
import { Past } from './past';
import { leastFitHigh, TAP_INDEX, TAPS, type CurvePoint, type Shaping } from './steps';

const STRIKE = 1, FLOOR = 2, FIT = 4, COMING = 8, CLAMP = 16, SMOOTH = 32, FLIP = 64, CURVE = 128, HOLD = 256, STEADY = 512, AVERAGE = 1024, STEPS = 2048, DELAY = 4096;
/** How quickly the steady filter's own measure of speed follows, as in Casiez, Roussel & Vogel 2012: 1 Hz. */
const SPEED_TAU: Seconds = 1 / (2 * Math.PI);

/** What a learning fit has found so far; kept in the memory. */
export interface FitState { readonly low: number; readonly high: number }

/**
 * The shaping of many routes, one row each, in typed arrays. A row's live state (smoothing, strike, learned fit)
 * is touched by nothing but its own steps: other rows may be added, changed or freed at any time.
 *
 * Numbers come and go through the arrays `x`, `strength`, `more` and `y`: a number that is handed to a function, or handed
 * back, may be put into an object of its own by the machine, ten thousand times a tick.
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
  /** The signal's number; one that is not finite holds the row. */
  x!: Float64Array;
  /** For a row with a strike: strength of a hit in this tick, 0 for none. */
  strength!: Float64Array;
  /** What the amount is scaled by, when a signal moves that. */
  more!: Float64Array;
  /** The shaped number: 0 is rest, 1 is reach. */
  y!: Float64Array;
  #share!: Float64Array;
  // Settings and state of the steps that few routes have.
  #keep!: Float64Array;
  #kept!: Float64Array;
  #keptAge!: Float64Array;
  #restRate!: Float64Array;
  #quick!: Float64Array;
  #calm!: Float64Array;
  #speed!: Float64Array;
  #before!: Float64Array;
  #size!: Float64Array;
  #averageS!: Float64Array;
  #delayS!: Float64Array;
  readonly #curves: (Float64Array | null)[] = [];
  readonly #tables = new Map<string, Float64Array>();
  readonly #averages: (Past | null)[] = [];
  readonly #delays: (Past | null)[] = [];
  #dt: Seconds = NaN;
  #speedShare = 0;
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
    this.x = wider(this.x);
    this.strength = wider(this.strength);
    this.more = wider(this.more, 1);
    this.y = wider(this.y);
    this.#share = wider(this.#share);
    this.#keep = wider(this.#keep);
    this.#kept = wider(this.#kept);
    this.#keptAge = wider(this.#keptAge, Infinity);
    this.#restRate = wider(this.#restRate, Infinity);
    this.#quick = wider(this.#quick);
    this.#calm = wider(this.#calm, NaN);
    this.#speed = wider(this.#speed);
    this.#before = wider(this.#before, NaN);
    this.#size = wider(this.#size, 1);
    this.#averageS = wider(this.#averageS);
    this.#delayS = wider(this.#delayS);
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
    this.more[row] = 1;
    this.#kept[row] = 0;
    this.#keptAge[row] = Infinity;
    this.#calm[row] = this.#before[row] = NaN;
    this.#speed[row] = 0;
    this.#curves[row] = this.#averages[row] = this.#delays[row] = null;
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
    this.#curves[row] = curve ? this.#tableOf(curve.points) : null;
    this.#keep[row] = (hold?.ms ?? 0) / 1000;
    if (!hold) { this.#kept[row] = 0; this.#keptAge[row] = Infinity; }
    this.#restRate[row] = steady && steady.restMs > 0 ? 1000 / steady.restMs : Infinity;
    this.#quick[row] = steady?.quick ?? 0;
    if (!steady) { this.#calm[row] = this.#before[row] = NaN; this.#speed[row] = 0; }
    this.#averageS[row] = (average?.ms ?? 0) / 1000;
    this.#averages[row] = average ? this.#averages[row] ?? new Past() : null;
    this.#size[row] = steps ? (steps.by === 'count' ? 1 / steps.count : steps.size) : 1;
    this.#delayS[row] = (delay?.ms ?? 0) / 1000;
    this.#delays[row] = delay ? this.#delays[row] ?? new Past() : null;
  }

  /** Routes with the same curve read the same table. */
  #tableOf(points: readonly CurvePoint[]): Float64Array {
    const key = points.join(' ');
    let table = this.#tables.get(key);
    if (!table) {
      // A curve that is being drawn passes through many.
      if (this.#tables.size > 500) this.#tables.clear();
      this.#tables.set(key, (table = curveTable(points)));
    }
    return table;
  }

  #ease(row: number, dt: Seconds): void {
    this.#rise[row] = onePole(dt, this.#attack[row]!);
    this.#fall[row] = onePole(dt, this.#release[row]!);
    this.#share[row] = onePole(dt, this.#forget[row]!);
    this.#averages[row]?.setUp(this.#averageS[row]!, dt);
    this.#delays[row]?.setUp(this.#delayS[row]!, dt);
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
    return [
      this.#level[row]!, this.#strikeFrom[row]!, this.#strikeAge[row]!, this.#learnedLow[row]!, this.#learnedHigh[row]!,
      this.#kept[row]!, this.#keptAge[row]!, this.#calm[row]!, this.#speed[row]!, this.#before[row]!, this.#averages[row]?.mean() ?? 0, this.#delays[row]?.delayed() ?? 0,
    ];
  }

  /** Call once a tick, before the rows. Coefficients follow `dt` only when it changes. */
  begin(dt: Seconds, rows: number): void {
    if (dt === this.#dt) return;
    this.#dt = dt;
    this.#speedShare = onePole(dt, SPEED_TAU);
    for (let row = 0; row < rows; row++) this.#ease(row, dt);
  }

  /** One row one tick further, from and to numbers. For tests and short rows; many rows go through the arrays. */
  step(row: number, x: number, strength: number, more = 1): number {
    this.x[row] = x;
    this.strength[row] = strength;
    this.more[row] = more;
    this.stepRow(row);
    return this.y[row]!;
  }

  /** Takes one row one tick further: from `x`, `strength` and `more` to `y`. Allocates nothing, never throws. */
  stepRow(row: number): void {
    const flags = this.#flags[row]!, dt = this.#dt, x = this.x[row]!;
    const tap = row === this.tapped ? this.taps : null;
    if (tap) { tap.fill(NaN); tap[TAP_INDEX.heard] = x; }
    let y = x - x === 0 ? x : NaN;

    if (flags & STRIKE) {
      const age = this.#strikeAge[row]! + dt, from = this.#strikeFrom[row]!, hold = this.#hold[row]!, drop = this.#drop[row]!, strength = this.strength[row]!;
      this.#strikeAge[row] = age;
      // Its strength for the hold, then a straight line to 0.
      const share = age <= hold ? 1 : drop > 0 ? 1 - (age - hold) / drop : 0, left = share > 0 ? from * share : 0;
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
      let low = this.#low[row]!, high = this.#high[row]!;
      if (flags & COMING) {
        low = this.#learnedLow[row]!;
        high = this.#learnedHigh[row]!;
        const least = this.#least[row]!;
        // Loudest and quietest of what sounds, each forgotten towards the other. Silence teaches nothing.
        if (y > least / 8) {
          const share = this.#share[row]!;
          if (high - high !== 0) low = high = y;
          high = y > high ? y : high + (y - high) * share;
          low = y < low ? y : low + (y - low) * share;
          if (high < least) high = least;
          if (low >= high / 2) low = high / 2;
          this.#learnedHigh[row] = high;
          this.#learnedLow[row] = low;
        }
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
    if (flags & (FLIP | CURVE | HOLD)) {
      this.y[row] = y;
      this.#bend(row, flags, tap);
      y = this.y[row]!;
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
    if (flags & (STEADY | AVERAGE | STEPS | DELAY)) {
      this.y[row] = y;
      this.#settle(row, flags, tap);
      y = this.y[row]!;
    }
    y *= this.#amount[row]! * this.more[row]!;
    if (tap) tap[TAP_INDEX.amount] = y;
    this.y[row] = y;
  }

  /** Flip, curve and hold, on `y`. */
  #bend(row: number, flags: number, tap: Float32Array | null): void {
    let y = this.y[row]!;
    if (flags & FLIP) { y = 1 - y; if (tap) tap[TAP_INDEX.flip] = y; }
    if (flags & CURVE) {
      if (y - y === 0) {
        // As `readCurve` does, in place: see above.
        const table = this.#curves[row]!, at = y <= 0 ? 0 : y >= 1 ? CURVE_TABLE : y * CURVE_TABLE, i = at >= CURVE_TABLE ? CURVE_TABLE - 1 : Math.floor(at);
        y = table[i]! + (table[i + 1]! - table[i]!) * (at - i);
      }
      if (tap) tap[TAP_INDEX.curve] = y;
    }
    if (flags & HOLD && y - y === 0) {
      const age = this.#keptAge[row]! + this.#dt;
      this.#keptAge[row] = age;
      // Half a tick of grace, so that the time is met and not passed by rounding.
      if (y >= this.#kept[row]! || age > this.#keep[row]! + this.#dt / 2) { this.#kept[row] = y; this.#keptAge[row] = 0; }
      y = this.#kept[row]!;
      if (tap) tap[TAP_INDEX.hold] = y;
    }
    this.y[row] = y;
  }

  /** Steady, average, steps and delay, on `y`. */
  #settle(row: number, flags: number, tap: Float32Array | null): void {
    const dt = this.#dt;
    if (flags & STEADY) {
      const y = this.y[row]!;
      let calm = this.#calm[row]!, before = this.#before[row]!, speed = this.#speed[row]!;
      if (calm !== calm) { calm = before = y; speed = 0; }
      if (dt > 0) speed += ((y - before) / dt - speed) * this.#speedShare;
      // The rate at rest, and what the speed adds; 1 − exp(−r) by its Padé approximant where that is within 1e−5 of it.
      const r = dt * (this.#restRate[row]! + 2 * Math.PI * this.#quick[row]! * (speed < 0 ? -speed : speed));
      calm += (y - calm) * (r < 0.3 ? r / (1 + r / 2 + (r * r) / 12) : 1 - Math.exp(-r));
      this.#calm[row] = calm;
      this.#before[row] = y;
      this.#speed[row] = speed;
      this.y[row] = calm;
      if (tap) tap[TAP_INDEX.steady] = calm;
    }
    if (flags & AVERAGE) { this.#averages[row]!.average(this.y, row); if (tap) tap[TAP_INDEX.average] = this.y[row]!; }
    if (flags & STEPS) {
      const size = this.#size[row]!;
      // A hair above the half, so that a third of three is one and not none.
      this.y[row] = Math.floor(this.y[row]! / size + 0.5 + 1e-9) * size;
      if (tap) tap[TAP_INDEX.steps] = this.y[row]!;
    }
    if (flags & DELAY) { this.#delays[row]!.delay(this.y, row); if (tap) tap[TAP_INDEX.delay] = this.y[row]!; }
  }
}

function seldomFlags({ flip, curve, hold, steady, average, steps, delay }: Shaping): number {
  return (flip ? FLIP : 0) | (curve ? CURVE : 0) | (hold ? HOLD : 0) | (steady ? STEADY : 0) | (average ? AVERAGE : 0) | (steps ? STEPS : 0) | (delay ? DELAY : 0);
}
