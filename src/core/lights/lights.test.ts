import { describe, expect, it } from '@jest/globals';
import { encode } from '../parameters/colour';
import { seeded } from '../random';
import { BUILT_IN, columnsMost, footprintOf, kindOf } from './builtin';
import { cellsOf, has, type Kind } from './kind';
import { kindParameters } from './parameters';
import { makeKept, writeLamp } from './mix';
import { DIMMER_CURVES, dimmed } from './curve';
import { clashesOf } from './patch';
import { pointOver, ROW_ORDERS } from './rowOver';
import { makeSeen, seenLamp, type SeenLamp } from './seen';
import { Lit, makeValues } from './values';

const KINDS = BUILT_IN.map(([mode]) => kindOf({ mode }));
/** Kinds whose colour is mixed, and not chosen or taken from a pair of whites. */
const MIXING = KINDS.filter((k) => has(k, 'red') || has(k, 'cyan'));
const kind = (mode: string): Kind => kindOf({ mode });

type Change = Partial<Record<keyof typeof PLACES, number>>;
const PLACES = {
  dimmer: Lit.Dimmer,
  uv: Lit.Uv,
  pan: Lit.Pan,
  tilt: Lit.Tilt,
  zoom: Lit.Zoom,
  gobo: Lit.Gobo,
  strobe: Lit.Strobe,
  haze: Lit.Haze,
  cells: Lit.Cells,
};
/** What a lamp is sent, and what is then seen of it. */
function lit(
  of: Kind,
  colour: readonly [number, number, number],
  change: Change = {},
  levels: Float32Array | null = null,
): { sent: number[]; seen: SeenLamp; light: number[] } {
  const u = new Uint8Array(512),
    v = makeValues(),
    seen = makeSeen(of);
  v[Lit.Dimmer] = 1;
  v.set(colour, Lit.Red);
  v.set(colour, Lit.FarRed);
  for (const [name, x] of Object.entries(change)) v[PLACES[name as keyof typeof PLACES]] = x;
  writeLamp(u, 1, of, v, levels);
  seenLamp(of, (i) => u[i]!, seen);
  return { sent: [...u.subarray(0, of.footprint)], seen, light: [...seen.light.subarray(0, 3)] };
}
const WHITE = [1, 1, 1] as const,
  DARK = [0, 0, 0] as const;

describe('a dimmer’s curve', () => {
  it('starts and ends where it says, rises all the way, and takes no number for nothing', () => {
    for (const curve of DIMMER_CURVES) {
      expect([
        dimmed(curve, 0),
        dimmed(curve, 1),
        dimmed(curve, -3),
        dimmed(curve, 9),
        dimmed(curve, NaN),
      ]).toEqual([0, 1, 0, 1, 0]);
      for (let x = 0; x < 1; x += 0.01) expect(dimmed(curve, x + 0.01)).toBeGreaterThan(dimmed(curve, x));
    }
    expect(DIMMER_CURVES.map((c) => dimmed(c, 0.25))).toEqual([0.25, 0.0625, 0.15625]);
  });
});

describe('lamps that share a channel', () => {
  const lamp = (id: string, mode: string, address: number, universe = 0) => ({ id, mode, address, universe });
  it('are named, both of them, with whom; others are not', () => {
    const clashes = clashesOf([
      lamp('a', 'rgb', 1),
      lamp('b', 'drgb', 3),
      lamp('c', 'rgb', 7),
      lamp('d', 'rgb', 1, 1),
      lamp('e', 'dimmer', 7),
      lamp('f', 'dimmer', 10),
    ]);
    expect([...clashes]).toEqual([
      ['b', 'a'],
      ['a', 'b'],
      ['e', 'c'],
      ['c', 'e'],
    ]);
  });
  it('at the end of a universe do not reach into the next', () => {
    expect(clashesOf([lamp('a', 'drgb', 511), lamp('b', 'rgb', 1, 1)]).size).toBe(0);
    expect([...clashesOf([lamp('a', 'drgb', 511), lamp('b', 'dimmer', 512)]).keys()].sort()).toEqual([
      'a',
      'b',
    ]);
  });
  it('takes a bar for as long as its cells', () => {
    const bar = { id: 'bar', mode: 'bar', cells: { columns: 40, rows: 1 }, universe: 0, address: 1 };
    expect(clashesOf([bar, lamp('a', 'rgb', 120)]).size).toBe(2);
    expect(clashesOf([bar, lamp('a', 'rgb', 121)]).size).toBe(0);
  });
});

describe('kinds that are built in', () => {
  it('take each of their channels once, and no more than they say', () => {
    for (const k of KINDS) {
      const places = k.channels.flatMap((c) => (c.fine === undefined ? [c.at] : [c.at, c.fine]));
      expect([k.id, places.sort((a, b) => a - b)]).toEqual([
        k.id,
        Array.from({ length: k.footprint }, (_, i) => i),
      ]);
    }
  });
  it('have as many cells as fit into a universe, and one at the least', () => {
    expect(cellsOf(kindOf({ mode: 'bar', cells: { columns: 9999, rows: 1 } }))).toBe(170);
    expect(cellsOf(kindOf({ mode: 'panel', cells: { columns: 99, rows: 10 } }))).toBe(170);
    expect(cellsOf(kindOf({ mode: 'bar', cells: { columns: 0, rows: 0 } }))).toBe(1);
    expect(columnsMost('barw', 1)).toBe(128);
  });
  it('are the same object for the same question; one that is not there is a still channel', () => {
    const bar = { mode: 'bar', cells: { columns: 12, rows: 1 } };
    expect(kindOf(bar)).toBe(kindOf({ ...bar }));
    expect(lit(kindOf({ mode: 'gone' }), WHITE).sent).toEqual([0]);
    expect(footprintOf({ mode: 'gone' })).toBe(1);
  });
  it('have the parameters of what they have, and no other; what turns has no value for the dark', () => {
    const of = (mode: string): string[] => kindParameters(kind(mode)).map((p) => p.id);
    expect([of('dimmer'), of('rgbw'), of('rgbuv'), of('head'), of('strobe'), of('bar'), of('haze')]).toEqual([
      ['dimmer'],
      ['dimmer', 'colour', 'picture'],
      ['dimmer', 'colour', 'picture', 'uv'],
      ['dimmer', 'colour', 'picture', 'pan', 'tilt', 'zoom', 'focus', 'gobo', 'strobe'],
      ['dimmer', 'strobe'],
      ['dimmer', 'colour', 'far', 'cells', 'picture'],
      ['haze', 'fan'],
    ]);
    for (const p of kindParameters(kind('head')))
      if (['pan', 'tilt', 'zoom', 'focus', 'gobo'].includes(p.id)) expect(p.dark).toBeUndefined();
  });
});

describe('one colour on any lamp', () => {
  it('is sent to the emitters that the lamp has: white takes what the three have in common, amber its own', () => {
    const sent = (mode: string, colour: readonly [number, number, number], change?: Change): number[] =>
      lit(kind(mode), colour, change).sent;
    expect(sent('rgbw', WHITE)).toEqual([0, 0, 0, 255]);
    expect(sent('rgbw', [1, 0.2, 0.2])).toEqual([
      Math.round(encode(0.8) * 255),
      0,
      0,
      Math.round(encode(0.2) * 255),
    ]);
    expect(sent('rgba', [1, 0.423, 0])).toEqual([0, 0, 0, 255]);
    expect(sent('rgba', [0, 0, 1])).toEqual([0, 0, 255, 0]);
    expect(sent('drgbwauv', WHITE, { dimmer: 0.5, uv: 0.25 })).toEqual([128, 0, 0, 0, 255, 0, 64]);
    expect(sent('dcmy', [1, 0, 0])).toEqual([255, 0, 255, 255]);
    expect(sent('white2', WHITE)).toEqual([0, 255]);
    expect(sent('white2', [1, 0.386, 0.095])).toEqual([255, 0]);
    expect(sent('dimmer', WHITE, { dimmer: 0.2 })).toEqual([51]);
    expect(sent('rgb', [1, 0, 0], { dimmer: 0.5 })).toEqual([128, 0, 0]);
  });
  it('is seen as it was meant, within what a byte can say, by whatever lamp can mix it', () => {
    const random = seeded(3);
    expect(MIXING.length).toBeGreaterThan(9);
    for (const k of MIXING)
      for (let i = 0; i < 300; i++) {
        const colour = [random(), random(), random()] as const,
          { light } = lit(k, colour);
        // A step of a byte is at most 0.0089 of linear light at the top; three emitters may add up.
        light.forEach((x, c) =>
          expect([k.id, colour, c, Math.abs(x - colour[c]!) < 0.027]).toEqual([k.id, colour, c, true]),
        );
      }
  });
  it('is mixed of measured emitters where they were told: seen as meant, with what white they really have', () => {
    const measured: Kind = {
      ...kind('rgbw'),
      id: 'measured',
      emitters: {
        red: [1, 0.02, 0],
        green: [0.15, 1, 0.1],
        blue: [0.02, 0.06, 1],
        white: [1, 0.82, 0.55],
      },
    };
    const random = seeded(5);
    for (let i = 0; i < 300; i++) {
      // Of what its emitters can make: shares of each, no more than full together.
      const [r, g, b] = [random() * 0.8, random() * 0.8, random() * 0.8] as const,
        colour = [0, 1, 2].map(
          (c) =>
            r * measured.emitters!.red![c]! +
            g * measured.emitters!.green![c]! +
            b * measured.emitters!.blue![c]!,
        ) as [number, number, number];
      if (Math.max(...colour) > 1) continue;
      const { light, sent } = lit(measured, colour);
      light.forEach((x, c) => expect(Math.abs(x - colour[c]!)).toBeLessThan(0.03));
      expect(sent[3]).toBeGreaterThan(0);
    }
  });
  it('on a wheel is the slot that is nearest to the eye, and the dimmer makes it as bright', () => {
    const head = kind('head'),
      slot = (colour: readonly [number, number, number]): string => {
        const { sent } = lit(head, colour);
        return head.colours.find((s) => s.at === sent[7])!.name;
      };
    expect(slot(WHITE)).toBe('open');
    expect(slot([0.02, 0.02, 0.02])).toBe('open');
    expect(slot([0.8, 0.02, 0.02])).toBe('red');
    expect(slot([0.05, 0.1, 0.7])).toBe('blue');
    expect(slot([0.9, 0.4, 0.02])).toBe('amber');
    expect(lit(head, DARK).seen.light.every((x) => x === 0)).toBe(true);
  });
  it('a tunable white is as warm as the colour, from its warm emitter to its cold one', () => {
    const blue = [0.1, 0.3, 0.6, 0.95].map((b) => lit(kind('white2'), [1, 0.6, b]).light[2]!);
    expect(blue.every((x, i) => i === 0 || x > blue[i - 1]!)).toBe(true);
    expect(blue[0]!).toBeLessThan(0.12);
    expect(blue[3]!).toBeGreaterThan(0.9);
  });
  it('is out at dimmer 0 and in black, on every lamp', () => {
    for (const k of KINDS) {
      const out = (x: SeenLamp): boolean => x.light.every((l) => l === 0);
      expect([k.id, out(lit(k, WHITE, { dimmer: 0 }).seen)]).toEqual([k.id, true]);
      if (kindParameters(k).some((p) => p.id === 'colour'))
        expect([k.id, out(lit(k, DARK).seen)]).toEqual([k.id, true]);
    }
  });
  it('never makes more of what is no number than nothing, nor writes past the universe', () => {
    const lost = makeValues().fill(NaN);
    for (const k of KINDS) {
      const u = new Uint8Array(512).fill(7),
        seen = makeSeen(k);
      writeLamp(u, 512 - k.footprint + 2, k, lost);
      expect(u.subarray(0, 512 - k.footprint + 1).every((x) => x === 7)).toBe(true);
      writeLamp(u, 1, k, lost);
      seenLamp(k, (i) => u[i]!, seen);
      expect([k.id, [...seen.light].every((x) => x === 0), seen.strobe, seen.haze]).toEqual([
        k.id,
        true,
        0,
        0,
      ]);
    }
  });
});

describe('what a head is sent', () => {
  it('is where it is to be, within what two bytes can say', () => {
    for (const [pan, tilt, zoom] of [
      [0, 0, 5],
      [-270, 135, 45],
      [123.4, -56.7, 20.2],
    ] as const) {
      const { seen } = lit(kind('head'), WHITE, { pan, tilt, zoom });
      expect(Math.abs(seen.pan - pan)).toBeLessThan(540 / 65535);
      expect(Math.abs(seen.tilt - tilt)).toBeLessThan(270 / 65535);
      expect(Math.abs(seen.beam - zoom)).toBeLessThan(0.1);
    }
    expect(Math.abs(lit(kind('head8'), WHITE, { pan: 100 }).seen.pan - 100)).toBeLessThan(540 / 255);
  });
  it('past its ends is its end', () => {
    expect(lit(kind('head'), WHITE, { pan: 9999 }).seen.pan).toBe(270);
    expect(lit(kind('head'), WHITE, { tilt: -9999 }).seen.tilt).toBe(-135);
  });
  it('fades by two bytes without a step back, and with no step of more than one', () => {
    let last = -1;
    for (let i = 0; i <= 65535; i += 7) {
      const [, , , , coarse, fine] = lit(kind('head'), WHITE, { dimmer: i / 65535 }).sent,
        x = coarse! * 256 + fine!;
      expect(x).toBe(i);
      expect(x).toBeGreaterThan(last);
      last = x;
    }
  });
  it('flashes as often as was asked, never more often, and not at all at 0', () => {
    for (const mode of ['head', 'strobe'])
      for (const hz of [0.6, 1, 2.5, 3, 12, 20]) {
        const { strobe } = lit(kind(mode), WHITE, { strobe: hz }).seen;
        expect(strobe).toBeLessThanOrEqual(hz + 1e-9);
        // Slower than it can flash it is steady.
        if (hz < kind(mode).shutter!.strobe!.slow) expect(strobe).toBe(0);
        else expect(strobe).toBeGreaterThan(hz - 0.2);
      }
    expect(lit(kind('head'), WHITE, { strobe: 0 }).seen.strobe).toBe(0);
    // One that can only flash quickly is not made to by being asked for little.
    const quick: Kind = {
      ...kind('head'),
      shutter: { closed: 0, open: 32, strobe: { from: 64, to: 223, slow: 8, quick: 20 } },
    };
    expect(lit(quick, WHITE, { strobe: 3 }).seen.strobe).toBe(0);
  });
  it('has the gobo of its number, the last past the end', () => {
    expect([0, 1, 2.4, 99, -1, NaN].map((gobo) => lit(kind('head'), WHITE, { gobo }).seen.gobo)).toEqual([
      0, 1, 2, 5, 0, 0,
    ]);
  });
});

describe('cells', () => {
  const bar = kindOf({ mode: 'bar', cells: { columns: 8, rows: 1 } });
  it('are each as bright as their own number says', () => {
    const levels = Float32Array.from({ length: 8 }, (_, i) => i / 7),
      { seen } = lit(bar, [1, 0, 0], {}, levels);
    for (let i = 0; i < 8; i++) expect(seen.light[3 * i]!).toBeCloseTo(levels[i]! ** 2.2, 1);
    expect(seen.light[0]).toBe(0);
    expect(seen.light[21]).toBe(1);
  });
  it('run from the colour to the far one', () => {
    const u = new Uint8Array(512),
      v = makeValues(),
      seen = makeSeen(bar);
    v[Lit.Dimmer] = 1;
    v.set([1, 0, 0, 0, 0, 1], Lit.Red);
    writeLamp(u, 1, bar, v);
    seenLamp(bar, (i) => u[i]!, seen);
    for (let i = 0; i < 8; i++) {
      expect(Math.abs(seen.light[3 * i]! - (1 - i / 7))).toBeLessThan(0.01);
      expect(Math.abs(seen.light[3 * i + 2]! - i / 7)).toBeLessThan(0.01);
    }
  });
  it('take a row in order, backwards, to the middle or from it, whole', () => {
    const row = (order: (typeof ROW_ORDERS)[number]): number[] =>
      Array.from({ length: 8 }, (_, i) => pointOver(order, i, 8, 4));
    expect(row('along')).toEqual([0, 0, 1, 1, 2, 2, 3, 3]);
    expect(row('backwards')).toEqual([3, 3, 2, 2, 1, 1, 0, 0]);
    expect(row('mirrored')).toEqual([...row('mirrored')].reverse());
    expect(row('from the middle')).toEqual([3, 2, 1, 0, 0, 1, 2, 3]);
    for (const order of ROW_ORDERS) {
      expect(pointOver(order, 0, 1, 5)).toBeLessThan(5);
      const all = Array.from({ length: 32 }, (_, i) => pointOver(order, i, 32, 8));
      expect([Math.min(...all), Math.max(...all)]).toEqual([0, 7]);
    }
  });
});

describe('a bar whose colours are kept', () => {
  it('is written to the same bytes as one that is mixed anew, whatever moves', () => {
    const random = seeded(21);
    for (const mode of ['bar', 'panel']) {
      const bar = kindOf({ mode, cells: { columns: 8, rows: mode === 'panel' ? 3 : 1 } }),
        kept = makeKept(bar)!,
        values = makeValues(),
        levels = new Float32Array(cellsOf(bar)),
        colours = new Float32Array(3 * levels.length);
      for (let i = 0; i < 600; i++) {
        if (i % 7 === 0) for (let c = 0; c < 6; c++) values[Lit.Red + c] = random();
        values[Lit.Dimmer] = random();
        values[Lit.Cells] = random();
        for (let c = 0; c < levels.length; c++) levels[c] = random();
        for (let c = 0; c < colours.length; c++) colours[c] = random();
        const own = new Uint8Array(512),
          anew = new Uint8Array(512),
          row = random() < 0.5 ? levels : null,
          picture = random() < 0.2 ? colours : null;
        writeLamp(own, 3, bar, values, row, picture, kept);
        writeLamp(anew, 3, bar, values, row, picture);
        // A code that is kept in 32 bits may round the other way, once in thousands.
        for (let c = 0; c < 512; c++) expect(Math.abs(own[c]! - anew[c]!)).toBeLessThanOrEqual(1);
      }
    }
  });
});
