import { describe, expect, it } from '@jest/globals';
import { beatAt, Taps } from './tempo';

describe('tempo', () => {
  it('finds the tempo of even taps from the third on', () => {
    const taps = new Taps();
    expect([0, 500, 1000, 1500].map((t) => taps.tap(t))).toEqual([null, null, 120, 120]);
  });
  it('begins anew after a pause, and evens out a shaky hand', () => {
    const taps = new Taps();
    taps.tap(0);
    expect(taps.tap(9000)).toBeNull();
    taps.tap(9610);
    expect(taps.tap(10190)).toBeCloseTo(100.8, 1); // (10190 − 9000) / 2 = 595 ms
  });
  it('counts beats from bar 1', () => {
    expect(beatAt({ bpm: 120, anchor: 1 }, 3)).toBe(4);
  });
});
