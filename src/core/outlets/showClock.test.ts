import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { ShowClock } from './showClock';

/** Frames of a show over a network: each sixty-sixth of a second, late by a least time and by chance. @param own - what this machine's clock is ahead of the show's */
function* arriving(
  seconds: number,
  own: number,
  least: number,
  jitter: number,
  seed: number,
): Generator<[show: number, came: number]> {
  const random = seeded(seed);
  let last = 0;
  for (let show = 0; show < seconds; show += 1 / 66) {
    // Never before the one before it: they come one after the other.
    last = Math.max(last, show + least + random() ** 4 * jitter);
    yield [show, last + own];
  }
}

describe('show time on another machine', () => {
  it('of two whose clocks are 300 ms apart agrees within a picture, through jitter of 80 ms', () => {
    const here = new ShowClock(),
      there = new ShowClock();
    const a = [...arriving(30, 0, 0.001, 0.08, 1)],
      b = [...arriving(30, 0.3, 0.004, 0.08, 2)];
    let worst = 0;
    a.forEach(([show, came], i) => {
      here.take(show, came);
      there.take(b[i]![0], b[i]![1]);
      // The same moment, by each machine's own clock.
      const now = show + 0.1;
      if (show > 1) worst = Math.max(worst, Math.abs(here.at(now) - there.at(now + 0.3)));
    });
    expect(worst).toBeLessThan(1 / 60);
  });
  it('never runs ahead of what is made, and stays as near as the quickest way lets it', () => {
    const clock = new ShowClock();
    for (const [show, came] of arriving(20, 5, 0.002, 0.05, 3)) {
      clock.take(show, came);
      if (show < 1) continue;
      const apart = came - 5 - clock.at(came);
      expect(apart).toBeGreaterThanOrEqual(0.002 - 1e-9);
      expect(apart).toBeLessThan(0.012);
    }
  });
  it('follows a drifting clock, a show that began anew, and is not moved by one late frame', () => {
    const clock = new ShowClock();
    expect(clock.at(1)).toBeNaN();
    for (const [show, came] of arriving(60, 0, 0.002, 0.01, 4)) clock.take(show, came * 1.0002);
    expect(Math.abs(clock.at(60 * 1.0002) - 60)).toBeLessThan(0.012);
    const before = clock.at(70);
    clock.take(60, 61.4);
    expect(clock.at(70)).toBeCloseTo(before, 9);
    // A show that began anew a minute later.
    for (let show = 0; show < 3; show += 1 / 66) clock.take(show, 100 + show);
    expect(clock.at(103)).toBeCloseTo(3, 2);
  });
});
