import { describe, expect, it } from '@jest/globals';
import { AgeClock } from './ageClock';

describe('the age of what another clock stamped', () => {
  it('is what it took beyond the quickest way that was seen', () => {
    const c = new AgeClock();
    // The other clock is 1,000 behind; the quickest way takes 2.
    expect(1012 - c.made(0, 1012)).toBe(0);
    expect(1022 - c.made(20, 1022)).toBeCloseTo(0, 2);
    expect(1102 - c.made(40, 1102)).toBeCloseTo(60, 1);
  });
  it('looks older where either clock leaps back, as if it had just come where it leaps on; never newer than now', () => {
    const c = new AgeClock();
    c.made(0, 1000);
    expect(1010 - c.made(-500, 1010)).toBeCloseTo(510, 1);
    expect(1020 - c.made(5000, 1020)).toBe(0);
    // By what it knows now, all that the clock before stamped is old.
    expect(1030 - c.made(30, 1030)).toBeGreaterThan(4000);
  });
  it('follows clocks that drift apart slowly, and knows nothing after another has come', () => {
    const c = new AgeClock();
    c.made(0, 1000);
    // An hour later the other is 36 ms slow.
    const late = 3600000;
    expect(1000 + late + 36 - c.made(late, 1000 + late + 36)).toBeLessThan(1);
    c.forget();
    expect(77 - c.made(999, 77)).toBe(0);
    expect(c.made(NaN, 80)).toBe(-Infinity);
  });
});
