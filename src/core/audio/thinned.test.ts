import { describe, expect, it } from '@jest/globals';
import { kernels } from '../kernels/kernels';
import { Thinned } from './thinned';

const RATE = 48000,
  FRAMES = 2050,
  SIZE = 4096;
/** `Σ x(n) e^(−2πi kn / N)`, by its definition. */
function bin(x: ArrayLike<number>, k: number, size: number, stride = 1, offset = 0): [number, number] {
  let re = 0,
    im = 0;
  for (let n = 0; n * stride + offset < x.length; n++) {
    re += x[n * stride + offset]! * Math.cos((2 * Math.PI * k * n) / size);
    im -= x[n * stride + offset]! * Math.sin((2 * Math.PI * k * n) / size);
  }
  return [re, im];
}

/** Both channels in turn through it, into a ring of pairs. */
function thinned(t: Thinned, left: ArrayLike<number>, right: ArrayLike<number>, size: number): Float64Array {
  const { f64, scratch } = kernels(),
    n = left.length,
    x = scratch / 8 + 2 * size;
  f64.fill(0, scratch / 8, x + 2 * (n + 2 * t.margin));
  for (let i = 0; i < n; i++) {
    f64[x + 2 * (t.margin + i)] = left[i]!;
    f64[x + 2 * (t.margin + i) + 1] = right[i]!;
  }
  t.process(8 * x, scratch, size);
  return f64.slice(scratch / 8, x);
}

describe('Thinned', () => {
  it('keeps every bin up to its highest, in size and phase, whatever lies above', () => {
    const t = new Thinned(FRAMES, RATE, 600),
      size = SIZE / t.every;
    expect(t.every).toBe(16);
    const x = Float64Array.from(
      { length: FRAMES },
      (_, i) => Math.sin(i * 0.031) + 0.4 * Math.sin(i * 0.9) + ((i * 7919) % 211) / 211 - 0.5,
    );
    const out = thinned(t, new Float64Array(FRAMES), x, size);
    const loudest = Math.max(...Array.from({ length: 300 }, (_, k) => Math.hypot(...bin(x, k, SIZE))));
    for (let k = 0; k <= 51; k++) {
      const [re, im] = bin(x, k, SIZE),
        [tre, tim] = bin(out, k, size, 2, 1),
        gain = t.gainAt(k / SIZE);
      expect(gain).toBeGreaterThan(0.9);
      expect(Math.hypot(tre / gain - re, tim / gain - im)).toBeLessThan(loudest * 10 ** (-75 / 20));
    }
    // Nothing of the one channel is heard in the other.
    expect(out.filter((_, i) => i % 2 === 0).every((v) => v === 0)).toBe(true);
  });
  it('leaves a sound as it is whose rate cannot be lowered', () => {
    const t = new Thinned(4, 1000, 400);
    expect(t.every).toBe(1);
    expect([...thinned(t, [1, 2, 3, 4], [5, 6, 7, 8], 8).slice(0, 8)]).toEqual([1, 5, 2, 6, 3, 7, 4, 8]);
  });
});
