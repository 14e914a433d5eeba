import { describe, expect, it } from '@jest/globals';
import { kindOf, kindParameters, makeSeen, seenLamp } from '../../core/lights';
import { Fate } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import type { Fixture, Wire } from '../../core/show';
import type { FrameReader } from '../memory/frames';
import { LampStream, type LampRules } from './lampStream';

const WIRE: Wire = {
  id: 'w',
  name: 'W',
  protocol: 'artnet',
  universes: null,
  target: { kind: 'simulated' },
  priority: 100,
  sync: false,
  rate: 40,
  keepAlive: 800,
  safe: { then: 'hold' },
};
const HEAD: Fixture = { id: 'h', name: 'H', mode: 'head', universe: 0, address: 1, rest: {} };
const BAR: Fixture = {
  id: 'b',
  name: 'B',
  mode: 'bar',
  cells: { columns: 4, rows: 1 },
  universe: 0,
  address: 20,
  rest: {},
};
/** Frames of these lamps: numbers by `lamp/parameter`, colours as three. */
class Frames {
  readonly map: PlanMap;
  readonly frame: { parameters: Float32Array; vectors: Float32Array; time: number; darkness: number };
  constructor(lamps: readonly Fixture[], row: readonly number[] = []) {
    const parameters: Record<string, number> = {};
    let at = 0;
    for (const lamp of lamps)
      for (const p of kindParameters(kindOf(lamp))) {
        parameters[`${lamp.id}/${p.id}`] = at;
        at += p.kind === 'colour' ? 3 : 1;
      }
    this.map = {
      epoch: 0,
      version: 0,
      signals: {},
      parameters,
      vectors: row.length > 0 ? { 'b/cells': [0, row.length] } : {},
    };
    this.frame = { parameters: new Float32Array(at), vectors: Float32Array.from(row), time: 0, darkness: 0 };
  }
  set(values: Readonly<Record<string, number | readonly number[]>>): this {
    for (const [key, x] of Object.entries(values))
      this.frame.parameters.set(typeof x === 'number' ? [x] : x, this.map.parameters[key]!);
    return this;
  }
  at(time: number): FrameReader {
    this.frame.time = time;
    return { ...this.frame, readVectors: () => true } as never;
  }
}
const rules = (): LampRules => ({ quick: false, identified: null });
function stream(lamps: readonly Fixture[], frames: Frames, wire = WIRE, own = rules()): LampStream {
  const s = new LampStream(wire, 0, lamps, [], own);
  s.place(frames.map);
  return s;
}
function seen(s: LampStream, lamp: Fixture) {
  const kind = kindOf(lamp),
    out = makeSeen(kind);
  seenLamp(kind, (i) => s.value[lamp.address - 1 + i]!, out);
  return out;
}

describe('a universe of lamps', () => {
  it('is what the frame says, past the gate: a head goes no quicker than it may', () => {
    const frames = new Frames([HEAD]).set({
        'h/dimmer': 50,
        'h/colour': [1, 1, 1],
        'h/pan': 0,
        'h/zoom': 20,
      }),
      s = stream([{ ...HEAD, aim: { speed: 100 } }], frames);
    s.fill(frames.at(1));
    expect(seen(s, HEAD).pan).toBeCloseTo(0, 1);
    frames.set({ 'h/pan': 90 });
    for (let t = 1; t < 1.5; t += 0.01) s.fill(frames.at(t + 0.01));
    expect(seen(s, HEAD).pan).toBeGreaterThan(48);
    expect(seen(s, HEAD).pan).toBeLessThan(52);
    expect(seen(s, HEAD).beam).toBeCloseTo(20, 0);
  });
  it('goes on from where the stream before it was: a head does not leap at an edit', () => {
    const frames = new Frames([HEAD]).set({ 'h/pan': 0 }),
      lamp = { ...HEAD, aim: { speed: 50 } },
      s = stream([lamp], frames);
    s.fill(frames.at(1));
    frames.set({ 'h/pan': 200 });
    const next = stream([{ ...lamp, address: 30 }], frames);
    next.follow(s);
    next.fill(frames.at(1.01));
    next.fill(frames.at(1.02));
    expect(seen(next, { ...lamp, address: 30 }).pan).toBeLessThan(2);
  });
  it('lays a row over the cells of a bar, in its order', () => {
    const frames = new Frames([BAR], [100, 50, 25, 0]).set({
      'b/dimmer': 100,
      'b/colour': [1, 0, 0],
      'b/far': [1, 0, 0],
    });
    for (const [order, reds] of [
      ['along', [255, 128, 64, 0]],
      ['backwards', [0, 64, 128, 255]],
    ] as const) {
      const s = stream([{ ...BAR, order }], frames);
      s.fill(frames.at(1));
      expect([0, 1, 2, 3].map((i) => s.value[19 + 3 * i])).toEqual(reds);
    }
  });
  it('tells which lamps flash as often as can hurt, and shows the one that is looked for', () => {
    const own = rules(),
      frames = new Frames([BAR]).set({ 'b/cells': 100, 'b/colour': [1, 1, 1], 'b/far': [1, 1, 1] }),
      s = stream([BAR], frames, WIRE, own);
    for (let i = 0; i < 400; i++) {
      frames.set({ 'b/dimmer': (i * 0.005 * 8) % 1 < 0.5 ? 100 : 0 });
      s.fill(frames.at(1 + i * 0.005));
    }
    expect(s.flashing()).toEqual(['b']);
    for (let i = 0; i < 300; i++) s.fill(frames.set({ 'b/dimmer': 5 }).at(4 + i * 0.005));
    expect(s.flashing()).toEqual([]);
    own.identified = 'b';
    s.fill(frames.at(7));
    expect([...s.value.subarray(19, 31)].every((x) => x === 255)).toBe(true);
    frames.set({ 'b/dimmer': 0 }).frame.darkness = 1;
    s.fill(frames.at(7.01));
    expect([...s.value.subarray(19, 31)].every((x) => x === 0)).toBe(true);
  });
  it('says what becomes of each channel when nobody drives', () => {
    const s = stream([HEAD], new Frames([HEAD])),
      fates = Buffer.from(s.declaration.fates!, 'base64'),
      calm = Buffer.from(s.declaration.calm!, 'base64');
    expect([...fates.subarray(0, 11)]).toEqual([
      Fate.Held,
      Fate.Held,
      Fate.Held,
      Fate.Held,
      Fate.LightPair,
      Fate.Light,
      Fate.Calm,
      Fate.Held,
      Fate.Held,
      Fate.Held,
      Fate.Held,
    ]);
    expect(calm[6]).toBe(32); // its shutter open, and steady
  });
  it('held back shows each value as much later, but dark waits for nothing', () => {
    const frames = new Frames([BAR]).set({ 'b/cells': 100, 'b/colour': [1, 1, 1], 'b/far': [1, 1, 1] }),
      s = stream([BAR], frames, { ...WIRE, delayMs: 200 });
    const red: number[] = [];
    for (let i = 0; i < 200; i++) {
      frames.set({ 'b/dimmer': i < 100 ? 0 : 100 });
      s.fill(frames.at(1 + i * 0.005));
      red.push(s.value[19]!);
    }
    expect(red.indexOf(255)).toBe(140);
    frames.set({ 'b/dimmer': 0 }).frame.darkness = 1;
    s.fill(frames.at(2));
    expect(s.value[19]).toBe(0);
  });
});
