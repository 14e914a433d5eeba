import { describe, expect, it } from '@jest/globals';
import { encode } from '../parameters/colour';
import { seeded } from '../random';
import { channelCount, FIXTURE_MODES, type FixtureMode, fixtureParameters, writeLamp } from './fixtures';
import { DIMMER_CURVES, dimmed } from './curve';
import { clashesOf } from './patch';
import { seenLight } from './seen';

const MODES = Object.keys(FIXTURE_MODES) as FixtureMode[];
/** What a lamp is sent for a colour, and what is then seen of it. */
function lit(
  mode: FixtureMode,
  colour: readonly [number, number, number],
  dimmer = 1,
  uv = 0,
): { sent: number[]; seen: number[] } {
  const u = new Uint8Array(512),
    seen = [0, 0, 0];
  writeLamp(u, 1, mode, dimmer, ...colour, uv);
  seenLight(FIXTURE_MODES[mode].channels, (i) => u[i]!, seen);
  return { sent: [...u.subarray(0, channelCount(mode))], seen };
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
  const lamp = (id: string, mode: FixtureMode, address: number, universe = 0) => ({
    id,
    mode,
    address,
    universe,
  });
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
});

describe('one colour on any lamp', () => {
  it('is sent to the emitters that the lamp has: white takes what the three have in common, amber its own', () => {
    expect(lit('rgbw', WHITE).sent).toEqual([0, 0, 0, 255]);
    expect(lit('rgbw', [1, 0.2, 0.2]).sent).toEqual([
      Math.round(encode(0.8) * 255),
      0,
      0,
      Math.round(encode(0.2) * 255),
    ]);
    expect(lit('rgba', [1, 0.423, 0]).sent).toEqual([0, 0, 0, 255]);
    expect(lit('rgba', [0, 0, 1]).sent).toEqual([0, 0, 255, 0]);
    expect(lit('drgbwauv', WHITE, 0.5, 0.25).sent).toEqual([128, 0, 0, 0, 255, 0, 64]);
    expect(lit('dcmy', [1, 0, 0]).sent).toEqual([255, 0, 255, 255]);
    expect(lit('white2', WHITE).sent).toEqual([0, 255]);
    expect(lit('white2', [1, 0.386, 0.095]).sent).toEqual([255, 0]);
    expect(lit('dimmer', WHITE, 0.2).sent).toEqual([51]);
  });
  it('is seen as it was meant, within what a byte can say, by whatever lamp can mix it', () => {
    const random = seeded(3);
    for (const mode of MODES.filter((m) => m !== 'dimmer' && m !== 'white2'))
      for (let i = 0; i < 300; i++) {
        const colour = [random(), random(), random()] as const,
          { seen } = lit(mode, colour);
        // A step of a byte is at most 0.0089 of linear light at the top; three emitters may add up.
        seen.forEach((x, c) =>
          expect([mode, colour, c, Math.abs(x - colour[c]!) < 0.027]).toEqual([mode, colour, c, true]),
        );
      }
  });
  it('a tunable white is as warm as the colour, from its warm emitter to its cold one', () => {
    const blue = [0.1, 0.3, 0.6, 0.95].map((b) => lit('white2', [1, 0.6, b]).seen[2]!);
    expect(blue.every((x, i) => i === 0 || x > blue[i - 1]!)).toBe(true);
    expect(blue[0]!).toBeLessThan(0.12);
    expect(blue[3]!).toBeGreaterThan(0.9);
  });
  it('is out at dimmer 0 and in black, on every lamp', () => {
    for (const mode of MODES) {
      expect([mode, lit(mode, WHITE, 0).seen]).toEqual([mode, [0, 0, 0]]);
      if (mode !== 'dimmer') expect([mode, lit(mode, DARK).seen]).toEqual([mode, [0, 0, 0]]);
    }
  });
  it('never makes more of what is no number than nothing, nor writes past the universe', () => {
    for (const mode of MODES) {
      const u = new Uint8Array(512).fill(7);
      writeLamp(u, 512 - channelCount(mode) + 2, mode, NaN, NaN, Infinity, -3, NaN);
      expect(u.subarray(0, 512 - channelCount(mode) + 1).every((x) => x === 7)).toBe(true);
      writeLamp(u, 1, mode, NaN, NaN, NaN, NaN, NaN);
      const seen = [0, 0, 0];
      seenLight(FIXTURE_MODES[mode].channels, (i) => u[i]!, seen);
      expect([mode, seen]).toEqual([mode, [0, 0, 0]]);
    }
  });
  it('every lamp has the parameters of what it has, and no other', () => {
    const of = (mode: FixtureMode): string[] => fixtureParameters(mode).map((p) => p.id);
    expect([of('dimmer'), of('rgbw'), of('rgbuv')]).toEqual([
      ['dimmer'],
      ['dimmer', 'colour'],
      ['dimmer', 'colour', 'uv'],
    ]);
  });
});
