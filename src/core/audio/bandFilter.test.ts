import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { bandDelay, BandFilter, usableRange } from './bandFilter';

const RATE = 48000;
const sine = (hz: number, seconds: number, amplitude = 1): Float32Array =>
  Float32Array.from(
    { length: seconds * RATE },
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / RATE),
  );

/** Mean square of each hop of 256 frames. */
function energies(filter: BandFilter, x: Float32Array): number[] {
  const out: number[] = [];
  const steps = new Float64Array(4);
  for (let at = 0; at + 256 <= x.length; at += 256) {
    steps.fill(0);
    const n = filter.process(x.subarray(at, at + 256), x.subarray(at, at + 256), 256, steps);
    out.push(steps.reduce((a, b) => a + b, 0) / n);
  }
  return out;
}
const db = (power: number): number => 10 * Math.log10(power);

describe('BandFilter', () => {
  it.each([
    [40, 110],
    [200, 400],
    [3200, 12000],
  ])('reads a full-scale sine in the middle of %d–%d Hz as −3.01 dB', (low, high) => {
    const e = energies(new BandFilter(low, high, RATE), sine((low + high) / 2, 1));
    for (const p of e.slice(-40)) expect(db(p)).toBeCloseTo(-3.0103, 1); // ripple
  });

  it('is 3 dB down at its edges', () => {
    const e = energies(new BandFilter(400, 800, RATE), sine(800, 1));
    expect(db(e.at(-1)!)).toBeCloseTo(-6.02, 2);
  });

  it.each([1100, 1250, 1700])(
    'falls off above as a fourth-order Butterworth does, 1/(1 + r⁸), at %d Hz',
    (hz) => {
      const r = Math.abs(hz - 600) / 200; // distance from the middle in half-widths
      expect(db(energies(new BandFilter(400, 800, RATE), sine(hz, 1)).at(-1)!)).toBeCloseTo(
        -3.01 - db(1 + r ** 8),
        0,
      );
    },
  );

  it('keeps a low drum out of a wide high range', () => {
    expect(db(energies(new BandFilter(3000, 8000, RATE), sine(70, 1)).at(-1)!)).toBeLessThan(-90);
    expect(db(energies(new BandFilter(400, 800, RATE), sine(150, 1)).at(-1)!)).toBeLessThan(-43);
  });

  it('agrees with the energy of white noise in the range: power × width, widened by (π/2n)/sin(π/2n) at order 4', () => {
    const random = seeded(7);
    const noise = Float32Array.from({ length: RATE * 20 }, () => random() * 2 - 1); // variance 1/3 over 24 kHz
    const e = energies(new BandFilter(1000, 5000, RATE), noise);
    const mean = e.slice(50).reduce((a, b) => a + b, 0) / (e.length - 50);
    const widening = Math.PI / 8 / Math.sin(Math.PI / 8);
    // 0.15 dB: the high-pass below a wide range takes a little of its lower edge.
    expect(Math.abs(db(mean) - db((1 / 3) * (4000 / 24000) * widening))).toBeLessThan(0.15);
  });

  it('is late by its stated delay: half the amplitude of a burst is reached then', () => {
    for (const [low, high] of [
      [40, 110],
      [200, 500],
    ] as const) {
      const filter = new BandFilter(low, high, RATE);
      const x = new Float32Array(RATE);
      x.set(sine((low + high) / 2, 0.5), RATE / 2);
      const steps = new Float64Array(RATE / 64);
      filter.process(x, x, RATE, steps);
      const half = steps.findIndex((p) => p > 0.125); // amplitude ½ of a sine of mean square ½
      expect(Math.abs((half * 64) / RATE - 0.5 - bandDelay(low, high))).toBeLessThan(0.004);
    }
  });

  it('gives the same energy however the sound is sliced', () => {
    const x = sine(300, 0.2, 0.5);
    const whole = new Float64Array(200);
    new BandFilter(200, 400, RATE).process(x, x, x.length, whole);
    const sliced = new BandFilter(200, 400, RATE);
    const parts: number[] = [];
    for (let at = 0; at < x.length; at += 64) {
      const one = new Float64Array(1);
      sliced.process(x.subarray(at, at + 64), x.subarray(at, at + 64), Math.min(64, x.length - at), one);
      parts.push(one[0]!);
    }
    parts.forEach((p, i) => expect(p).toBeCloseTo(whole[i]!, 9));
  });

  it('does not hear a steady offset, and recovers from NaN', () => {
    const filter = new BandFilter(20, 200, RATE);
    expect(db(energies(filter, new Float32Array(RATE).fill(0.5)).at(-1)!)).toBeLessThan(-100);
    filter.process(
      new Float32Array(256).fill(NaN),
      new Float32Array(256).fill(Infinity),
      256,
      new Float64Array(4),
    );
    expect(db(energies(filter, sine(110, 1)).at(-1)!)).toBeCloseTo(-3.01, 1); // ripple
  });

  it('refuses a range that no filter can have, and usableRange mends it', () => {
    expect(() => new BandFilter(100, 50, RATE)).toThrow('got 100 to 50');
    const { low, high } = usableRange(15000, 20000, 8000);
    expect(high).toBeLessThan(4000);
    expect(new BandFilter(low, high, 8000).delay).toBeGreaterThan(0);
  });
});
