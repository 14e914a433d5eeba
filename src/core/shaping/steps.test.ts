import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { CURVES, curveAt, curveTable, readCurve } from './curve';
import { Pasts } from './past';
import { RouteBank } from './routeBank';
import { TAP_INDEX, type Shaping } from './steps';

const RATES = [60, 187.5, 1000];

/** Runs a shaping over a course of a number in time; `out[i]` belongs to time `(i + 1) / rate`. */
function run(
  shaping: Omit<Shaping, 'amount'>,
  seconds: number,
  rate: number,
  x: (t: number) => number,
): { out: number[]; at: (t: number) => number } {
  const bank = new RouteBank(1);
  bank.reset(0);
  bank.set(0, { ...shaping, amount: 1 }, 1);
  const out = Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
    bank.begin(1 / rate, 1);
    return bank.step(0, x((i + 1) / rate), 0);
  });
  return { out, at: (t) => out[Math.round(t * rate) - 1]! };
}
const step =
  (at: number) =>
  (t: number): number =>
    t > at + 1e-9 ? 1 : 0;
const ramp = (t: number): number => t;
function noise(seed: number): (t: number) => number {
  const r = seeded(seed);
  return () => r();
}

describe.each(RATES)('at %d ticks a second', (rate) => {
  const tick = 1 / rate;
  it('flip gives 1 − x for a step, a ramp and noise', () => {
    expect(run({ flip: true }, 0.5, rate, step(0.2)).out).toEqual(
      run({}, 0.5, rate, step(0.2)).out.map((x) => 1 - x),
    );
    const r = run({ flip: true }, 1, rate, ramp);
    for (const t of [0.2, 0.5, 0.8]) expect(r.at(t)).toBeCloseTo(1 - Math.round(t * rate) / rate, 9);
    expect(run({ flip: true }, 1, rate, noise(3)).out).toEqual(
      run({}, 1, rate, noise(3)).out.map((x) => 1 - x),
    );
  });
  it('a curve is where its points are, and between them as its cubic says', () => {
    const r = run({ curve: { points: CURVES['slow start']! } }, 1, rate, ramp);
    for (const t of [0.25, 0.5, 0.75]) {
      const x = Math.round(t * rate) / rate;
      expect(r.at(t)).toBeCloseTo(x * x, 2);
    }
    const n = noise(5),
      m = noise(5);
    for (const y of run({ curve: { points: CURVES['there and back']! } }, 0.5, rate, n).out)
      expect(y).toBeCloseTo(curveAt(CURVES['there and back']!, m(0)), 4);
  });
  it('hold keeps the greatest for its time, then lets go', () => {
    const { out } = run({ hold: { ms: 200 } }, 1, rate, (t) =>
      Math.abs(t - Math.round(0.3 * rate) / rate) < tick / 2 ? 1 : 0,
    );
    const high = out.filter((x) => x === 1).length;
    expect(Math.abs(high - (0.2 * rate + 1))).toBeLessThanOrEqual(1);
    expect(out[0]).toBe(0);
    expect(out.at(-1)).toBe(0);
    // On a ramp down it holds each value once, and falls by what the ramp fell meanwhile.
    const down = run({ hold: { ms: 100 } }, 1, rate, (t) => 1 - t).out;
    down.forEach((y, i) => {
      const x = 1 - (i + 1) / rate;
      expect(y - x).toBeGreaterThan(-1e-9);
      expect(y - x).toBeLessThan(0.1 + 2 * tick);
    });
  });
  it('an average of a step rises in a straight line over its time; of a ramp it lags by half of it', () => {
    const a = run({ average: { ms: 400 } }, 1.2, rate, step(0.5));
    for (const t of [0.6, 0.7, 0.8]) {
      const since = (Math.round(t * rate) - Math.floor(0.5 * rate + 1e-6)) / rate;
      expect(Math.abs(a.at(t) - since / 0.4)).toBeLessThan((0.51 * tick) / 0.4 + 1e-6);
    }
    expect(a.at(1.1)).toBeCloseTo(1, 9);
    const r = run({ average: { ms: 400 } }, 1, rate, ramp);
    for (const t of [0.6, 0.9])
      expect(Math.abs(r.at(t) - (Math.round(t * rate) / rate - 0.2))).toBeLessThan(tick);
    // Of noise: exactly the mean of what fell into it, where that is a whole number of ticks.
    const x: number[] = [],
      n = noise(8);
    const y = run({ average: { ms: (50 / rate) * 1000 } }, 0.9, rate, (t) => {
      const v = n(t);
      x.push(v);
      return v;
    }).out;
    if (y.length > 60) expect(y[59]).toBeCloseTo(x.slice(10, 60).reduce((p, q) => p + q, 0) / 50, 9);
  });
  it('a delay is the same, later: a ramp to within rounding, a step within a tick, noise value for value', () => {
    const r = run({ delay: { ms: 137 } }, 1, rate, ramp);
    for (const t of [0.3, 0.6, 0.95]) expect(r.at(t)).toBeCloseTo(Math.round(t * rate) / rate - 0.137, 9);
    const s = run({ delay: { ms: 250 } }, 1, rate, step(0.25)).out.findIndex((y) => y > 0.5);
    expect(Math.abs((s + 1) / rate - 0.5)).toBeLessThanOrEqual(tick + 1e-9);
    const x: number[] = [],
      n = noise(9);
    const y = run({ delay: { ms: (20 / rate) * 1000 } }, 0.9, rate, (t) => {
      const v = n(t);
      x.push(v);
      return v;
    }).out;
    y.forEach((v, i) => expect(v).toBeCloseTo(i < 20 ? 0 : x[i - 20]!, 9));
  });
  it('steps are whole, by count and by size', () => {
    for (const steps of [
      { by: 'count', count: 4 },
      { by: 'size', size: 0.25 },
    ] as const) {
      const { out } = run({ steps }, 1, rate, ramp);
      out.forEach((y, i) => {
        const x = (i + 1) / rate;
        expect(y).toBe(Math.round(x * 4) / 4);
      });
    }
    for (const y of run({ steps: { by: 'count', count: 7 } }, 1, rate, noise(4)).out)
      expect(Math.abs(y * 7 - Math.round(y * 7))).toBeLessThan(1e-9);
  });
  it('steady calms jitter like its rest time, and follows a ramp as closely as its speed allows', () => {
    // A ramp of slope v is followed τ v behind, τ being 1 / (1/τ₀ + 2π q v): for the filter as computed, less half a tick or so.
    const v = 0.8,
      tau = 1 / (1 / 0.3 + 2 * Math.PI * 4 * v);
    const r = run({ steady: { restMs: 300, quick: 4 } }, 3, rate, (t) => v * t);
    expect(Math.abs(v * (Math.round(2.9 * rate) / rate) - r.at(2.9) - tau * v)).toBeLessThan(v * tick);
    // Without quickness it is a plain low-pass: a step has gone 1 − 1/e of its way after the rest time.
    const s = run({ steady: { restMs: 300, quick: 0 } }, 1, rate, step(tick));
    expect(Math.abs(s.at(0.3 + tick) - (1 - 1 / Math.E))).toBeLessThan(0.38 * (tick / 0.3));
    // Noise about a level is calmed at least to a third of what it was.
    const spread = (x: number[]): number => {
      const m = x.reduce((p, q) => p + q, 0) / x.length;
      return Math.sqrt(x.reduce((p, q) => p + (q - m) ** 2, 0) / x.length);
    };
    const raw = run({}, 4, rate, noise(6)).out.slice(Math.round(rate)),
      calm = run({ steady: { restMs: 400, quick: 0.02 } }, 4, rate, noise(6)).out.slice(Math.round(rate));
    expect(spread(calm)).toBeLessThan(spread(raw) / 3);
  });
  it('attack and release hold against a ramp: it is followed one attack behind', () => {
    const r = run({ smooth: { attackMs: 150, releaseMs: 600 } }, 2, rate, ramp);
    expect(Math.abs(Math.round(1.9 * rate) / rate - r.at(1.9) - 0.15)).toBeLessThan(tick);
  });
});

describe('the same whatever the tick', () => {
  it('a slow movement through every step at once comes out alike at 187.5 and 1000 ticks a second', () => {
    const shaping = {
      clamp: { low: 0, high: 1 },
      curve: { points: CURVES['soft ends']! },
      smooth: { attackMs: 60, releaseMs: 200 },
      steady: { restMs: 50, quick: 1 },
      average: { ms: 90 },
      delay: { ms: 40 },
    };
    const x = (t: number): number => 0.5 + 0.5 * Math.sin(2 * Math.PI * 0.7 * t);
    const a = run(shaping, 4, 187.5, x),
      b = run(shaping, 4, 1000, x);
    // Each of the three low-passes may differ by half of the longer tick, at the steepest 1.5 × 2.2 a second.
    for (let t = 0.4; t < 3.9; t += 0.08)
      expect(Math.abs(a.at(t) - b.at(t))).toBeLessThan((1.5 * 1.5 * 2.2) / 187.5);
  });
});

describe('curve', () => {
  it('never overshoots between its points, whatever they are', () => {
    const r = seeded(11);
    for (let trial = 0; trial < 200; trial++) {
      const points = Array.from(
        { length: 5 },
        (_, i) => [i === 0 ? 0 : i === 4 ? 1 : (i + 0.8 * (r() - 0.5)) / 4, r()] as const,
      );
      for (let k = 0; k < 4; k++) {
        const [xa, ya] = points[k]!,
          [xb, yb] = points[k + 1]!;
        for (let i = 0; i <= 10; i++) {
          const y = curveAt(points, xa + ((xb - xa) * i) / 10);
          expect(y).toBeGreaterThan(Math.min(ya, yb) - 1e-9);
          expect(y).toBeLessThan(Math.max(ya, yb) + 1e-9);
        }
      }
    }
  });
  it('is read from its table to within a thousandth, and stays at its ends beyond them', () => {
    for (const points of Object.values(CURVES)) {
      const table = curveTable(points);
      for (let x = 0; x <= 1; x += 0.013) expect(readCurve(table, x)).toBeCloseTo(curveAt(points, x), 3);
      expect(readCurve(table, -3)).toBe(points[0]![1]);
      expect(readCurve(table, 9)).toBe(points.at(-1)![1]);
    }
  });
});

describe('past', () => {
  it('keeps what it knows when its stretch is changed while it runs', () => {
    const p = new Pasts();
    p.setUp(3, 0.1, 0.01);
    for (let i = 1; i <= 100; i++) p.put(3, i);
    expect(p.delayed(3)).toBe(90);
    p.setUp(3, 0.05, 0.01);
    expect(p.delayed(3)).toBe(95);
    expect(p.mean(3)).toBe(98);
  });
  it('gives the room of one that is dropped to the next, empty, and leaves its neighbours alone', () => {
    const p = new Pasts();
    for (const id of [0, 1, 2]) {
      p.setUp(id, 0.1, 0.01);
      for (let i = 1; i <= 40; i++) p.put(id, 100 * id + i);
    }
    p.drop(1);
    p.setUp(7, 0.1, 0.01);
    expect(p.delayed(7)).toBe(0);
    for (let i = 0; i < 300; i++) p.setUp(20 + i, 0.01 * i, 0.01);
    p.put(7, 5);
    expect([p.delayed(0), p.mean(0), p.delayed(2), p.mean(7)]).toEqual([30, 35.5, 230, 5]);
  });
  it('does not drift over a long night', () => {
    const p = new Pasts(),
      r = seeded(2);
    p.setUp(3, 0.5, 0.005);
    for (let i = 0; i < 400000; i++) p.put(3, r() * 1e6);
    for (let i = 0; i < 200; i++) p.put(3, 0.25);
    expect(p.mean(3)).toBeCloseTo(0.25, 9);
  });
});

describe('a row with every step', () => {
  it('comes through NaN and infinity finite, and shows the number at each step', () => {
    const bank = new RouteBank(1);
    bank.set(
      0,
      {
        floor: { at: 0 },
        fit: { mode: 'hand', low: 0, high: 1 },
        clamp: { low: 0, high: 1 },
        flip: true,
        curve: { points: CURVES['soft ends']! },
        hold: { ms: 20 },
        smooth: { attackMs: 5, releaseMs: 5 },
        steady: { restMs: 5, quick: 1 },
        average: { ms: 30 },
        steps: { by: 'count', count: 10 },
        delay: { ms: 10 },
        amount: 1,
      },
      1,
    );
    bank.tapped = 0;
    for (const x of [0.2, NaN, Infinity, -Infinity, 0.7, ...Array(40).fill(0.3)] as number[]) {
      bank.begin(1 / 187.5, 1);
      expect(Number.isFinite(bank.step(0, x, 0))).toBe(true);
    }
    for (const tap of [
      'flip',
      'curve',
      'hold',
      'smooth',
      'steady',
      'average',
      'steps',
      'delay',
      'amount',
    ] as const)
      expect(Number.isFinite(bank.taps[TAP_INDEX[tap]]!)).toBe(true);
    expect(bank.taps[TAP_INDEX.flip]).toBeCloseTo(0.7, 5);
  });
  it('raises beyond 24 dB only when told to', () => {
    const top = (mostDb?: number): number => {
      const bank = new RouteBank(1);
      bank.set(
        0,
        { fit: { mode: 'coming', forgetS: 30, ...(mostDb !== undefined && { mostDb }) }, amount: 1 },
        1,
      );
      let y = 0;
      for (let i = 0; i < 400; i++) {
        bank.begin(1 / 187.5, 1);
        y = bank.step(0, (0.02 * (1 + Math.sin(i))) / 2, 0);
      }
      for (let i = 0; i < 20; i++) y = Math.max(y, bank.step(0, 0.02, 0));
      return y;
    };
    expect(top()).toBeLessThan(0.4);
    expect(top(48)).toBeCloseTo(1, 1);
  });
});
