import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { decodeOsc, encodeOsc, oscBytes } from './osc';

const bytes = (...parts: (string | readonly number[])[]): Uint8Array =>
  Uint8Array.from(
    parts.flatMap((p) => (typeof p === 'string' ? [...p].map((c) => c.charCodeAt(0)) : [...p])),
  );

describe('OSC 1.0', () => {
  it('writes the first example of the standard, byte for byte, and whole numbers', () => {
    const out = new Uint8Array(oscBytes('/oscillator/4/frequency'.length)).fill(0xee),
      view = new DataView(out.buffer);
    expect(encodeOsc(out, view, '/oscillator/4/frequency', 'f', 440)).toBe(32);
    expect([...out]).toEqual([...bytes('/oscillator/4/frequency\0', ',f\0\0', [0x43, 0xdc, 0x00, 0x00])]);
    const whole = new Uint8Array(oscBytes(4));
    expect(encodeOsc(whole, new DataView(whole.buffer), '/foo', 'i', -2)).toBe(16);
    expect([...whole]).toEqual([...bytes('/foo\0\0\0\0', ',i\0\0', [0xff, 0xff, 0xff, 0xfe])]);
  });
  it('reads the two examples of the standard, byte for byte', () => {
    // /oscillator/4/frequency 440.0
    expect(decodeOsc(bytes('/oscillator/4/frequency\0', ',f\0\0', [0x43, 0xdc, 0x00, 0x00]))).toEqual([
      { address: '/oscillator/4/frequency', numbers: [440] },
    ]);
    // /foo 1000 -1 "hello" 1.234 5.678
    const [m] = decodeOsc(
      bytes(
        '/foo\0\0\0\0',
        ',iisff\0\0',
        [0, 0, 3, 0xe8],
        [0xff, 0xff, 0xff, 0xff],
        'hello\0\0\0',
        [0x3f, 0x9d, 0xf3, 0xb6],
        [0x40, 0xb5, 0xb2, 0x2d],
      ),
    )!;
    expect(m!.address).toBe('/foo');
    expect(m!.numbers.map((x) => Number(x.toFixed(3)))).toEqual([1000, -1, 1.234, 5.678]);
  });
  it('reads bundles, in each other too, switches, and messages without arguments', () => {
    const on = bytes('/a\0\0', ',T\0\0'),
      bare = bytes('/b\0\0', ',\0\0\0'),
      size = (b: Uint8Array): number[] => [0, 0, 0, b.length];
    const inner = bytes('#bundle\0', [0, 0, 0, 0, 0, 0, 0, 1], size(on), [...on]);
    expect(
      decodeOsc(bytes('#bundle\0', [0, 0, 0, 0, 0, 0, 0, 1], size(inner), [...inner], size(bare), [...bare])),
    ).toEqual([
      { address: '/a', numbers: [1] },
      { address: '/b', numbers: [] },
    ]);
  });
  it('passes over blobs, times and other kinds, and reads on behind them', () => {
    expect(
      decodeOsc(
        bytes(
          '/x\0\0',
          ',bthdf\0\0',
          [0, 0, 0, 3, 1, 2, 3, 0],
          [0, 0, 0, 0, 0, 0, 0, 1],
          [0, 0, 0, 0, 0, 0, 0, 9],
          [0x3f, 0xe0, 0, 0, 0, 0, 0, 0],
          [0x3f, 0x80, 0, 0],
        ),
      ),
    ).toEqual([{ address: '/x', numbers: [9, 0.5, 1] }]);
  });
  it.each([
    ['nothing', bytes()],
    ['half a word', bytes('/a')],
    ['no address', bytes('abc\0', ',\0\0\0')],
    ['a string without end', bytes('/abc')],
    ['numbers that are cut off', bytes('/a\0\0', ',ff\0', [0, 0, 0, 0])],
    [
      'a bundle that lies about its size',
      bytes('#bundle\0', [0, 0, 0, 0, 0, 0, 0, 1], [0, 0, 0, 99], '/a\0\0', ',\0\0\0'),
    ],
    ['a blob of negative size', bytes('/a\0\0', ',b\0\0', [0xff, 0xff, 0xff, 0xff])],
  ])('refuses %s', (_, packet) => expect(decodeOsc(packet)).toBeNull());
  it('never throws, whatever comes', () => {
    const r = seeded(5);
    for (let i = 0; i < 5000; i++) {
      const b = Uint8Array.from({ length: Math.floor(r() * 12) * 4 }, () =>
        r() < 0.4
          ? 0
          : r() < 0.6
            ? [0x2f, 0x2c, 0x66, 0x69, 0x62, 0x23][Math.floor(r() * 6)]!
            : Math.floor(r() * 256),
      );
      expect(() => decodeOsc(b)).not.toThrow();
    }
  });
});
