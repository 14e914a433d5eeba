import { describe, expect, it } from '@jest/globals';
import { BeatWatch } from './beatWatch';

/** Looks every `every` ms while the beat stands still. @returns when it was first taken for stopped */
function stopped(every: number, limit: number, until: number): number | null {
  const watch = new BeatWatch();
  watch.look(0, 1, limit);
  for (let now = every; now <= until; now += every) if (watch.look(now, 1, limit)) return now;
  return null;
}

describe('a watched beat', () => {
  it('is taken for stopped once it has stood still for the limit', () => {
    expect(stopped(20, 600, 5000)).toBe(600);
  });
  it('is never taken for stopped while it beats', () => {
    const watch = new BeatWatch();
    for (let now = 0; now < 10000; now += 20) expect(watch.look(now, Math.floor(now / 500), 600)).toBe(false);
  });
  it('is not taken for stopped by a watcher that could not look itself', () => {
    // Each look comes after a second in which this thread stood still as well.
    expect(stopped(1000, 600, 20000)).toBeNull();
  });
  it('is told again only after it has stood still for as long once more', () => {
    const watch = new BeatWatch(),
      told: number[] = [];
    for (let now = 0; now <= 2000; now += 20) if (watch.look(now, 7, 600)) told.push(now);
    expect(told).toEqual([600, 1200, 1800]);
  });
  it('takes a clock that leaps for a look that was kept back', () => {
    const watch = new BeatWatch();
    watch.look(1000, 1, 600);
    expect(watch.look(5000000, 1, 600)).toBe(false);
    expect(watch.look(-5000000, 1, 600)).toBe(false);
  });
});
