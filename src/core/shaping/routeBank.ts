import { onePole, type Seconds } from '../units';
import { CURVE_TABLE, curveTable, readCurve } from './curve';
import { Pasts } from './past';
import { leastFitOver, TAP_INDEX, TAPS, type CurvePoint, type Shaping } from './steps';

const STRIKE = 1,
  FLOOR = 2,
  FIT = 4,
  COMING = 8,
  CLAMP = 16,
  SMOOTH = 32,
  FLIP = 64,
  CURVE = 128,
  HOLD = 256,
  STEADY = 512,
  AVERAGE = 1024,
  STEPS = 2048,
  DELAY = 4096;
// A row's settings and live state, beside each other: what most rows use first, what is only set last.
const FLOOR_AT = 0,
  LOW = 1,
  HIGH = 2,
  CLAMP_LOW = 3,
  CLAMP_HIGH = 4,
  RISE = 5,
  FALL = 6,
  LEVEL = 7,
  AMOUNT = 8,
  LEARNED_LOW = 9,
  LEARNED_HIGH = 10,
  LEAST = 11,
  SHARE = 12,
  STRIKE_FROM = 13,
  STRIKE_AGE = 14,
  STRIKE_HOLD = 15,
  STRIKE_FALL = 16;
const KEEP = 17,
  KEPT = 18,
  KEPT_AGE = 19,
  REST_RATE = 20,
  QUICK = 21,
  CALM = 22,
  SPEED = 23,
  BEFORE = 24,
  STEP_SIZE = 25,
  STEPS_TO_1 = 26,
  FORGET = 27,
  ATTACK = 28,
  RELEASE = 29,
  AVERAGE_S = 30,
  DELAY_S = 31,
  WIDE = 32;
/** How quickly the steady filter's own measure of speed follows, as in Casiez, Roussel & Vogel 2012: 1 Hz. */
const SPEED_TAU: Seconds = 1 / (2 * Math.PI);

/** What a learning fit has found so far; kept in the memory. */
export interface FitState {
  readonly low: number;
  readonly high: number;
}

/**
 * The shaping of many routes, one row each, in typed arrays. A row's live state (smoothing, strike, learned fit)
 * is touched by nothing but its own steps: other rows may be added, changed or freed at any time.
 *
 * Numbers come and go through the arrays `x`, `strength`, `more` and `y`: a number that is handed to a function, or handed
 * back, may be put into an object of its own by the machine, ten thousand times a tick. So is one that may also be a constant
 * such as NaN: what is not finite is therefore made of the number itself (`x - x`).
 */
export class RouteBank {
  #capacity = 0;
  #flags = new Uint16Array(0);
  /** Rows of {@link WIDE} numbers. One array and not one for each kind: a row is then four lines of the memory's cache, and not thirty. */
  #rows = new Float64Array(0);
  /** The signal's number; one that is not finite holds the row. */
  x = new Float64Array(0);
  /** For a row with a strike: strength of a hit in this tick, 0 for none. */
  strength = new Float64Array(0);
  /** What the amount is scaled by, when a signal moves that. */
  more = new Float64Array(0);
  /** The shaped number: 0 is rest, 1 is reach. */
  y = new Float64Array(0);
  readonly #curves: (Float64Array | null)[] = [];
  readonly #tables = new Map<string, Float64Array>();
  /** By row: twice the row for its average, one more for its delay. */
  readonly #pasts = new Pasts();
  #dt: Seconds = NaN;
  #speedShare = 0;
  /** Ticks a second. */
  #rate = 0;
  /** Row whose numbers are kept at every step, or −1. */
  tapped = -1;
  /** The tapped row's numbers, by {@link TAP_INDEX}; NaN for a step it does not have. */
  readonly taps = new Float32Array(TAPS.length).fill(NaN);

  constructor(capacity = 64) {
    this.#grow(capacity);
  }

  #grow(capacity: number): void {
    const wider = <T extends Float64Array | Uint16Array>(old: T, next: T): T => {
      next.set(old);
      return next;
    };
    this.#flags = wider(this.#flags, new Uint16Array(capacity));
    this.#rows = wider(this.#rows, new Float64Array(capacity * WIDE));
    this.x = wider(this.x, new Float64Array(capacity));
    this.strength = wider(this.strength, new Float64Array(capacity));
    this.more = wider(this.more, new Float64Array(capacity));
    this.y = wider(this.y, new Float64Array(capacity));
    const from = this.#capacity;
    this.#capacity = capacity;
    for (let row = from; row < capacity; row++) this.reset(row);
  }

  /** Forgets a row's live state, for a new route on it. May allocate: set-up only. */
  reset(row: number): void {
    if (row >= this.#capacity) this.#grow(Math.max(row + 1, this.#capacity * 2));
    const s = this.#rows,
      at = row * WIDE;
    s[at + LEVEL] = s[at + STRIKE_FROM] = s[at + KEPT] = s[at + SPEED] = 0;
    s[at + STRIKE_AGE] = s[at + KEPT_AGE] = Infinity;
    s[at + LEARNED_LOW] = s[at + LEARNED_HIGH] = s[at + CALM] = s[at + BEFORE] = NaN;
    this.more[row] = 1;
    this.#curves[row] = null;
    this.#pasts.drop(2 * row);
    this.#pasts.drop(2 * row + 1);
  }

  /**
   * Sets a row's shaping; its live state carries on from where it is.
   * @param usual - what its signal usually reads when loud
   */
  set(row: number, shaping: Shaping, usual: number): void {
    if (row >= this.#capacity) this.#grow(Math.max(row + 1, this.#capacity * 2));
    const { strike, floor, fit, clamp, smooth } = shaping,
      s = this.#rows,
      at = row * WIDE;
    this.#flags[row] =
      (strike ? STRIKE : 0) |
      (floor ? FLOOR : 0) |
      (fit ? FIT : 0) |
      (fit?.mode === 'coming' ? COMING : 0) |
      (clamp ? CLAMP : 0) |
      (smooth ? SMOOTH : 0) |
      seldomFlags(shaping);
    s[at + FLOOR_AT] = floor?.at ?? 0;
    s[at + LEAST] = leastFitOver(shaping.floor?.at, usual, fit?.mode === 'coming' ? fit.mostDb : undefined);
    if (fit && fit.mode !== 'coming') {
      s[at + LOW] = fit.low;
      s[at + HIGH] = fit.high;
    }
    s[at + FORGET] = fit?.mode === 'coming' ? fit.forgetS : 30;
    s[at + CLAMP_LOW] = clamp?.low ?? 0;
    s[at + CLAMP_HIGH] = clamp?.high ?? 1;
    s[at + ATTACK] = (smooth?.attackMs ?? 0) / 1000;
    s[at + RELEASE] = (smooth?.releaseMs ?? 0) / 1000;
    s[at + STRIKE_HOLD] = strike?.onOff ? Infinity : (strike?.holdMs ?? 0) / 1000;
    s[at + STRIKE_FALL] = (strike?.fallMs ?? 0) / 1000;
    s[at + AMOUNT] = shaping.amount;
    this.#setSeldom(row, shaping);
    this.#ease(row, this.#dt);
  }

  #setSeldom(row: number, { curve, hold, steady, average, steps, delay }: Shaping): void {
    const s = this.#rows,
      at = row * WIDE;
    this.#curves[row] = curve ? this.#tableOf(curve.points) : null;
    s[at + KEEP] = (hold?.ms ?? 0) / 1000;
    if (!hold) {
      s[at + KEPT] = 0;
      s[at + KEPT_AGE] = Infinity;
    }
    s[at + REST_RATE] = steady && steady.restMs > 0 ? 1000 / steady.restMs : Infinity;
    s[at + QUICK] = steady?.quick ?? 0;
    if (!steady) {
      s[at + CALM] = s[at + BEFORE] = NaN;
      s[at + SPEED] = 0;
    }
    s[at + AVERAGE_S] = (average?.ms ?? 0) / 1000;
    if (!average) this.#pasts.drop(2 * row);
    s[at + STEP_SIZE] = steps ? (steps.by === 'count' ? 1 / steps.count : steps.size) : 1;
    s[at + STEPS_TO_1] = 1 / s[at + STEP_SIZE]!;
    s[at + DELAY_S] = (delay?.ms ?? 0) / 1000;
    if (!delay) this.#pasts.drop(2 * row + 1);
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
    const s = this.#rows,
      at = row * WIDE;
    s[at + RISE] = onePole(dt, s[at + ATTACK]!);
    s[at + FALL] = onePole(dt, s[at + RELEASE]!);
    s[at + SHARE] = onePole(dt, s[at + FORGET]!);
    if (this.#flags[row]! & AVERAGE) this.#pasts.setUp(2 * row, s[at + AVERAGE_S]!, dt);
    if (this.#flags[row]! & DELAY) this.#pasts.setUp(2 * row + 1, s[at + DELAY_S]!, dt);
  }

  learned(row: number): FitState | null {
    const s = this.#rows,
      at = row * WIDE;
    const high = s[at + LEARNED_HIGH]!;
    return Number.isNaN(high) ? null : { low: s[at + LEARNED_LOW]!, high };
  }
  teach(row: number, fit: FitState): void {
    const s = this.#rows,
      at = row * WIDE;
    s[at + LEARNED_LOW] = fit.low;
    s[at + LEARNED_HIGH] = fit.high;
  }

  /** Takes over what another row has learnt to fit to. */
  shareFit(row: number, from: RouteBank, fromRow: number): void {
    if (!(this.#flags[row]! & COMING)) return;
    const at = row * WIDE,
      other = fromRow * WIDE;
    this.#rows[at + LEARNED_LOW] = from.#rows[other + LEARNED_LOW]!;
    this.#rows[at + LEARNED_HIGH] = from.#rows[other + LEARNED_HIGH]!;
  }

  /** Every number that a row carries from tick to tick, for tests of what an edit leaves alone. */
  liveState(row: number): readonly number[] {
    const s = this.#rows,
      at = row * WIDE,
      flags = this.#flags[row]!;
    return [
      s[at + LEVEL]!,
      s[at + STRIKE_FROM]!,
      s[at + STRIKE_AGE]!,
      s[at + LEARNED_LOW]!,
      s[at + LEARNED_HIGH]!,
      s[at + KEPT]!,
      s[at + KEPT_AGE]!,
      s[at + CALM]!,
      s[at + SPEED]!,
      s[at + BEFORE]!,
      flags & AVERAGE ? this.#pasts.mean(2 * row) : 0,
      flags & DELAY ? this.#pasts.delayed(2 * row + 1) : 0,
    ];
  }

  /** Call once a tick, before the rows. Coefficients follow `dt` only when it changes. */
  begin(dt: Seconds, rows: number): void {
    if (dt === this.#dt) return;
    this.#dt = dt;
    this.#speedShare = onePole(dt, SPEED_TAU);
    this.#rate = dt > 0 ? 1 / dt : 0;
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
    const flags = this.#flags[row]!,
      s = this.#rows,
      at = row * WIDE,
      dt = this.#dt,
      x = this.x[row]!;
    const tap = row === this.tapped ? this.taps : null;
    if (tap) {
      tap.fill(NaN);
      tap[TAP_INDEX.heard] = x;
    }
    let y = x - x === 0 ? x : x - x;

    if (flags & STRIKE) {
      const age = s[at + STRIKE_AGE]! + dt,
        from = s[at + STRIKE_FROM]!,
        hold = s[at + STRIKE_HOLD]!,
        drop = s[at + STRIKE_FALL]!,
        strength = this.strength[row]!;
      s[at + STRIKE_AGE] = age;
      // Its strength for the hold, then a straight line to 0.
      const share = age <= hold ? 1 : drop > 0 ? 1 - (age - hold) / drop : 0,
        left = share > 0 ? from * share : 0;
      if (hold === Infinity && strength > 0) {
        // It is held for ever: the next event ends it.
        y = s[at + STRIKE_FROM] = left > 0 ? 0 : 1;
      } else if (strength > 0 && strength >= left) {
        s[at + STRIKE_FROM] = strength;
        s[at + STRIKE_AGE] = 0;
        y = strength;
      } else y = left;
      if (tap) tap[TAP_INDEX.strike] = y;
    }
    if (flags & FLOOR) {
      y = y > s[at + FLOOR_AT]! ? y : y - y;
      if (tap) tap[TAP_INDEX.floor] = y;
    }
    if (flags & FIT) {
      let low = s[at + LOW]!,
        high = s[at + HIGH]!;
      if (flags & COMING) {
        low = s[at + LEARNED_LOW]!;
        high = s[at + LEARNED_HIGH]!;
        const least = s[at + LEAST]!;
        // Loudest and quietest of what sounds, each forgotten towards the other. Silence teaches nothing.
        if (y > least / 8) {
          const share = s[at + SHARE]!;
          if (high - high !== 0) low = high = y;
          high = y > high ? y : high + (y - high) * share;
          low = y < low ? y : low + (y - low) * share;
          if (high < least) high = least;
          if (low >= high / 2) low = high / 2;
          s[at + LEARNED_HIGH] = high;
          s[at + LEARNED_LOW] = low;
        }
      }
      if (flags & FLOOR && low < s[at + FLOOR_AT]! && s[at + FLOOR_AT]! < high) low = s[at + FLOOR_AT]!;
      // A learning fit that has heard nothing yet keeps its parameter at rest.
      y = high - high !== 0 ? y - y : high > low ? (y - low) / (high - low) : y >= high ? 1 : 0;
      if (tap) tap[TAP_INDEX.fit] = y;
    }
    if (flags & CLAMP) {
      const low = s[at + CLAMP_LOW]!,
        high = s[at + CLAMP_HIGH]!;
      y = y < low ? low : y > high ? high : y;
      if (tap) tap[TAP_INDEX.clamp] = y;
    }
    if (flags & (FLIP | CURVE | HOLD)) {
      this.y[row] = y;
      this.#bend(row, flags, tap);
      y = this.y[row]!;
    }
    if (flags & SMOOTH) {
      const level = s[at + LEVEL]!;
      const gap = y - level;
      // One NaN let in would stay for the rest of the show.
      y = gap - gap === 0 ? level + gap * (gap > 0 ? s[at + RISE]! : s[at + FALL]!) : level;
      // The tail of a release ends, instead of halving for ever through denormal numbers.
      if (y < 1e-12 && y > -1e-12) y = 0;
      s[at + LEVEL] = y;
      if (tap) tap[TAP_INDEX.smooth] = y;
    } else if (y - y === 0) s[at + LEVEL] = y;
    else y = s[at + LEVEL]!;
    if (flags & (STEADY | AVERAGE | STEPS | DELAY)) {
      this.y[row] = y;
      this.#settle(row, flags, tap);
      y = this.y[row]!;
    }
    y *= s[at + AMOUNT]! * this.more[row]!;
    if (tap) tap[TAP_INDEX.amount] = y;
    this.y[row] = y;
  }

  /** A single event's strength through those of the row's steps that need no past. Touches no live state. @returns 0 for one below the floor */
  once(row: number, strength: number): number {
    const flags = this.#flags[row]!,
      s = this.#rows,
      at = row * WIDE;
    let y = strength;
    if (flags & FLOOR && y <= s[at + FLOOR_AT]!) return 0;
    if (flags & FIT) {
      let low = s[at + (flags & COMING ? LEARNED_LOW : LOW)]!;
      const high = s[at + (flags & COMING ? LEARNED_HIGH : HIGH)]!;
      if (flags & FLOOR && low < s[at + FLOOR_AT]! && s[at + FLOOR_AT]! < high) low = s[at + FLOOR_AT]!;
      y = high > low ? (y - low) / (high - low) : y >= high ? 1 : 0;
    }
    if (flags & CLAMP) y = Math.min(s[at + CLAMP_HIGH]!, Math.max(s[at + CLAMP_LOW]!, y));
    if (flags & FLIP) y = 1 - y;
    if (flags & CURVE) y = readCurve(this.#curves[row]!, y);
    if (flags & STEPS) y = Math.floor(y * s[at + STEPS_TO_1]! + 0.5 + 1e-9) * s[at + STEP_SIZE]!;
    return y * s[at + AMOUNT]! * this.more[row]!;
  }

  /** Flip, curve and hold, on `y`. */
  #bend(row: number, flags: number, tap: Float32Array | null): void {
    const s = this.#rows,
      at = row * WIDE;
    let y = this.y[row]!;
    if (flags & FLIP) {
      y = 1 - y;
      if (tap) tap[TAP_INDEX.flip] = y;
    }
    if (flags & CURVE) {
      if (y - y === 0) {
        // As `readCurve` does, in place: see above.
        const table = this.#curves[row]!,
          along = CURVE_TABLE * Math.min(1, Math.max(0, y)),
          i = Math.min(CURVE_TABLE - 1, Math.floor(along));
        y = table[i]! + (table[i + 1]! - table[i]!) * (along - i);
      }
      if (tap) tap[TAP_INDEX.curve] = y;
    }
    if (flags & HOLD && y - y === 0) {
      const age = s[at + KEPT_AGE]! + this.#dt;
      s[at + KEPT_AGE] = age;
      // Half a tick of grace, so that the time is met and not passed by rounding.
      if (y >= s[at + KEPT]! || age > s[at + KEEP]! + this.#dt / 2) {
        s[at + KEPT] = y;
        s[at + KEPT_AGE] = 0;
      }
      y = s[at + KEPT]!;
      if (tap) tap[TAP_INDEX.hold] = y;
    }
    this.y[row] = y;
  }

  /** Steady, average, steps and delay, on `y`. */
  #settle(row: number, flags: number, tap: Float32Array | null): void {
    const s = this.#rows,
      at = row * WIDE,
      dt = this.#dt;
    if (flags & STEADY) {
      const y = this.y[row]!;
      let calm = s[at + CALM]!,
        before = s[at + BEFORE]!,
        speed = s[at + SPEED]!;
      if (calm !== calm) {
        calm = before = y;
        speed = 0;
      }
      speed += ((y - before) * this.#rate - speed) * this.#speedShare;
      // The rate at rest, and what the speed adds; 1 − exp(−r) by its Padé approximant where that is within 1e−5 of it.
      const r = dt * (s[at + REST_RATE]! + 2 * Math.PI * s[at + QUICK]! * (speed < 0 ? -speed : speed));
      calm += (y - calm) * (r < 0.3 ? r / (1 + r / 2 + (r * r) / 12) : 1 - Math.exp(-r));
      s[at + CALM] = calm;
      s[at + BEFORE] = y;
      s[at + SPEED] = speed;
      this.y[row] = calm;
      if (tap) tap[TAP_INDEX.steady] = calm;
    }
    if (flags & AVERAGE) {
      this.#pasts.average(2 * row, this.y, row);
      if (tap) tap[TAP_INDEX.average] = this.y[row]!;
    }
    if (flags & STEPS) {
      // A hair above the half, so that a third of three is one and not none.
      this.y[row] = Math.floor(this.y[row]! * s[at + STEPS_TO_1]! + 0.5 + 1e-9) * s[at + STEP_SIZE]!;
      if (tap) tap[TAP_INDEX.steps] = this.y[row]!;
    }
    if (flags & DELAY) {
      this.#pasts.delay(2 * row + 1, this.y, row);
      if (tap) tap[TAP_INDEX.delay] = this.y[row]!;
    }
  }
}

function seldomFlags({ flip, curve, hold, steady, average, steps, delay }: Shaping): number {
  return (
    (flip ? FLIP : 0) |
    (curve ? CURVE : 0) |
    (hold ? HOLD : 0) |
    (steady ? STEADY : 0) |
    (average ? AVERAGE : 0) |
    (steps ? STEPS : 0) |
    (delay ? DELAY : 0)
  );
}
