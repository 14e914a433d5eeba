import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { seeded } from '../random';
import { BandFrame, BAND_COUNT, COMMON_COUNT, FINE_COUNT, FLAT_COUNT, MOMENT_COUNT } from './bandFrame';

type Sound = (n: number) => number;
/** What is told of a sound after so many seconds. */
function told(
  left: Sound,
  right: Sound = left,
  { rate = 48000, seconds = 0.5, frame = new BandFrame(rate) } = {},
): BandFrame {
  const size = Math.round((256 * rate) / 48000),
    hop = makeHop(size);
  hop.mono = left === right;
  for (let at = 0; at < seconds * rate; at += size) {
    for (let i = 0; i < size; i++) {
      hop.left[i] = left(at + i);
      hop.right[i] = right(at + i);
    }
    frame.process(hop);
  }
  return frame;
}
const sine =
  (hz: number, a = 0.5, rate = 48000): Sound =>
  (n) =>
    a * Math.sin((2 * Math.PI * hz * n) / rate);
const noise = (seed: number, a = 0.5): Sound => {
  const random = seeded(seed);
  return () => a * (2 * random() - 1);
};
const loudest = (f: BandFrame): number => {
  const b = f.bands.subarray(0, BAND_COUNT - 2);
  return b.indexOf(Math.max(...b));
};

describe('what an input sounds like, in a few numbers', () => {
  it('is the same however loud the input is set, above its floor', () => {
    const loud = told(sine(330, 0.8)),
      soft = told(sine(330, 0.008));
    expect(loudest(soft)).toBe(loudest(loud));
    expect(soft.bands[loudest(loud)]!).toBeCloseTo(loud.bands[loudest(loud)]!, 3);
    expect(soft.bands[BAND_COUNT - 2]!).toBeCloseTo(loud.bands[BAND_COUNT - 2]!, 3);
  });
  it('has a tone in its own band, one 20 dB softer a unit lower', () => {
    // 55 Hz lies in 45–65, 200 in 180–230; 5 kHz in 4.2–5.7 of the short window.
    expect([told(sine(55)), told(sine(200)), told(sine(5000))].map(loudest)).toEqual([1, 6, 11 + 8]);
    // Two tones, 20 dB apart: the level of the louder is all but that of the whole.
    const f = told((n) => sine(200, 0.5)(n) + sine(5000, 0.05)(n));
    expect(f.bands[19]! - told(sine(5000, 0.5)).bands[19]!).toBeCloseTo(-1, 1);
    expect(f.bands[6]! - told(sine(200, 0.5)).bands[6]!).toBeCloseTo(0, 1);
  });
  it('hears antiphase, and one side alone 3 dB lower', () => {
    const both = told(sine(200)),
      against = told(sine(200), (n) => -sine(200)(n)),
      one = told(sine(200), () => 0);
    expect(against.bands[6]!).toBeCloseTo(both.bands[6]!, 3);
    expect(one.level - both.level).toBeCloseTo(10 * Math.log10(0.5), 2);
  });
  it('hears as if there were no offset, however large', () => {
    const plain = told(sine(60, 0.3), undefined, { seconds: 6 }),
      // Its beginning is a click, and for some seconds the loudest of late.
      offset = told((n) => sine(60, 0.3)(n) + 0.4, undefined, { seconds: 6 });
    for (let b = 0; b < FINE_COUNT; b++) expect(offset.fine[b]!).toBeCloseTo(plain.fine[b]!, 1);
    expect(offset.level).toBeCloseTo(plain.level, 0);
  });
  it('has finer bands too, in which a tone stands nearly as high as in the wide ones', () => {
    // 122 Hz lies in 115–130, the seventh; 5 kHz in 4.4–5.3, the fourteenth of the short window after eighteen of the long one.
    for (const [hz, at] of [
      [122, 6],
      [5000, 18 + 13],
    ] as const) {
      const f = told(sine(hz)),
        bands = f.fine.subarray(0, FINE_COUNT - 2);
      expect(bands.indexOf(Math.max(...bands))).toBe(at);
      expect(bands[at]! - f.bands[loudest(f)]!).toBeGreaterThan(-0.2);
    }
  });
  it('tells what both sides have in common: all, nothing, or its opposite', () => {
    const range = (f: BandFrame): number => f.common[3]!;
    expect(range(told(sine(2000)))).toBeCloseTo(1, 6);
    expect(range(told(sine(2000), (n) => -sine(2000)(n)))).toBeCloseTo(-1, 6);
    // A quarter of a wave apart they share nothing.
    expect(range(told(sine(2000), (n) => sine(2000)(n + 6)))).toBeCloseTo(0, 2);
    expect(range(told(sine(2000), () => 0))).toBeCloseTo(0, 6);
    expect(told(sine(2000)).common.length).toBe(COMMON_COUNT);
  });
  it('says in which quarter of a hop a sound began', () => {
    for (let quarter = 0; quarter < MOMENT_COUNT / 2; quarter++) {
      const start = 256 * 60 + 64 * quarter;
      const f = told((n) => (n >= start ? sine(1000, 0.5)(n) : 0), undefined, {
        seconds: (61 * 256) / 48000,
      });
      for (let m = 0; m < MOMENT_COUNT / 2; m++)
        expect([quarter, m, f.moments[m]! > -1.2]).toEqual([quarter, m, m >= quarter]);
    }
  });
  it('tells noise from tones in each of its ranges', () => {
    const hiss = told(noise(5)),
      chord = told((n) => [600, 1500, 4000, 9000].reduce((s, hz) => s + sine(hz, 0.2)(n), 0));
    for (let b = 0; b < FLAT_COUNT; b++)
      expect([b, hiss.flatness[b]! > -0.35, chord.flatness[b]! < hiss.flatness[b]! - 0.3]).toEqual([
        b,
        true,
        true,
      ]);
  });
  it('says the same at 22.05, 44.1, 48 and 96 kHz within a quarter of a decibel', () => {
    const at = (rate: number): Float32Array =>
      told((n) => sine(100, 0.4, rate)(n) + sine(3600, 0.2, rate)(n), undefined, { rate }).bands;
    const usual = at(48000);
    for (const rate of [22050, 44100, 96000]) {
      const bands = at(rate);
      for (const b of [3, 18]) expect(Math.abs(bands[b]! - usual[b]!)).toBeLessThan(0.25 / 20);
    }
  });
  it('forgets the loudest by 2 dB a second, and never takes the room for it', () => {
    const frame = told(sine(200, 1));
    const was = frame.reference;
    told(() => 0, undefined, { seconds: 5, frame });
    expect(was - frame.reference).toBeCloseTo(10, 0);
    told(() => 0, undefined, { seconds: 60, frame });
    expect(frame.reference).toBe(-74);
  });
  it('stays finite with what is no sound, and is itself again within a second', () => {
    const frame = told(sine(200)),
      usual = frame.bands[6]!;
    for (const bad of [NaN, Infinity, -Infinity, 1e30, 1e-310]) {
      told((n) => (n % 3 ? bad : 0.1), undefined, { seconds: 0.1, frame });
      expect([...frame.bands, ...frame.flatness, frame.level, frame.reference].every(Number.isFinite)).toBe(
        true,
      );
    }
    told(sine(200), undefined, { seconds: 1, frame });
    expect(frame.bands[6]!).toBeCloseTo(usual, 1);
  });
});
