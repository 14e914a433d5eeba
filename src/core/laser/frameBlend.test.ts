import { describe, expect, it } from '@jest/globals';
import { FrameBlend } from './frameBlend';
import { POINT } from './points';

const frame = (...xs: number[]): Float32Array => Float32Array.from(xs.flatMap((x) => [x, -x, 1, 0.5, 0]));
const out = new Float32Array(POINT);
const at = (b: FrameBlend, i: number, now: number): number[] => {
  b.put(i, now, out, 0);
  return [...out].map((x) => Math.round(x * 1e4) / 1e4);
};

describe('from one frame to the next', () => {
  it('a point is led in the time between them, and stays there', () => {
    const b = new FrameBlend();
    b.take(frame(0, 0.5), 2, 0);
    b.take(frame(0.1, 0.5), 2, 20);
    expect(at(b, 0, 20)).toEqual([0, 0, 1, 0.5, 0]);
    expect(at(b, 0, 25)).toEqual([0.025, -0.025, 1, 0.5, 0]);
    expect(at(b, 0, 40)).toEqual([0.1, -0.1, 1, 0.5, 0]);
    expect(at(b, 0, 90)).toEqual([0.1, -0.1, 1, 0.5, 0]);
  });
  it('what is drawn otherwise, or leaps, or comes seldom, changes at once', () => {
    const b = new FrameBlend();
    b.take(frame(0), 1, 0);
    b.take(frame(0.05, 0.2), 2, 20);
    expect(at(b, 0, 21)[0]).toBe(0.05);
    b.take(frame(0.5, 0.2), 2, 40);
    expect(at(b, 0, 41)[0]).toBe(0.5);
    b.take(frame(0.55, 0.2), 2, 140);
    expect(at(b, 0, 141)[0]).toBe(0.55);
  });
  it('what is no number is handed on as it is', () => {
    const b = new FrameBlend();
    b.take(frame(0), 1, 0);
    b.take(frame(NaN), 1, 10);
    expect(at(b, 0, 11)[0]).toBeNaN();
    b.take(frame(0), 1, 20);
    expect(at(b, 0, 21)[0]).toBe(0);
  });
});
