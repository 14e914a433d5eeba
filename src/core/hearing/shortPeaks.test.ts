import { describe, expect, it } from '@jest/globals';
import { SCALE_COUNT, ShortPeaks } from './shortPeaks';

const RATE = 48000,
  HOP = 256;
/** One hop of silence with pulses in it. */
const hopWith = (
  ...pulses: readonly (readonly [at: number, frames: number, height: number])[]
): Float32Array => {
  const x = new Float32Array(HOP);
  for (const [at, frames, height] of pulses) x.fill(height, at, at + frames);
  return x;
};

describe('sums over a short while', () => {
  it('let a pulse of just their length through whole, and say when it began', () => {
    const peaks = new ShortPeaks(RATE),
      lengths = [6, 12, 24, 48, 96];
    lengths.forEach((frames, s) => {
      const x = hopWith([40, frames, 0.5]);
      peaks.process(x, x, HOP);
      expect(peaks.peaks[s]).toBeCloseTo(0.25, 9);
      expect(peaks.began[s]).toBe(40);
      peaks.process(new Float32Array(HOP), new Float32Array(HOP), HOP);
    });
  });
  it('make a longer sum of a shorter pulse weaker by the square of its share', () => {
    const peaks = new ShortPeaks(RATE),
      x = hopWith([100, 12, 1]);
    peaks.process(x, x, HOP);
    expect(peaks.peaks[2]).toBeCloseTo((12 / 24) ** 2, 9);
    expect(peaks.peaks[4]).toBeCloseTo((12 / 96) ** 2, 9);
  });
  it('go on over the end of a hop: what began before it has a time below 0', () => {
    const peaks = new ShortPeaks(RATE),
      first = hopWith([HOP - 10, 10, 1]),
      then = hopWith([0, 14, 1]);
    peaks.process(first, first, HOP);
    expect(peaks.peaks[2]).toBeCloseTo((10 / 24) ** 2, 9);
    peaks.process(then, then, HOP);
    expect(peaks.peaks[2]).toBeCloseTo(1, 9);
    expect(peaks.began[2]).toBe(-10);
  });
  it('take both channels by their powers, and antiphase as sound', () => {
    const peaks = new ShortPeaks(RATE),
      left = hopWith([30, 24, 1]);
    peaks.process(left, new Float32Array(HOP), HOP);
    expect(peaks.peaks[2]).toBeCloseTo(0.5, 9);
    peaks.process(
      left,
      left.map((v) => -v),
      HOP,
    );
    expect(peaks.peaks[2]).toBeCloseTo(1, 9);
  });
  it('tell the mean power of a constant', () => {
    const peaks = new ShortPeaks(RATE),
      x = new Float32Array(HOP).fill(0.3);
    for (let k = 0; k < 2; k++) peaks.process(x, x, HOP);
    for (let s = 0; s < SCALE_COUNT; s++) expect(peaks.powers[s]).toBeCloseTo(0.09, 6);
  });
});
