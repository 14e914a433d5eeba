import { describe, expect, it } from '@jest/globals';
import { add, fOf, match, precisionOf, recallOf, tally } from './matching';
import { histogram, meets } from './page';

describe('matching', () => {
  const found = [
    [1.01, 1.02],
    [1.03, 1.05],
    [2.2, 2.21],
    [3.0, 3.01],
  ];
  it('pairs each once, the nearest first, and counts the rest', () => {
    const m = match(found, [1, 2, 3], [], 0.05);
    expect([m.tp, m.fp, m.fn]).toEqual([2, 2, 1]);
    expect(m.off.map((x) => Math.round(1000 * x))).toEqual([0, 10]);
    expect(m.late.map((x) => Math.round(1000 * x))).toEqual([10, 20]);
  });
  it('counts what lies near a faint one neither way', () => {
    const m = match(found, [1, 3], [2.18], 0.05);
    expect([m.tp, m.fp, m.fn]).toEqual([2, 1, 0]);
  });
  it('sums up as precision, recall and F', () => {
    const t = tally();
    add(t, match(found, [1, 2, 3], [], 0.05));
    add(t, match([], [5], [], 0.05));
    expect(precisionOf(t)).toBeCloseTo(2 / 4, 9);
    expect(recallOf(t)).toBeCloseTo(2 / 4, 9);
    expect(fOf(t)).toBeCloseTo(4 / 8, 9);
  });
});

describe('the page of the report', () => {
  it('knows which aims are met', () => {
    const of = (value: number, aim: string): boolean | null => meets({ value, aim });
    expect([
      of(0.9, '≥ 0.9'),
      of(0.89, '≥ 0.9'),
      of(12, '≤ 12'),
      of(13, '≤ 12'),
      of(0.3, '< 0.3'),
      of(0, '0'),
      of(1, '0'),
    ]).toEqual([true, false, true, false, false, true, false]);
    expect([of(1, ''), of(NaN, '≥ 1')]).toEqual([null, null]);
  });
  it('has a bar for each millisecond, and what lies beyond in the last ones', () => {
    const bars = histogram([0, 0.4, -0.4, 5, 80, -80]);
    expect([bars[20], bars[25], bars[40], bars[0]]).toEqual([0.5, 0.1667, 0.1667, 0.1667]);
    expect(bars.length).toBe(41);
  });
});
