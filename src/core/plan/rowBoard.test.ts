import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import { newFigure } from '../show/pictureCommands';
import { newInput } from '../show/inputs';
import type { Ear, Figure, Route, Show } from '../show/types';
import { HOP, SAMPLE_RATE } from '../units';
import { Conductor, type HopSource } from './conductor';

const hash = 'a'.repeat(64);
const base = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});
const copies = (id: string, more: Partial<Figure> = {}): Figure => ({
  ...newFigure(
    id,
    id,
    { kind: 'copies', shape: 'block', count: 8, along: 'line', of: null, fromMiddle: false },
    { x: 0, y: 0 },
  ),
  ...more,
});
const ear = (id: string, points: number, of: 'spectrum' | 'waveform' = 'spectrum'): Ear => ({
  id,
  name: id,
  input: 'tone',
  channel: 'sum',
  listening: { kind: 'vector', of, scale: 'linear', points },
});
const route = (
  id: string,
  signal: string,
  thing: string,
  parameter: string,
  reach: number,
  more: Partial<Route> = {},
): Route => ({
  ...base.routes[0]!,
  id,
  signal,
  target: { thing, parameter },
  combine: 'add',
  group: null,
  shaping: { fit: { mode: 'hand', low: 0, high: 0.25 }, clamp: { low: 0, high: 1 }, amount: 1 },
  reach,
  ...more,
});
const show = (change: Partial<Show>): Show => ({
  ...base,
  ears: [ear('row', 16)],
  makers: [],
  figures: [copies('many')],
  finishes: [],
  fixtures: [],
  overlays: [],
  routes: [],
  inputs: [{ ...newInput('tone', 'Tone', false), kind: 'tone', wave: 'sine', hz: 1000, db: -12 }],
  ...change,
});
/** A steady tone, as a source of hops. */
function tone(hz: number, amplitude: number): HopSource {
  let n = 0;
  return {
    fill: (_, hop) => {
      for (let i = 0; i < HOP; i++, n++)
        hop.left[i] = hop.right[i] = amplitude * Math.sin((2 * Math.PI * hz * n) / SAMPLE_RATE);
      hop.mono = true;
      return true;
    },
  };
}
function listen(c: Conductor, source: HopSource, ticks = 90, from = 0): void {
  for (let k = 0; k < ticks; k++) c.tick(from + k, source);
}

describe('a row laid over a parameter', () => {
  it('gives each point its own value between rest and reach: a tone stands in its own stretch of the spectrum', () => {
    const c = new Conductor();
    c.setShow(show({ routes: [route('r', 'row', 'many', 'rise', 100)] }));
    // 16 stretches of 1 kHz: 6,500 Hz is the middle of the seventh. A sine of 0.25 reads 0.25.
    listen(c, tone(6500, 0.25));
    const row = c.rowOf('many/rise');
    expect(row).toHaveLength(16);
    expect(row[6]!).toBeGreaterThan(80);
    for (const i of [0, 1, 2, 3, 4, 9, 12, 15]) expect(row[i]!).toBeLessThan(4);
    // The parameter itself stays where it rests; what is laid upon it is beside it.
    expect(c.valueOf('many/rise')).toBe(0);
  });
  it('lies upon what else moves the parameter, within its limits', () => {
    const c = new Conductor();
    c.setShow(
      show({
        figures: [copies('many', { rest: { rise: 700 } })],
        routes: [route('r', 'row', 'many', 'rise', 720, { shaping: { amount: 1 } })],
      }),
    );
    listen(c, tone(6500, 0.25));
    const row = c.rowOf('many/rise');
    expect(Math.max(...row)).toBeLessThanOrEqual(720);
    expect(Math.min(...row)).toBeGreaterThanOrEqual(699.9);
  });
  it('a muted one leaves a row of the parameter’s own value, and a second one is combined as routes are', () => {
    const c = new Conductor(),
      first = route('a', 'row', 'many', 'rise', 100),
      second = route('b', 'row', 'many', 'rise', -100, { combine: 'add' });
    c.setShow(show({ routes: [{ ...first, muted: true }] }));
    listen(c, tone(6500, 0.25));
    expect([...c.rowOf('many/rise')]).toEqual(Array(16).fill(0));
    c.setShow(show({ routes: [first, second] }));
    listen(c, tone(6500, 0.25), 90, 90);
    // Up by as much as down: nothing.
    for (const x of c.rowOf('many/rise')) expect(x).toBeCloseTo(0, 4);
    // An average is that of all so far: of the first, its negative, and the first again a third of it.
    c.setShow(
      show({ routes: [first, { ...second, combine: 'average' }, { ...first, id: 'c', combine: 'average' }] }),
    );
    listen(c, tone(6500, 0.25), 30, 300);
    const third = c.rowOf('many/rise')[6]!;
    c.setShow(show({ routes: [first] }));
    listen(c, tone(6500, 0.25), 30, 400);
    expect(third).toBeCloseTo(c.rowOf('many/rise')[6]! / 3, 3);
    c.setShow(show({ routes: [first, { ...second, combine: 'replace' }] }));
    listen(c, tone(6500, 0.25), 30, 500);
    expect(c.rowOf('many/rise')[6]!).toBeLessThan(-80);
  });
  it('a shorter row is drawn out to the length of the longest', () => {
    const c = new Conductor();
    c.setShow(
      show({
        ears: [ear('row', 16), ear('short', 2)],
        routes: [route('a', 'row', 'many', 'rise', 0), route('b', 'short', 'many', 'rise', 100)],
      }),
    );
    listen(c, tone(12000, 0.25));
    const row = c.rowOf('many/rise');
    // Two stretches, nothing and all: a straight line between them.
    for (let i = 1; i < 16; i++) expect(row[i]! - row[i - 1]!).toBeCloseTo((row[15]! - row[0]!) / 15, 3);
    expect(row[15]!).toBeGreaterThan(80);
  });
  it('keeps each point’s live state through an edit elsewhere, and finds its place anew when the store grows', () => {
    const shaping: Route['shaping'] = {
      fit: { mode: 'hand', low: 0, high: 0.25 },
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 1, releaseMs: 4000 },
      amount: 1,
    };
    const one = show({ routes: [route('r', 'row', 'many', 'rise', 100, { shaping })] }),
      c = new Conductor(64, 64),
      same = new Conductor(64, 64);
    for (const x of [c, same]) {
      x.setShow(one);
      listen(x, tone(6500, 0.25));
    }
    const before = [...c.rowOf('many/rise')];
    const epoch = c.epoch;
    c.setShow({
      ...one,
      figures: [...one.figures, ...Array.from({ length: 40 }, (_, i) => copies(`more-${i}`))],
    });
    expect(c.epoch).toBeGreaterThan(epoch);
    for (const x of [c, same]) listen(x, tone(6500, 0), 10, 90);
    // Falling slowly from where it was, as the one that was left alone does.
    expect(before[6]!).toBeGreaterThan(80);
    c.rowOf('many/rise').forEach((x, i) => expect(x).toBeCloseTo(same.rowOf('many/rise')[i]!, 5));
  });
  it('a fit that learns is learnt from the loudest point and shared by all', () => {
    const c = new Conductor();
    c.setShow(
      show({
        routes: [
          route('r', 'row', 'many', 'rise', 100, {
            shaping: { fit: { mode: 'coming', forgetS: 30 }, clamp: { low: 0, high: 1 }, amount: 1 },
          }),
        ],
      }),
    );
    listen(c, tone(6500, 0.2), 40);
    listen(c, tone(6500, 0.1), 40, 40);
    const half = c.rowOf('many/rise');
    // Quieter than the loudest that came, and the points beside it are not raised to it.
    expect(half[6]!).toBeLessThan(99);
    expect(half[1]!).toBeLessThan(5);
  });
  it('a twin that overrides nothing shows its original’s row; a wave goes both ways from rest', () => {
    const c = new Conductor();
    c.setShow(
      show({
        ears: [ear('row', 32, 'waveform')],
        figures: [copies('many'), copies('twin', { twin: { of: 'many', mirrored: false } })],
        routes: [
          route('r', 'row', 'many', 'rise', 100, {
            shaping: { fit: { mode: 'hand', low: 0, high: 0.25 }, clamp: { low: -1, high: 1 }, amount: 1 },
          }),
        ],
      }),
    );
    listen(c, tone(200, 0.25));
    const row = c.rowOf('many/rise');
    expect(Math.max(...row)).toBeGreaterThan(90);
    expect(Math.min(...row)).toBeLessThan(-90);
    expect([...c.rowOf('twin/rise')]).toEqual([...row]);
  });
  it('moves nothing that takes no rows', () => {
    const c = new Conductor();
    c.setShow(show({ routes: [route('r', 'row', 'many', 'height', 100)] }));
    listen(c, tone(6500, 0.25));
    expect(c.valueOf('many/height')).toBe(0);
    expect(c.rowOf('many/height')).toHaveLength(0);
  });
});

describe('events that are summed', () => {
  it('each hit adds what it brings to the sum, which every screen reads alike', () => {
    const c = new Conductor(),
      spray: Figure = newFigure(
        'spray',
        'Spray',
        { kind: 'emitter', shape: 'drop', media: null, fileName: '', most: 100 },
        { x: 0, y: 0 },
      );
    c.setShow(
      show({
        figures: [spray],
        makers: [
          { id: 'go', name: 'Go', making: { kind: 'button', latching: false, key: null, touch: null } },
        ],
        routes: [route('r', 'go', 'spray', 'burst', 120, { shaping: { amount: 1 } })],
      }),
    );
    const sum = (): number => c.parameters[c.map().parameters['spray/burst:sum']!]!;
    listen(c, tone(1, 0), 5);
    expect(sum()).toBe(0);
    for (let i = 1; i <= 3; i++) {
      c.makers.touch('go', 1);
      listen(c, tone(1, 0), 3, i * 10);
      c.makers.touch('go', 0);
      listen(c, tone(1, 0), 3, i * 10 + 5);
      expect(sum()).toBeCloseTo(120 * i, 3);
    }
    c.dark = true;
    c.makers.touch('go', 1);
    listen(c, tone(1, 0), 3, 60);
    expect(sum()).toBeCloseTo(360, 3);
  });
});

describe('a row tried unseen', () => {
  it('shows in the preview alone, in place of the one that is sent, until it is let go', () => {
    const sent = route('r', 'row', 'many', 'rise', 100),
      c = new Conductor(),
      preview = (key: string): Float32Array => {
        const [at, points] = c.map().vectors[key]!;
        return c.previewVectors!.slice(at, at + points);
      };
    c.setShow(show({ routes: [sent] }));
    listen(c, tone(6500, 0.25));
    expect(c.previewVectors).toBeNull();
    c.setShow(show({ routes: [sent, { ...sent, id: 'u', reach: -40, unseen: { of: 'r' } }] }));
    listen(c, tone(6500, 0.25), 90, 90);
    const row = c.rowOf('many/rise'),
      tried = preview('many/rise');
    expect(row[6]!).toBeGreaterThan(80);
    // The same shaping, to another reach: −40 where that goes to 100.
    for (let i = 0; i < 16; i++) expect(tried[i]!).toBeCloseTo(row[i]! * -0.4, 2);
    c.setShow(show({ routes: [sent] }));
    expect(c.previewVectors).toBeNull();
  });
  it('shows where nothing is sent at all, and leaves there the parameter’s own value', () => {
    const c = new Conductor(),
      r = route('u', 'row', 'many', 'rise', 100, { unseen: { of: null } });
    c.setShow(show({ figures: [copies('many', { rest: { rise: 5 } })], routes: [r] }));
    listen(c, tone(6500, 0.25));
    const [at, points] = c.map().vectors['many/rise']!;
    expect([...c.rowOf('many/rise')]).toEqual(Array(16).fill(5));
    expect(Math.max(...c.previewVectors!.slice(at, at + points))).toBeGreaterThan(80);
  });

  it('is won over as its parameter is: by the hand, by freeze, by the dark', () => {
    const s = show({
      figures: [],
      figureGroups: [],
      fixtures: [],
      routes: [route('r', 'row', 'many', 'rise', 100)],
    });
    const c = new Conductor();
    c.setShow({ ...s, figures: [copies('many')] });
    const source = tone(1000, 0.2);
    listen(c, source, 60);
    const moved = [...c.rowOf('many/rise')];
    expect(new Set(moved).size).toBeGreaterThan(1);

    c.hand('many/rise', [42]);
    listen(c, source, 1, 60);
    expect([...c.rowOf('many/rise')]).toEqual(Array(16).fill(42));
    c.hand('many/rise', null);
    listen(c, source, 300, 61);
    expect(new Set(c.rowOf('many/rise')).size).toBeGreaterThan(1);

    const out = [...c.rowOf('many/rise')];
    c.freeze = true;
    listen(c, tone(4000, 0.2), 40, 361);
    expect([...c.rowOf('many/rise')]).toEqual(out);
    // A row that comes while all is held is held as it is then.
    c.setShow({
      ...s,
      figures: [copies('many'), copies('late')],
      routes: [...s.routes, route('r2', 'row', 'late', 'rise', 50)],
    });
    listen(c, source, 1, 401);
    const late = [...c.rowOf('late/rise')];
    listen(c, tone(4000, 0.2), 40, 402);
    expect([...c.rowOf('late/rise')]).toEqual(late);
    expect([...c.rowOf('many/rise')]).toEqual(out);
  });
});
