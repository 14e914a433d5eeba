import { describe, expect, it } from '@jest/globals';
import { Stutter } from './stutter';

const BLOCK = 128 / 48000;

/** A device that takes blocks in bursts of four, by a clock of its own, and is given nothing in the gaps. */
function play(
  stutter: Stutter,
  seconds: number,
  { rate = 1, from = 0, given = 0, gaps = [] as readonly (readonly [at: number, length: number])[] },
): number {
  let taken = given;
  const burst = 4 * BLOCK;
  let due = from;
  for (let now = from; now < from + seconds; now += 0.005) {
    while (due <= now) {
      const gap = gaps.find(([at, length]) => due >= at && due < at + length);
      if (!gap) taken += burst;
      due += burst / rate;
    }
    stutter.look(now, taken);
  }
  return taken;
}

describe('sound that a device went without', () => {
  it('is none while it takes what it is due, in bursts, by a clock that is half a thousandth off', () => {
    for (const rate of [1, 1.0005, 0.9995]) {
      const stutter = new Stutter();
      play(stutter, 60, { rate });
      expect([stutter.all, stutter.ofLate]).toEqual([0, 0]);
    }
  });

  it('is as long as its gaps were, each to a burst', () => {
    const stutter = new Stutter();
    play(stutter, 30, {
      gaps: [
        [22, 0.3],
        [25.5, 0.1],
      ],
    });
    expect(stutter.all).toBeGreaterThan(0.4 - 0.025);
    expect(stutter.all).toBeLessThan(0.4 + 0.025);
    expect(stutter.ofLate).toBeCloseTo(stutter.all, 6);
  });

  it('is told for ten seconds, and counted for good', () => {
    const stutter = new Stutter();
    const given = play(stutter, 8, { gaps: [[4, 0.5]] });
    expect(stutter.ofLate).toBeGreaterThan(0.45);
    play(stutter, 12, { from: 8, given });
    expect(stutter.ofLate).toBe(0);
    expect(stutter.all).toBeGreaterThan(0.45);
  });

  it('is not what a machine slept, nor what sound was stopped for', () => {
    const stutter = new Stutter();
    let given = play(stutter, 5, {});
    given = play(stutter, 5, { from: 100, given });
    stutter.restart();
    play(stutter, 5, { from: 106, given });
    expect(stutter.all).toBe(0);
  });

  it('does not take a catching up for a loss', () => {
    const stutter = new Stutter();
    play(stutter, 5, {});
    // More than it is due is no gap.
    stutter.look(5, 9);
    stutter.look(6.1, 9.9);
    expect(stutter.all).toBe(0);
  });
});
