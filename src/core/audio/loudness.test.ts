import { describe, expect, it } from '@jest/globals';
import { makeHop } from './hop';
import { kWeighting, Loudness } from './loudness';

/** Runs a stereo sound through a meter in hops. */
function measure(seconds: number, rate: number, x: (t: number) => number, mono = false): Loudness {
  const loudness = new Loudness(rate),
    hop = makeHop(256);
  hop.mono = mono;
  for (let at = 0; at < seconds * rate; at += 256) {
    for (let i = 0; i < 256; i++) hop.left[i] = hop.right[i] = x((at + i) / rate);
    loudness.process(hop);
  }
  return loudness;
}
const sine =
  (db: number, hz = 1000) =>
  (t: number): number =>
    10 ** (db / 20) * Math.sin(2 * Math.PI * hz * t);

describe('loudness (EBU Tech 3341)', () => {
  it('has the weights of BS.1770-4, tables 1 and 2, at 48 kHz', () => {
    const [shelf, high] = kWeighting(48000);
    expect([shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2].map((x) => +x.toFixed(10))).toEqual([
      1.5351248596, -2.6916961894, 1.1983928109, -1.6906592932, 0.7324807742,
    ]);
    expect([high.b0, high.b1, high.b2].concat([high.a1, high.a2].map((x) => +x.toFixed(10)))).toEqual([
      1, -2, 1, -1.9900474548, 0.9900722504,
    ]);
  });
  it.each([44100, 48000, 96000])('reads −23 dBFS on both channels as −23 LUFS at %d Hz', (rate) => {
    const l = measure(5, rate, sine(-23));
    for (const v of [l.momentary, l.shortTerm, l.integrated()]) expect(Math.abs(v + 23)).toBeLessThan(0.1);
  });
  it('counts a mono sound as one channel: a full-scale sine of 997 Hz reads −3.01', () => {
    expect(measure(2, 48000, sine(0, 997), true).momentary).toBeCloseTo(-3.01, 2);
  });
  it('gates what is far below the rest out of the integrated value', () => {
    const l = measure(50, 48000, (t) => (t < 5 || t > 45 ? sine(-36)(t) : sine(-23)(t)));
    expect(Math.abs(l.integrated() + 23)).toBeLessThan(0.1);
  });
  it('gives a range of 10 LU between −20 and −30 (EBU Tech 3342, 1), and none before anything sounded', () => {
    expect(new Loudness(48000).range()).toBe(0);
    expect(measure(40, 48000, (t) => (t < 20 ? sine(-20)(t) : sine(-30)(t))).range()).toBeCloseTo(10, 2);
  });
  it('stays finite through NaN, reads silence as −120, and begins anew', () => {
    const l = measure(1, 48000, () => NaN);
    expect([l.momentary, l.integrated()]).toEqual([-120, -120]);
    const loud = measure(3, 48000, sine(-10));
    loud.restart();
    expect(loud.integrated()).toBe(-120);
  });
});
