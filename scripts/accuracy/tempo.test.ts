import { describe, expect, it } from '@jest/globals';
import { follow, type Followed, tempoAt } from './tempo';

/** Beats at 120 for ten seconds, then at 90. */
const beats = [
  ...Array.from({ length: 20 }, (_, i) => i / 2),
  ...Array.from({ length: 20 }, (_, i) => 10 + (i * 2) / 3),
];
const told = (bpm: (t: number) => number): Followed => {
  const f = { all: 0, right: 0, halfOrDouble: 0 };
  follow(
    Array.from({ length: 220 }, (_, i) => [i / 10, bpm(i / 10)] as const),
    beats,
    f,
  );
  return f;
};

describe('a tempo that changes', () => {
  it('is told by the beats around a moment', () => {
    expect(tempoAt(beats, 5.1)).toBeCloseTo(120, 9);
    expect(tempoAt(beats, 15.1)).toBeCloseTo(90, 9);
    expect(tempoAt(beats, 0.1)).toBeNaN();
    expect(tempoAt(beats, 30)).toBeNaN();
  });
  it('counts only once it is another, and only what is within four in a hundred', () => {
    const right = told((t) => (t < 8 ? 1 : tempoAt(beats, t)));
    expect(right.all).toBeGreaterThan(100);
    expect(right).toEqual({ all: right.all, right: right.all, halfOrDouble: 0 });
    expect(told((t) => 1.05 * tempoAt(beats, t)).right).toBe(0);
  });
  it('tells half and double apart from right', () => {
    const double = told((t) => 2 * tempoAt(beats, t));
    expect([double.right, double.halfOrDouble]).toEqual([0, double.all]);
    // Held as it was: wrong.
    const held = told(() => 120);
    expect(held.right / held.all).toBeLessThan(0.05);
  });
});
