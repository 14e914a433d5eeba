import type { NumberParameter } from '../parameters/description';
import type { Signal } from '../show/signals';
import { clamp, type Milliseconds, type Seconds } from '../units';
import { learnFit } from './learnFit';
import { RouteBank } from './routeBank';
import type { Shaping } from './steps';

/** A signal's recent past beside a movement by hand; both oldest first, one number per column, NaN where nothing is known. */
export interface Heard {
  readonly signal: Signal;
  readonly trace: Float32Array;
}

/** A signal that moves much as the hand did, and the shaping with which it does so. */
export interface Likeness {
  readonly signal: string;
  /** 0 to 1: how much of the hand's movement it explains. */
  readonly score: number;
  /** How far the hand came behind it. */
  readonly lagMs: Milliseconds;
  readonly shaping: Shaping;
  readonly rest: number;
  readonly reach: number;
}

/** Hands are late by as much as this, and sometimes ahead of the sound by a little. */
const MOST_LATE: Seconds = 0.4,
  MOST_EARLY: Seconds = 0.06;
const SMOOTHS: readonly { readonly attackMs: number; readonly releaseMs: number }[] = [
  { attackMs: 8, releaseMs: 140 },
  { attackMs: 40, releaseMs: 320 },
  { attackMs: 120, releaseMs: 800 },
];
const FALLS: readonly Milliseconds[] = [180, 420];
/** Less of a movement than this share of the parameter's range is a hand at rest. */
const LEAST_WAY = 0.02;

/**
 * Finds the signals that best explain a movement made by hand to the music: each is shaped as a new route would be, in a few
 * ways, and compared with the movement at every lag that a hand may have. The best way of each counts.
 * @param movement - the parameter's value by hand, in its unit @param column - seconds of one column
 * @returns best first; empty when the hand hardly moved
 */
export function showIt(
  movement: Float32Array,
  heard: readonly Heard[],
  parameter: NumberParameter,
  column: Seconds,
): Likeness[] {
  let low = Infinity,
    high = -Infinity;
  for (const y of movement)
    if (y - y === 0) {
      if (y < low) low = y;
      if (y > high) high = y;
    }
  if (!(high - low > (parameter.max - parameter.min) * LEAST_WAY * 0.25)) return [];
  const out: Likeness[] = [],
    shaped = new Float32Array(movement.length);
  for (const { signal, trace } of heard) {
    let best: Likeness | null = null;
    for (const shaping of waysOf(signal, trace)) {
      run(shaping, signal, trace, column, shaped);
      const found = compare(movement, shaped, column);
      if (!found || (best && found.score <= best.score)) continue;
      best = {
        signal: signal.id,
        score: found.score,
        lagMs: found.lag * column * 1000,
        shaping,
        rest: tidy(found.at0, parameter),
        reach: tidy(found.at1, parameter),
      };
    }
    if (best) out.push(best);
  }
  return out.sort((a, b) => b.score - a.score);
}

/** To a tenth of a step, within what the parameter takes. */
const tidy = (x: number, p: NumberParameter): number =>
  clamp(Number((Math.round(x / (p.step / 10)) * (p.step / 10)).toFixed(6)), p.min, p.max);

/** Ways in which a signal may be shaped, each whole and ready for a route. */
function waysOf(signal: Signal, trace: Float32Array): Shaping[] {
  const clampTo = { low: 0, high: 1 };
  if (signal.kind === 'event')
    return FALLS.map((fallMs) => ({ strike: { holdMs: 0, fallMs }, clamp: clampTo, amount: 1 }));
  if (signal.kind !== 'level') return [];
  const fit = signal.measure === 'share' ? null : learnFit(trace, signal.usual, signal.measure);
  if (signal.measure !== 'share' && !fit) return [];
  const base: Shaping = { ...(fit && { fit: { mode: 'heard', ...fit } }), clamp: clampTo, amount: 1 };
  return SMOOTHS.map((smooth) => ({ ...base, smooth }));
}

function run(
  shaping: Shaping,
  signal: Signal,
  trace: Float32Array,
  column: Seconds,
  out: Float32Array,
): void {
  const bank = new RouteBank(1);
  bank.reset(0);
  bank.set(0, shaping, signal.usual);
  bank.begin(column, 1);
  for (let i = 0; i < out.length; i++) {
    const x = trace[i]!,
      known = x - x === 0;
    out[i] = known ? bank.step(0, x, signal.kind === 'event' ? x : 0) : NaN;
  }
}

/** Least squares of the movement on the shaped signal, at the lag that explains most. */
function compare(
  y: Float32Array,
  x: Float32Array,
  column: Seconds,
): { readonly score: number; readonly lag: number; readonly at0: number; readonly at1: number } | null {
  const late = Math.round(MOST_LATE / column),
    early = -Math.round(MOST_EARLY / column);
  let best: { score: number; lag: number; at0: number; at1: number } | null = null;
  for (let lag = early; lag <= late; lag++) {
    let n = 0,
      sx = 0,
      sy = 0,
      sxx = 0,
      syy = 0,
      sxy = 0;
    for (let i = Math.max(0, lag); i < y.length && i - lag < x.length; i++) {
      const a = x[i - lag]!,
        b = y[i]!;
      if (a - a !== 0 || b - b !== 0) continue;
      n++;
      sx += a;
      sy += b;
      sxx += a * a;
      syy += b * b;
      sxy += a * b;
    }
    if (n * column < 1.5) continue;
    const vx = sxx - (sx * sx) / n,
      vy = syy - (sy * sy) / n,
      c = sxy - (sx * sy) / n;
    if (!(vx > 1e-6 * n) || !(vy > 0)) continue;
    const score = Math.abs(c) / Math.sqrt(vx * vy);
    if (best && score <= best.score) continue;
    const slope = c / vx,
      at0 = (sy - slope * sx) / n;
    best = { score, lag, at0, at1: at0 + slope };
  }
  return best;
}
