import { describe, expect, it } from '@jest/globals';
import {
  kindOf,
  kindParameters,
  makeSeen,
  type MergeWay,
  seenLamp,
  SHEET_HEIGHT,
  SHEET_WIDTH,
  USUAL_ROOM,
} from '../../core/lights';
import { blinkCode, Fate, levelled } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import type { Fixture, Wire } from '../../core/show';
import type { FrameReader } from '../memory/frames';
import { makeSheetMemory, SheetReader, SheetWriter } from '../memory/sheet';
import { LampStream, type LampPlaces, type LampRules } from './lampStream';

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
  readonly frame: {
    parameters: Float32Array;
    vectors: Float32Array;
    time: number;
    darkness: number;
    blink: number;
  };
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
    this.frame = {
      parameters: new Float32Array(at),
      vectors: Float32Array.from(row),
      time: 0,
      darkness: 0,
      blink: 0,
    };
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
interface OwnRules extends LampRules {
  sheet: LampRules['sheet'];
  desk: LampRules['desk'];
}
const rules = (): OwnRules => ({ quick: false, identified: null, sheet: null, desk: () => null });
const places = (lamps: readonly Fixture[], merge: MergeWay): LampPlaces => ({
  kinds: [],
  room: USUAL_ROOM,
  hung: new Map(lamps.map((l) => [l.id, l.at ?? { x: 0, y: 2.5, z: 1, turn: 0, hangs: true }])),
  merge,
  blinks: blinkCode('wire', 0),
});
function stream(
  lamps: readonly Fixture[],
  frames: Frames,
  wire = WIRE,
  own: LampRules = rules(),
  merge: MergeWay = 'ours',
): LampStream {
  const s = new LampStream(wire, 0, lamps, places(lamps, merge), own);
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
  it('colours each cell by the picture where it hangs, as far as it is told to', () => {
    const memory = makeSheetMemory(),
      pixels = new Uint8Array(4 * SHEET_WIDTH * SHEET_HEIGHT);
    // Left half red, right half blue, of full strength.
    for (let i = 0; i < SHEET_WIDTH * SHEET_HEIGHT; i++)
      pixels.set(i % SHEET_WIDTH < SHEET_WIDTH / 2 ? [255, 0, 0, 255] : [0, 0, 255, 255], 4 * i);
    new SheetWriter(memory).write(pixels);
    const sheet = new SheetReader(memory),
      own = { ...rules(), sheet };
    expect([sheet.read(), sheet.read()]).toEqual([true, false]);
    const frames = new Frames([BAR]).set({
        'b/dimmer': 100,
        'b/cells': 100,
        'b/colour': [0, 1, 0],
        'b/far': [0, 1, 0],
        'b/picture': 100,
      }),
      s = stream([BAR], frames, WIRE, own);
    const cells = (): number[][] => [0, 1, 2, 3].map((i) => [...s.value.subarray(19 + 3 * i, 22 + 3 * i)]);
    s.fill(frames.at(1));
    expect(cells()).toEqual([
      [255, 0, 0],
      [255, 0, 0],
      [0, 0, 255],
      [0, 0, 255],
    ]);
    expect(s.picture).toBe(1);
    s.fill(frames.set({ 'b/picture': 0 }).at(1.1));
    expect(cells().flat()).toEqual([0, 255, 0, 0, 255, 0, 0, 255, 0, 0, 255, 0]);
    // Half of both in linear light: 0.5 is 188 of 255 as sRGB is written.
    s.fill(frames.set({ 'b/picture': 50 }).at(1.2));
    expect(cells()[0]).toEqual([188, 188, 0]);
  });
  it('takes a desk’s channels as was chosen, never in the dark, and never past what a head may do', () => {
    const desk = new Uint8Array(512),
      own = { ...rules(), desk: () => desk };
    const aim = { tilt: { from: -30, to: 30 } },
      head = { ...HEAD, aim },
      frames = new Frames([head, BAR]).set({
        'b/dimmer': 100,
        'b/cells': 100,
        'b/colour': [0.2, 0, 0],
        'b/far': [0.2, 0, 0],
        'h/pan': 0,
      });
    desk.fill(255);
    const ours = stream([head, BAR], frames, WIRE, own, 'ours');
    ours.fill(frames.at(1));
    const red = ours.value[19]!;
    expect(red).toBeLessThan(160);
    const highest = stream([head, BAR], frames, WIRE, own, 'highest');
    highest.fill(frames.at(1));
    // Light is the higher of both; what turns and what flashes stay ours.
    expect(highest.value[19]).toBe(255);
    expect([...highest.value.subarray(0, 4)]).toEqual([...ours.value.subarray(0, 4)]);
    expect(highest.value[6]).toBe(ours.value[6]);
    frames.set({ 'b/dimmer': 0 }).frame.darkness = 1;
    highest.fill(frames.at(1.1));
    expect([...highest.value.subarray(19, 31)].every((x) => x === 0)).toBe(true);
    frames.set({ 'b/dimmer': 100 }).frame.darkness = 0;
    // The latest: nothing of it until it moves; then tilt is taken, as far as the head's limits and its shutter as far as three a second.
    const latest = stream([head, BAR], frames, WIRE, own, 'latest');
    desk.fill(0);
    latest.fill(frames.at(1.2));
    expect(latest.value[19]).toBe(red);
    desk.fill(250);
    for (let i = 0; i < 200; i++) latest.fill(frames.at(1.3 + i * 0.01));
    expect(latest.value[19]).toBe(250);
    expect(seen(latest, head).tilt).toBeCloseTo(30, 0);
    expect(seen(latest, head).strobe).toBeLessThanOrEqual(3);
    // Dark is nobody's touch: afterwards the desk has what it had.
    frames.set({ 'b/dimmer': 0 }).frame.darkness = 1;
    latest.fill(frames.at(3.5));
    expect(latest.value[19]).toBe(0);
    frames.set({ 'b/dimmer': 100 }).frame.darkness = 0;
    latest.fill(frames.at(3.6));
    expect(latest.value[19]).toBe(250);
    // What moves here again is ours again.
    frames.set({ 'b/colour': [0, 0, 0] });
    latest.fill(frames.at(4));
    expect([latest.value[19], latest.value[20]]).toEqual([0, 250]);
    desk.fill(0);
    own.desk = () => null as never;
    latest.fill(frames.at(4.1));
    expect(latest.value[20]).toBe(0);
  });
  it('parks a channel, dark in the dark, and within what the head may do', () => {
    const parked = [
      { at: 2, value: 255 },
      { at: 4, value: 200 },
    ];
    const head = { ...HEAD, parked, aim: { tilt: { from: -30, to: 30 } } },
      frames = new Frames([head]).set({ 'h/dimmer': 10, 'h/tilt': 0 }),
      s = stream([head], frames);
    for (let i = 0; i < 300; i++) s.fill(frames.at(1 + i * 0.01));
    expect(s.value[4]).toBe(200);
    expect(Math.abs(seen(s, head).tilt)).toBeCloseTo(30, 0);
    frames.set({ 'h/dimmer': 0 }).frame.darkness = 1;
    s.fill(frames.at(5));
    expect(s.value[4]).toBe(0);
  });
  it('blinks alone where it is measured, waits for nothing then, and is dark in the dark', () => {
    const frames = new Frames([BAR]).set({
        'b/dimmer': 50,
        'b/cells': 100,
        'b/colour': [1, 0, 0],
        'b/far': [1, 0, 0],
      }),
      s = stream([BAR], frames, { ...WIRE, delayMs: 300 });
    const red = (blink: number, time: number): number => {
      frames.frame.blink = blink;
      s.fill(frames.at(time));
      return s.value[20]!; // green: the lamp itself has none
    };
    expect(red(0, 1)).toBe(0);
    expect(red(blinkCode('wire', 0), 1.005)).toBe(255);
    expect(red(-blinkCode('wire', 0), 1.01)).toBe(0);
    expect(red(blinkCode('wire', 1), 1.015)).toBe(0);
    expect(red(blinkCode('screen', 0), 1.02)).toBe(0);
    frames.frame.darkness = 1;
    expect(red(blinkCode('wire', 0), 1.03)).toBe(0);
  });
  it('lands together with outputs that are slower, within one packet of the slowest', () => {
    const lags = [0, 35, 120, 260, 400],
      delays = levelled(lags.map((lagMs) => ({ lagMs }))),
      frames = new Frames([BAR]).set({ 'b/cells': 100, 'b/colour': [1, 1, 1], 'b/far': [1, 1, 1] });
    const streams = delays.map((delayMs) => stream([BAR], frames, { ...WIRE, delayMs }));
    const landed = streams.map(() => NaN);
    for (let i = 0; i < 300; i++) {
      const now = 1 + (i * 256) / 48000;
      frames.set({ 'b/dimmer': now < 1.5 ? 0 : 100 });
      streams.forEach((s, k) => {
        s.fill(frames.at(now));
        // The light itself comes as much later as its wire is slow.
        if (s.value[19] === 255 && Number.isNaN(landed[k]!)) landed[k] = now * 1000 + lags[k]!;
      });
    }
    expect(landed.every((at) => at >= 1900)).toBe(true);
    expect(Math.max(...landed) - Math.min(...landed)).toBeLessThanOrEqual(1000 / 44);
  });
});
