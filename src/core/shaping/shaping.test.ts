import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { learnFit, limitHolds } from './learnFit';
import { RouteBank } from './routeBank';
import { FIT_MOST_GAIN, leastFitHigh, leastFitOver, TAP_INDEX, type Shaping } from './steps';

/** Runs a shaping over numbers at a tick rate. */
function run(shaping: Shaping, input: number[], rate = 187.5, usual = 1, strengths?: number[]): number[] {
  const bank = new RouteBank(1);
  bank.reset(0);
  bank.set(0, shaping, usual);
  return input.map((x, i) => {
    bank.begin(1 / rate, 1);
    return bank.step(0, x, strengths?.[i] ?? 0);
  });
}
const steps = (seconds: number, rate: number, x: (t: number) => number): number[] =>
  Array.from({ length: Math.round(seconds * rate) }, (_, i) => x((i + 1) / rate));

describe('steps of a route', () => {
  it('passes a number through untouched when it has none, times the amount', () => {
    expect(run({ amount: 1 }, [0, 0.25, -3])).toEqual([0, 0.25, -3]);
    expect(run({ amount: 0.5 }, [1])).toEqual([0.5]);
  });
  it('floor: nothing at or below it, all of what is above', () => {
    expect(run({ floor: { at: 0.2 }, amount: 1 }, [0.1, 0.2, 0.21])).toEqual([0, 0, 0.21]);
  });
  it('an event by itself goes through floor and fit as a level does', () => {
    const shaping: Shaping = { floor: { at: 0.4 }, fit: { mode: 'hand', low: 0, high: 1 }, amount: 1 };
    const bank = new RouteBank(1);
    bank.reset(0);
    bank.set(0, shaping, 1);
    bank.begin(0.01, 1);
    bank.more[0] = 1;
    for (const x of [0.3, 0.4, 0.55, 0.7, 1]) {
      expect(bank.once(0, x)).toBeCloseTo(x <= 0.4 ? 0 : (x - 0.4) / 0.6, 6);
      expect(bank.once(0, x)).toBeCloseTo(Math.max(0, bank.step(0, x, 0)), 6);
    }
  });
  it('fit: (x − low) / (high − low), and lies flat below a floor that is above its low', () => {
    expect(
      run({ fit: { mode: 'hand', low: 0.004, high: 0.012 }, amount: 1 }, [0.004, 0.008, 0.012, 0.016]).map(
        (x) => +x.toFixed(9),
      ),
    ).toEqual([0, 0.5, 1, 1.5]);
    const [under, over] = run(
      { floor: { at: 0.5 }, fit: { mode: 'hand', low: 0, high: 1 }, clamp: { low: 0, high: 1 }, amount: 1 },
      [0.49, 0.500001],
    );
    expect(under).toBe(0);
    expect(over).toBeCloseTo(0, 4); // no jump where the floor is crossed
  });
  it('clamp keeps between its ends', () => {
    expect(run({ clamp: { low: 0, high: 1 }, amount: 1 }, [-1, 0.5, 9])).toEqual([0, 0.5, 1]);
  });
  it.each([60, 187.5, 1000])(
    'attack and release cover 1 − 1/e in their time at %d ticks a second',
    (rate) => {
      const shaping: Shaping = { smooth: { attackMs: 200, releaseMs: 400 }, amount: 1 };
      const out = run(shaping, steps(0.2, rate, () => 1).concat(steps(0.4, rate, () => 0)), rate);
      // One tick of slack: 0.2 s is not a whole number of ticks at every rate.
      expect(Math.abs(out[Math.round(0.2 * rate) - 1]! - (1 - 1 / Math.E))).toBeLessThan(0.37 / (0.2 * rate));
      expect(Math.abs(out.at(-1)! - out[Math.round(0.2 * rate) - 1]! / Math.E)).toBeLessThan(
        0.37 / (0.4 * rate),
      );
    },
  );
  it.each([60, 187.5, 1000])(
    'a strike leaps to its strength and falls in a straight line, at %d ticks a second',
    (rate) => {
      const n = Math.round(rate);
      const out = run(
        { strike: { holdMs: 0, fallMs: 500 }, amount: 1 },
        Array(n).fill(0),
        rate,
        1,
        Array.from({ length: n }, (_, i) => (i === 0 ? 0.8 : 0)),
      );
      expect(out[0]).toBe(0.8);
      expect(out[Math.round(rate / 4)]).toBeCloseTo(0.8 * (1 - Math.round(rate / 4) / rate / 0.5), 6);
      expect(out.at(-1)).toBe(0);
    },
  );
  it('a strike that is on or off goes to all at one hit, however soft, and to nothing at the next', () => {
    const out = run(
      { strike: { holdMs: 0, fallMs: 100, onOff: true }, amount: 1 },
      Array(9).fill(0),
      10,
      1,
      [0, 0.2, 0, 0, 0, 0, 1, 0, 0.1],
    );
    expect(out).toEqual([0, 1, 1, 1, 1, 1, 0, 0, 1]);
  });
  it('a softer hit during a fall does not pull a strike down', () => {
    const out = run({ strike: { holdMs: 100, fallMs: 500 }, amount: 1 }, [0, 0, 0], 100, 1, [1, 0.3, 0]);
    expect(out).toEqual([1, 1, 1]);
  });
  it('holds through NaN and infinity, then carries on', () => {
    for (const smooth of [undefined, { attackMs: 0, releaseMs: 0 }]) {
      expect(run({ ...(smooth && { smooth }), amount: 1 }, [0.5, NaN, Infinity, 1])).toEqual([
        0.5, 0.5, 0.5, 1,
      ]);
    }
  });
  it('keeps the number at every step of the tapped row', () => {
    const bank = new RouteBank(2);
    bank.set(1, { floor: { at: 0.1 }, fit: { mode: 'hand', low: 0, high: 2 }, amount: 0.5 }, 1);
    bank.tapped = 1;
    bank.begin(0.01, 2);
    bank.step(0, 7, 0);
    bank.step(1, 1.1, 0);
    expect(bank.taps[TAP_INDEX.heard]).toBeCloseTo(1.1);
    expect(bank.taps[TAP_INDEX.fit]).toBeCloseTo((1.1 - 0.1) / 1.9);
    expect(bank.taps[TAP_INDEX.amount]).toBeCloseTo((1.1 - 0.1) / 3.8);
    expect(bank.taps[TAP_INDEX.clamp]).toBeNaN();
  });
  it('changes and growth of other rows leave a row as it is, bit for bit', () => {
    const alone = new RouteBank(1),
      among = new RouteBank(1);
    const random = seeded(5);
    const shaping: Shaping = {
      fit: { mode: 'coming', forgetS: 2 },
      smooth: { attackMs: 30, releaseMs: 300 },
      amount: 1,
    };
    for (const bank of [alone, among]) {
      bank.reset(0);
      bank.set(0, shaping, 0.25);
    }
    for (let i = 0; i < 2000; i++) {
      const x = random();
      if (i % 7 === 0) {
        const row = 1 + (i % 90);
        among.reset(row);
        among.set(row, { ...shaping, amount: x }, 1);
      }
      for (const bank of [alone, among]) {
        bank.begin(1 / 187.5, 1);
        bank.step(0, x, 0);
      }
    }
    expect(among.liveState(0)).toEqual(alone.liveState(0));
  });
});

describe('fit to what comes', () => {
  const coming: Shaping = { fit: { mode: 'coming', forgetS: 5 }, clamp: { low: 0, high: 1 }, amount: 1 };
  it('stays at rest until something sounds, then uses the whole way', () => {
    const out = run(
      coming,
      [...steps(1, 187.5, () => 0), ...steps(4, 187.5, (t) => 0.05 + 0.03 * Math.sin(20 * t))],
      187.5,
      0.08,
    );
    expect(Math.max(...out.slice(0, 187))).toBe(0);
    expect(Math.max(...out.slice(-187))).toBeGreaterThan(0.95);
    expect(Math.min(...out.slice(-187))).toBeLessThan(0.05);
  });
  it('is not taught by silence', () => {
    const bank = new RouteBank(1);
    bank.set(0, coming, 0.08);
    bank.reset(0);
    for (const x of steps(2, 187.5, (t) => 0.05 + 0.03 * Math.sin(20 * t))) {
      bank.begin(1 / 187.5, 1);
      bank.step(0, x, 0);
    }
    const before = bank.learned(0);
    for (let i = 0; i < 187 * 60; i++) bank.step(0, 1e-6, 0);
    expect(bank.learned(0)).toEqual(before);
  });
  it('never raises by more than 24 dB beyond the usual', () => {
    const out = run(
      coming,
      steps(5, 187.5, (t) => 0.001 + 0.0005 * Math.sin(20 * t)),
      187.5,
      0.08,
    );
    expect(Math.max(...out)).toBeLessThan((0.0015 * FIT_MOST_GAIN) / 0.08 + 0.01);
  });
});

describe('fit to what was heard', () => {
  it('takes the stretch that sounded, without its rarest peaks', () => {
    const trace = Array.from({ length: 500 }, (_, i) => 0.004 + 0.012 * ((i % 100) / 99));
    trace[3] = 0.9;
    const fit = learnFit(trace, 0.08)!;
    expect(fit.high).toBeCloseTo(0.016, 3);
    expect(fit.low).toBeCloseTo(0.0052, 3);
  });
  it('waits when nothing sounded, whatever was unknown', () => {
    expect(learnFit(new Float32Array(576), 0.08)).toBeNull();
    expect(learnFit(new Float32Array(576).fill(NaN), 0.08)).toBeNull();
    expect(learnFit(new Float32Array(576).fill(leastFitHigh(0.08) / 10), 0.08)).toBeNull();
  });
  it('goes no further than the limit against hiss, says so, and goes past it when told to', () => {
    const quiet = Array.from({ length: 500 }, (_, i) => 0.0005 + 0.0009 * ((i % 100) / 99));
    expect(learnFit(quiet, 0.08)!.high).toBe(leastFitHigh(0.08));
    // 98 % of the way up: 0.00138.
    expect(limitHolds(quiet, 0.08, 'amplitude')).toBeCloseTo(20 * Math.log10(0.08 / 0.00138), 0);
    const past = learnFit(quiet, 0.08, 'amplitude', 0)!;
    expect(past.high).toBeCloseTo(0.00138, 4);
    expect(past.low).toBeCloseTo(0.00059, 4);
    expect(limitHolds(quiet, 0.08, 'amplitude', 0)).toBeNull();
    const usual = quiet.map((x) => x * 30);
    expect(limitHolds(usual, 0.08, 'amplitude')).toBeNull();
    expect(limitHolds(new Float32Array(576), 0.08, 'amplitude')).toBeNull();
    expect(limitHolds(quiet, 1, 'strength')).toBeNull();
  });
  it('where the empty room is known, its floor takes the place of the limit', () => {
    expect(leastFitOver(undefined, 0.08)).toBe(leastFitHigh(0.08));
    expect(leastFitOver(0.0002, 0.08)).toBe(0.0004);
    // A floor above the limit leaves it where it is.
    expect(leastFitOver(0.02, 0.08)).toBe(leastFitHigh(0.08));
    const bank = new RouteBank(1);
    bank.set(0, { floor: { at: 0.0002 }, fit: { mode: 'coming', forgetS: 30 }, amount: 1 }, 0.08);
    bank.begin(1 / 187.5, 1);
    let top = 0;
    for (let i = 0; i < 400; i++) top = Math.max(top, bank.step(0, 0.0008 + 0.0006 * Math.sin(i / 9), 0));
    expect(top).toBeCloseTo(1, 2);
  });
  it('fits hits from a single one', () => {
    const trace = new Float32Array(576);
    trace[100] = 0.8;
    expect(learnFit(trace, 1)!.high).toBeCloseTo(0.8);
  });
});
