import { describe, expect, it } from '@jest/globals';
import { hzToField, Spectrum, SPECTRUM_POINTS } from './spectrum';

const read = (left: (i: number) => number, right = left): Float32Array => {
  const s = new Spectrum(48000);
  s.push(
    Float32Array.from({ length: 8192 }, (_, i) => left(i)),
    Float32Array.from({ length: 8192 }, (_, i) => right(i)),
    8192,
  );
  const out = new Float32Array(SPECTRUM_POINTS);
  s.read(out);
  return out;
};
const at = (out: Float32Array, hz: number): number => out[Math.round(hzToField(hz) * (SPECTRUM_POINTS - 1))]!;
const tone = (hz: number, amplitude: number) => (i: number) =>
  amplitude * Math.sin((2 * Math.PI * hz * i) / 48000);

describe('Spectrum', () => {
  it('reads a sine on a bin at its own peak level, and far less two octaves away', () => {
    const out = read(tone(937.5, 0.5)); // bin 80 exactly
    expect(at(out, 937.5)).toBeCloseTo(-6.02, 1);
    expect(at(out, 3750)).toBeLessThan(-90);
  });
  it('sees a sound in antiphase as loud as one in phase', () => {
    const same = at(read(tone(937.5, 0.5)), 937.5);
    expect(at(read(tone(937.5, 0.5), tone(937.5, -0.5)), 937.5)).toBeCloseTo(same, 3);
  });
  it('treats NaN as silence', () => {
    expect(Math.max(...read(() => NaN))).toBeLessThan(-120);
  });
});
