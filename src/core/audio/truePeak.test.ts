import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { makeHop } from './hop';
import { TruePeak } from './truePeak';

const HOP = 256;
type Sound = (frame: number) => number;
/** The greatest peak of each hop. */
function peaksOf(
  rate: number,
  hops: number,
  left: Sound,
  right: Sound = left,
  mono = right === left,
): number[] {
  const meter = new TruePeak(rate),
    hop = makeHop(HOP),
    out: number[] = [];
  hop.mono = mono;
  for (let k = 0; k < hops; k++) {
    for (let i = 0; i < HOP; i++) {
      hop.left[i] = left(k * HOP + i);
      hop.right[i] = right(k * HOP + i);
    }
    meter.process(hop);
    out.push(meter.peak);
  }
  return out;
}
const sine =
  (turns: number, phase: number, amplitude = 1): Sound =>
  (n) =>
    amplitude * Math.sin(2 * Math.PI * (turns * n + phase));
const db = (x: number): number => 20 * Math.log10(x);

describe('true peak (BS.1770-4, annex 2)', () => {
  it.each([
    [4, 45],
    [6, 60],
    [8, 67.5],
  ])('finds the top between the samples of a sine at a %dth of the rate, %d° late', (of, degrees) => {
    const meter = new TruePeak(48000),
      hop = makeHop(256);
    let top = 0,
      sample = 0;
    for (let k = 0; k < 40; k++) {
      for (let i = 0; i < 256; i++) {
        const n = k * 256 + i;
        hop.left[i] = hop.right[i] =
          0.5 * Math.sin((2 * Math.PI * n) / of + (degrees * Math.PI) / 180) * Math.min(1, n / 2000);
        sample = Math.max(sample, Math.abs(hop.left[i]!));
      }
      meter.process(hop);
      top = Math.max(top, meter.peak);
    }
    expect(sample).toBeLessThan(0.48);
    expect(20 * Math.log10(top / 0.5)).toBeGreaterThan(-0.4);
    expect(20 * Math.log10(top / 0.5)).toBeLessThan(0.2);
  });
  it.each([22050, 44100, 48000, 96000])('of a sine lies between its samples, at %d Hz', (rate) => {
    // A quarter of 48 kHz, an eighth of a turn off: its samples never pass 1/√2.
    const peaks = peaksOf(rate, 12, sine(Math.min(0.25, 12000 / rate), 0.125)).slice(2);
    for (const p of peaks) {
      expect(db(p)).toBeLessThan(0.2);
      expect(db(p)).toBeGreaterThan(-0.4);
    }
  });
  it('is that of the louder channel, whichever it is, and the same in antiphase', () => {
    const loud = sine(0.11, 0.2),
      soft = sine(0.07, 0, 0.3);
    const top = Math.max(...peaksOf(48000, 8, loud).slice(1));
    expect(Math.max(...peaksOf(48000, 8, soft, loud).slice(1))).toBeCloseTo(top, 12);
    expect(Math.max(...peaksOf(48000, 8, loud, soft).slice(1))).toBeCloseTo(top, 12);
    expect(Math.max(...peaksOf(48000, 8, loud, (n) => -loud(n)).slice(1))).toBeCloseTo(top, 12);
  });
  it('is the same whether a sound comes as one channel or as two', () => {
    const random = seeded(11),
      noise = Float32Array.from({ length: HOP * 20 }, () => random() * 2 - 1),
      of: Sound = (n) => noise[n]!;
    expect(peaksOf(48000, 20, of, (n) => noise[n]!, false)).toEqual(peaksOf(48000, 20, of));
  });
  it('misses no short peak beside a long quiet or a loud hop before', () => {
    // One sample of 1 in silence: the windowed sinc between samples never passes it.
    expect(peaksOf(48000, 6, (n) => (n === 700 ? 1 : 0)).map((p) => Number(p.toFixed(6)))).toEqual([
      0, 0, 1, 0, 0, 0,
    ]);
    // Two equal samples beside each other: between them a band-limited sound is at 4/π of them, less what the window takes.
    const two = peaksOf(48000, 6, (n) => (n === 700 || n === 701 ? 0.5 : 0));
    expect(two[2]).toBeGreaterThan(0.6);
    expect(two[2]).toBeLessThan(0.5 * (4 / Math.PI) + 0.01);
  });
  it('finds what stands across the border of two hops', () => {
    const pair = peaksOf(48000, 6, (n) => (n === 511 || n === 512 ? 0.5 : 0));
    expect(Math.max(...pair)).toBeGreaterThan(0.6);
  });
  it('takes what is not a number, or beyond all measure, for silence', () => {
    for (const bad of [NaN, Infinity, -Infinity, 1e30])
      expect(peaksOf(48000, 4, (n) => (n % 50 === 0 ? bad : 0))).toEqual([0, 0, 0, 0]);
  });
  it('grows with longer hops without losing what came before', () => {
    const meter = new TruePeak(48000),
      short = makeHop(4),
      long = makeHop(512);
    short.left.set([0, 0, 0, 0.5]);
    short.right.set(short.left);
    meter.process(short);
    long.left[0] = long.right[0] = 0.5;
    meter.process(long);
    expect(meter.peak).toBeGreaterThan(0.6);
  });
});
