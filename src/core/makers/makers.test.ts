import { describe, expect, it } from '@jest/globals';
import { BeatClock } from '../beat/beatClock';
import { toHex } from '../parameters/colour';
import { SignalStore } from '../plan/signalStore';
import { Traces } from '../plan/traces';
import { chance, wave } from './maker';
import { MakerBank, type MakerSource } from './makerBank';
import { loopThrough, newMaking, type Making, type MakingKind } from './making';

const DT = 256 / 48000;

/** A bank with a signal `in` that is set, and struck, by hand. */
class Rig {
  readonly store = new SignalStore(128, 8, Traces.make);
  readonly clock = new BeatClock();
  readonly bank = new MakerBank(this.store, this.clock);
  readonly from = this.store.place('in');
  time = 0;
  makers: MakerSource[];
  constructor(...makings: Making[]) {
    this.makers = makings.map((making, i) => ({ id: `m${i}`, name: `m${i}`, making }));
    this.plan();
  }
  plan(): void {
    this.bank.set(this.makers, (id) => this.store.find(id) ?? -1);
  }
  /** @param hits - events of `in` in this tick: seconds before its end, and strength */
  tick(
    level = 0,
    hits: readonly (readonly [ago: number, strength: number])[] = [],
    dt = DT,
    position = this.time + dt,
  ): void {
    const { store } = this;
    this.time += dt;
    store.eventCount = 0;
    store.current = this.from;
    store.strength[this.from] = 0;
    for (const [ago, strength] of hits) store.event(this.time - ago, strength);
    store.values[this.from] = level;
    this.bank.tick(this.time, dt, position);
  }
  value(i = 0): number {
    return this.store.values[this.bank.find(`m${i}`)!.slot]!;
  }
  count(i = 0): number {
    return this.store.counts[this.bank.find(`m${i}`)!.slot]!;
  }
  /** Times and strengths of what maker i told in this tick. */
  told(i = 0): (readonly [number, number])[] {
    const slot = this.bank.find(`m${i}`)!.slot,
      s = this.store;
    return Array.from({ length: s.eventCount }, (_, k) => k)
      .filter((k) => s.eventSlot[k] === slot)
      .map((k) => [s.eventTime[k]!, s.eventStrength[k]!] as const);
  }
}
const on = 'in';

describe('two signals', () => {
  const [a, b] = [0.6, -0.25];
  it.each([
    ['sum', a + b],
    ['difference', a - b],
    ['product', a * b],
    ['ratio', a / b],
    ['greatest', a],
    ['least', b],
  ] as const)('make their %s', (makes, truth) => {
    const r = new Rig(
      { kind: 'pair', of: 'in', and: 'm1', makes },
      { kind: 'list', on, values: [b], order: 'onward' },
    );
    r.tick(a);
    expect(r.value()).toBeCloseTo(truth, 6);
  });
  it('have no ratio to nothing, and count one that is not chosen or is no number as nothing', () => {
    const r = new Rig(
      { kind: 'pair', of: 'in', and: null, makes: 'ratio' },
      { kind: 'pair', of: 'in', and: null, makes: 'sum' },
    );
    r.tick(3);
    expect([r.value(0), r.value(1)]).toEqual([0, 3]);
    r.tick(NaN);
    expect([r.value(0), r.value(1)]).toEqual([0, 0]);
  });
});

describe('gate', () => {
  const gate = (shut: 'rest' | 'hold'): Making => ({
    kind: 'gate',
    of: 'm1',
    and: 'in',
    at: 0.5,
    back: 0.2,
    shut,
  });
  /** What goes through is one more at every hit. */
  const steps: Making = { kind: 'list', on, values: [1, 2, 3, 4, 5, 6, 7], order: 'onward' };
  it.each([
    ['rest', [0, 0, 4, 5, 0, 0]],
    ['hold', [0, 0, 4, 5, 5, 5]],
  ] as const)(
    'lets through while the other is past a value, until it has come back (%s)',
    (shut, expected) => {
      const r = new Rig(gate(shut), steps);
      const seen = [0, 0.5, 0.51, 0.31, 0.29, 0.45].map((level) => {
        r.tick(level, [[0, 1]]);
        return r.value();
      });
      expect(seen).toEqual(expected);
    },
  );
  it('opens as it was left, and gives nothing by itself', () => {
    const r = new Rig(gate('hold'), steps);
    r.tick(1, [[0, 1]]);
    const again = new Rig();
    again.bank.remember(r.bank.states());
    again.makers = r.makers;
    again.plan();
    again.tick(0);
    expect(again.value()).toBe(2);
  });
});

describe('oscillator', () => {
  it.each([
    ['sine', 0.25, 0.5],
    ['sine', 0.5, 1],
    ['triangle', 0.25, 0.5],
    ['triangle', 0.75, 0.5],
    ['ramp', 0.3, 0.3],
    ['square', 0.2, 1],
    ['square', 0.7, 0],
  ] as const)('%s is right at %d of a cycle', (shape, phase, y) =>
    expect(wave(shape, phase, 0, 1)).toBeCloseTo(y, 9),
  );
  it('turns as often as it says, whatever the tick', () => {
    for (const rate of [60, 187.5, 1000]) {
      const r = new Rig({
        kind: 'oscillator',
        shape: 'ramp',
        every: { unit: 'hz', value: 0.7 },
        phase: 0.25,
      });
      for (let i = 0; i < rate * 2; i++) r.tick(0, [], 1 / rate);
      expect(r.value()).toBeCloseTo((0.7 * 2 + 0.25) % 1, 4);
    }
  });
  it('lies on the beat when it counts beats', () => {
    const r = new Rig({ kind: 'oscillator', shape: 'ramp', every: { unit: 'beats', value: 4 }, phase: 0 });
    r.clock.beat = 13;
    r.tick();
    expect(r.value()).toBeCloseTo(0.25, 6);
  });
  it('wanders without a leap, between 0 and 1', () => {
    const r = new Rig({ kind: 'oscillator', shape: 'wander', every: { unit: 'hz', value: 2 }, phase: 0 });
    let last = NaN,
      most = 0;
    for (let i = 0; i < 4000; i++) {
      r.tick();
      if (i > 0) most = Math.max(most, Math.abs(r.value() - last));
      last = r.value();
      expect(last).toBeGreaterThanOrEqual(0);
      expect(last).toBeLessThanOrEqual(1);
    }
    expect(most).toBeLessThan(1.5 * 2 * DT + 1e-6); // the steepest of a smooth step, twice a second
  });
});

describe('at an event', () => {
  it('flip changes sides at each, even at several in one tick', () => {
    const r = new Rig({ kind: 'flip', on });
    r.tick();
    expect(r.value()).toBe(0);
    r.tick(0, [[0.001, 0.5]]);
    expect(r.value()).toBe(1);
    r.tick(0, [
      [0.004, 0.5],
      [0.001, 0.2],
    ]);
    expect(r.value()).toBe(1);
    r.tick(0, [[0.001, 0.5]]);
    expect(r.value()).toBe(0);
    expect(r.count()).toBe(4);
  });
  it('every event goes on with its own time and strength through a chain', () => {
    const r = new Rig({ kind: 'flip', on }, { kind: 'list', on: 'm0', values: [1, 2, 3], order: 'onward' });
    r.tick(0, [
      [0.004, 0.75],
      [0.001, 0.25],
    ]);
    expect(r.told(1)).toEqual(r.told(0));
    expect(r.told(1).map(([t, s]) => [Number((r.time - t).toFixed(6)), s])).toEqual([
      [0.004, 0.75],
      [0.001, 0.25],
    ]);
    expect(r.value(1)).toBe(3);
  });
  it('random draws anew, the same row every time the show is played', () => {
    const row = (): number[] => {
      const r = new Rig({ kind: 'random', on, choices: null });
      return Array.from({ length: 20 }, () => {
        r.tick(0, [[0, 1]]);
        return r.value();
      });
    };
    expect(row()).toEqual(row());
    expect(new Set(row()).size).toBe(20);
    expect(row().every((x) => x >= 0 && x < 1)).toBe(true);
  });
  it('a choice is one of so many, each comes, and none twice running', () => {
    const r = new Rig({ kind: 'random', on, choices: 4 });
    const seen = Array.from({ length: 400 }, () => {
      r.tick(0, [[0, 1]]);
      return Math.round(r.value() * 3);
    });
    expect(new Set(seen)).toEqual(new Set([0, 1, 2, 3]));
    expect(seen.every((x, i) => i === 0 || x !== seen[i - 1])).toBe(true);
    for (let k = 0; k < 4; k++) expect(seen.filter((x) => x === k).length).toBeGreaterThan(60);
  });
  it('chance values are even', () => {
    const bins = new Array(10).fill(0) as number[];
    for (let i = 0; i < 10000; i++) bins[Math.floor(chance(12345, i) * 10)]!++;
    for (const b of bins) expect(Math.abs(b - 1000)).toBeLessThan(150); // five standard deviations
  });
  it('a list goes onward, there and back, or any way', () => {
    const walk = (order: 'onward' | 'there and back' | 'any'): number[] => {
      const r = new Rig({ kind: 'list', on, values: [5, 6, 7], order });
      return Array.from({ length: 8 }, () => {
        r.tick(0, [[0, 1]]);
        return r.value();
      });
    };
    expect(walk('onward')).toEqual([6, 7, 5, 6, 7, 5, 6, 7]);
    expect(walk('there and back')).toEqual([6, 7, 6, 5, 6, 7, 6, 5]);
    expect(walk('any').every((x, i, all) => i === 0 || x !== all[i - 1])).toBe(true);
  });
  it('colours are those of the palette, in linear light', () => {
    const r = new Rig({ kind: 'colours', on, palette: ['#e2452b', '#2f7f86'], order: 'onward' });
    const at = r.bank.find('m0')!.slot,
      hex = (): string => toHex(r.store.values[at]!, r.store.values[at + 1]!, r.store.values[at + 2]!);
    r.tick();
    expect(hex()).toBe('#e2452b');
    r.tick(0, [[0, 1]]);
    expect(hex()).toBe('#2f7f86');
  });
  it('colours at chance lie within their ranges, no two alike running, and are there again when it opens', () => {
    const reds = { hue: [330, 30], lightness: [0.7, 0.7], strength: [1, 1] } as const;
    const making: Making = { kind: 'colours', on, palette: ['#ffffff'], order: 'any', chance: reds };
    const r = new Rig(making);
    const colourIn = (rig: Rig): string => {
      const at = rig.bank.find('m0')!.slot,
        v = rig.store.values;
      return toHex(v[at]!, v[at + 1]!, v[at + 2]!);
    };
    const seen: string[] = [];
    for (let i = 0; i < 40; i++) {
      r.tick(0, [[0, 1]]);
      seen.push(colourIn(r));
    }
    expect(new Set(seen).size).toBeGreaterThan(30);
    expect(seen.every((c, i) => c !== seen[i - 1])).toBe(true);
    // From magenta through red to orange: red leads in all of them.
    for (const c of seen) {
      const [red, green, blue] = [1, 3, 5].map((i) => Number.parseInt(c.slice(i, i + 2), 16));
      expect([c, red! > green! && red! > blue!]).toEqual([c, true]);
    }
    const again = new Rig(making);
    again.bank.remember({ m0: [...r.bank.states().m0!] });
    again.tick();
    expect(colourIn(again)).toBe(seen.at(-1));
  });
  it('of every so many events one counts, by the number that the event has', () => {
    const r = new Rig({ kind: 'flip', on, nth: { every: 3, from: 2 } });
    const told: number[] = [];
    for (let i = 0; i < 9; i++) {
      r.tick(0, [[0, 1]]);
      if (r.told().length) told.push(i);
    }
    expect(told).toEqual([2, 5, 8]);
  });
  it('a one-shot rises, stays and falls in its times, as high as the event is strong', () => {
    const r = new Rig({ kind: 'oneShot', on, attackMs: 100, holdMs: 200, releaseMs: 400 });
    r.tick(0, [[0, 0.8]], 0.001);
    const at: Record<number, number> = {};
    for (let i = 1; i <= 800; i++) {
      r.tick(0, [], 0.001);
      at[i] = r.value();
    }
    expect(at[50]).toBeCloseTo(0.4, 5);
    expect(at[100]).toBeCloseTo(0.8, 5);
    expect(at[299]).toBeCloseTo(0.8, 5);
    expect(at[500]).toBeCloseTo(0.4, 5);
    expect(at[701]).toBe(0);
  });
});

describe('from a level', () => {
  it('a glide takes its time to wherever its source leaps, in a straight line', () => {
    const r = new Rig({ kind: 'glide', of: on, seconds: 2 });
    r.tick(0.2, [], 0.01);
    expect(r.value()).toBeCloseTo(0.2, 6); // it begins where its source is
    for (let i = 0; i < 100; i++) r.tick(1, [], 0.01);
    expect(r.value()).toBeCloseTo(0.6, 5);
    for (let i = 0; i < 100; i++) r.tick(1, [], 0.01);
    expect(r.value()).toBeCloseTo(1, 5);
    for (let i = 0; i < 100; i++) r.tick(0, [], 0.01);
    expect(r.value()).toBeCloseTo(0.5, 5);
  });
  it.each([
    ['up', 1],
    ['down', 1],
    ['both', 2],
  ] as const)('crossing %s tells once, however it trembles, and not when it opens', (way, times) => {
    const r = new Rig({ kind: 'crossing', of: on, at: 0.5, back: 0.1, way, gives: 'event' });
    for (const x of [0.2, 0.51, 0.45, 0.52, 0.41, 0.6, 0.39, 0.45]) r.tick(x);
    expect(r.count()).toBe(times);
    const opened = new Rig({ kind: 'crossing', of: on, at: 0.5, back: 0.1, way, gives: 'event' });
    for (let i = 0; i < 5; i++) opened.tick(0.9);
    expect(opened.count()).toBe(0);
  });
  it('a crossing is a switch when it is asked to be, and then tells nothing', () => {
    const r = new Rig({ kind: 'crossing', of: on, at: 0.5, back: 0.1, way: 'up', gives: 'switch' });
    const out = [0.2, 0.6, 0.45, 0.3].map((x) => {
      r.tick(x);
      return r.value();
    });
    expect(out).toEqual([0, 1, 1, 0]);
    expect(r.count()).toBe(0);
  });
  it('change tells whenever it has moved by so much', () => {
    const r = new Rig({ kind: 'change', of: on, by: 0.25 });
    for (const x of [0.9, 0.8, 0.64, 0.5, 0.38, 0.38]) r.tick(x);
    expect(r.count()).toBe(2); // at 0.64 and at 0.38
  });
});

describe('by hand', () => {
  it('a slider stays where it is put, within its ends', () => {
    const r = new Rig({ kind: 'slider', touch: null });
    r.bank.touch('m0', 0.25);
    r.tick();
    expect(r.value()).toBe(0.25);
    r.bank.touch('m0', 7);
    r.tick();
    expect(r.value()).toBe(1);
    r.bank.touch('m0', NaN);
    r.tick();
    expect(r.value()).toBe(1);
  });
  it('a momentary button is 1 while pressed; a latching one changes at each press; each press is one event', () => {
    const r = new Rig(
      { kind: 'button', latching: false, key: null, touch: null },
      { kind: 'button', latching: true, key: null, touch: null },
    );
    const press = (v: number): number[] => {
      r.bank.touch('m0', v);
      r.bank.touch('m1', v);
      r.tick();
      return [r.value(0), r.value(1)];
    };
    expect([press(1), press(1), press(0), press(1), press(0)]).toEqual([
      [1, 1],
      [1, 1],
      [0, 1],
      [1, 0],
      [0, 0],
    ]);
    expect([r.count(0), r.count(1)]).toEqual([2, 2]);
  });
  it('a press drives another maker in the same tick', () => {
    const r = new Rig(
      { kind: 'flip', on: 'm1' },
      { kind: 'button', latching: false, key: null, touch: null },
    );
    r.bank.touch('m1', 1);
    r.tick();
    expect(r.value(0)).toBe(1);
  });
});

describe('clock and timed text', () => {
  it('give seconds of the show, since it was opened, and beats', () => {
    const r = new Rig(
      { kind: 'clock', reading: 'position' },
      { kind: 'clock', reading: 'sinceOpened' },
      { kind: 'clock', reading: 'beats' },
    );
    r.clock.beat = 9;
    r.tick(0, [], 0.5, 42);
    r.tick(0, [], 0.5, 43);
    expect([r.value(0), r.value(1), r.value(2)]).toEqual([43, 1, 9]);
  });
  it('a line is told once, at its second', () => {
    const r = new Rig({
      kind: 'prompter',
      lines: [
        { at: 0, text: 'a' },
        { at: 2, text: 'b' },
      ],
    });
    for (let p = 0; p < 4; p += 0.1) r.tick(0, [], 0.1, p);
    expect([r.value(), r.count()]).toEqual([2, 1]);
    r.tick(0, [], 0.1, 0.5);
    expect([r.value(), r.count()]).toEqual([1, 2]); // back at the first after the show was set back
  });
});

describe("a show's makers", () => {
  it('open as they were left, and nothing fires by it', () => {
    const makings: Making[] = [
      { kind: 'flip', on },
      { kind: 'random', on, choices: 5 },
      { kind: 'list', on, values: [3, 4, 5], order: 'onward' },
      { kind: 'slider', touch: null },
      { kind: 'button', latching: true, key: null, touch: null },
      { kind: 'oneShot', on, attackMs: 0, holdMs: 9000, releaseMs: 0 },
      { kind: 'crossing', of: on, at: 0.5, back: 0, way: 'both', gives: 'event' },
    ];
    const r = new Rig(...makings);
    r.bank.touch('m3', 0.7);
    r.bank.touch('m4', 1);
    for (let i = 0; i < 3; i++) r.tick(0.9, [[0, 1]]);
    const kept = r.bank.states(),
      values = makings.map((_, i) => r.value(i));
    const next = new Rig(...makings);
    next.bank.remember(kept);
    next.tick(0.1);
    expect(makings.map((_, i) => next.value(i))).toEqual(values.map((v, i) => (i === 5 ? 0 : v)));
    expect(makings.map((_, i) => next.count(i))).toEqual(makings.map(() => 0));
    // And they go on as they would have gone on.
    r.tick(0.1, [[0, 1]]);
    next.tick(0.1, [[0, 1]]);
    expect(next.value(1)).toBe(r.value(1));
    expect(next.value(2)).toBe(r.value(2));
  });
  it('keep their state through edits to them and to others', () => {
    const r = new Rig({ kind: 'flip', on }, { kind: 'list', on, values: [1, 2, 3], order: 'onward' });
    r.tick(0, [[0, 1]]);
    r.makers = [
      { ...r.makers[1]!, making: { kind: 'list', on, values: [1, 20, 3], order: 'onward' } },
      r.makers[0]!,
      { id: 'm2', name: 'm2', making: newMaking('oscillator', null) },
    ];
    r.plan();
    r.tick();
    expect([r.value(0), r.value(1)]).toEqual([1, 20]);
  });
  it('come after both of the two that they take from, and refuse a loop through either', () => {
    const two = (of: string | null, and: string | null): Making => ({ kind: 'pair', of, and, makes: 'sum' });
    const r = new Rig(two('m1', 'm2'), { kind: 'glide', of: 'in', seconds: 0 }, two('in', 'm1'));
    r.tick(2);
    // In the first tick already: m1 is 2, m2 is 2 + 2, m0 both.
    expect([0, 1, 2].map((i) => r.value(i))).toEqual([6, 2, 4]);
    expect(loopThrough(r.makers, 'm1', 'm0')).toEqual(['m1', 'm0', 'm1']);
    expect(loopThrough(r.makers, 'm2', 'm0')).toEqual(['m2', 'm0', 'm2']);
    expect(loopThrough(r.makers, 'm0', 'm2')).toBeNull();
    const torn = new Rig(two('in', 'm1'), two('in', 'm0'));
    for (let i = 0; i < 5; i++) torn.tick(1);
    expect([torn.value(0), torn.value(1)].sort()).toEqual([1, 2]);
  });
  it('refuse a loop by naming its path, and survive one in a damaged file', () => {
    const makers = [
      { id: 'a', making: { kind: 'flip', on: null } },
      { id: 'b', making: { kind: 'glide', of: 'a', seconds: 1 } },
      { id: 'c', making: { kind: 'crossing', of: 'b', at: 0.5, back: 0, way: 'up', gives: 'event' } },
    ] as const;
    expect(loopThrough(makers, 'a', 'c')).toEqual(['a', 'c', 'b', 'a']);
    expect(loopThrough(makers, 'c', 'b')).toBeNull();
    expect(loopThrough(makers, 'a', 'a')).toEqual(['a', 'a']);
    const r = new Rig({ kind: 'flip', on: 'm1' }, { kind: 'flip', on: 'm0' });
    for (let i = 0; i < 10; i++) r.tick();
    expect([r.value(0), r.value(1)]).toEqual([0, 0]);
  });
  it.each([
    'oscillator',
    'random',
    'colours',
    'flip',
    'oneShot',
    'glide',
    'list',
    'crossing',
    'change',
    'slider',
    'button',
    'clock',
    'prompter',
  ] as MakingKind[])('a new %s stays finite through anything its source gives', (kind) => {
    const r = new Rig(newMaking(kind, on));
    for (const x of [0, NaN, Infinity, -Infinity, 1e300, 1]) r.tick(x, [[0, 1]]);
    expect(Number.isFinite(r.value())).toBe(true);
  });
  it('one whose source is gone rests and takes up another', () => {
    const r = new Rig({ kind: 'flip', on: 'gone' });
    r.tick(0, [[0, 1]]);
    expect(r.value()).toBe(0);
    r.makers = [{ ...r.makers[0]!, making: { kind: 'flip', on } }];
    r.plan();
    r.tick(0, [[0, 1]]);
    expect(r.value()).toBe(1);
  });
});
