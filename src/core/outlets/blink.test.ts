import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { Blink, BLINK_EVERY, BLINK_LONG, blinkCode, blinkOf } from './blink';
import { lagOfLight, lagOfPresses } from './blinkLag';

describe('an output that blinks', () => {
  it('is lit for its time once a period, and ends by itself after a minute', () => {
    const blink = new Blink(),
      code = blinkCode('screen', 3);
    blink.step(5);
    expect(blink.value).toBe(0);
    blink.set(code);
    const lit: number[] = [];
    for (let i = 0; i < 70000; i++) {
      blink.step(10 + i / 1000);
      if (blinkOf(blink.value, code) === 1) lit.push(i);
      expect(blinkOf(blink.value, blinkCode('wire', 3))).toBe(0);
    }
    expect(blink.from).toBe(10);
    expect(Math.abs(lit.length - 60 * BLINK_LONG)).toBeLessThan(200);
    expect(lit.slice(0, 150).every((i) => i < BLINK_LONG + 1)).toBe(true);
    expect(lit.some((i) => i > 60001)).toBe(false);
  });
  it('ends when it is told, and takes no nonsense', () => {
    const blink = new Blink();
    for (const code of [0, -5, NaN, 1.5]) {
      blink.set(blinkCode('wire', 0));
      blink.step(1);
      expect(blink.value).not.toBe(0);
      blink.set(code);
      blink.step(1.1);
      expect(blink.value).toBe(0);
    }
  });
});

describe('how late it is', () => {
  it.each([0, 40, 137, 400])('by presses around %d ms after each flash: to a few milliseconds', (lag) => {
    const random = seeded(3),
      presses = Array.from({ length: 40 }, (_, i) => 5000 + i * BLINK_EVERY + lag + (random() - 0.5) * 60);
    const found = lagOfPresses(presses, 5000, BLINK_EVERY)!;
    // Forty presses that are spread evenly over 60 ms have a mean that is off by 17/√40 ms, once in three.
    expect(Math.abs(found.lagMs - lag)).toBeLessThan(9);
    expect(found.spreadMs).toBeGreaterThan(10);
    expect(found.spreadMs).toBeLessThan(26);
  });
  it('by presses that foresee it: before the flash counts as before', () => {
    const presses = Array.from({ length: 12 }, (_, i) => i * 1000 - 60);
    expect(lagOfPresses(presses, 0, 1000)!.lagMs).toBeCloseTo(-60, 5);
  });
  it('not by presses that agree on nothing, nor by too few', () => {
    expect(lagOfPresses([0, 310, 620, 930, 1240], 0, 1000)).toBeNull();
    expect(lagOfPresses([0, 1000, 2000], 0, 1000)).toBeNull();
  });
  it.each([0, 25, 180, 390])('by a camera of 30 pictures a second: %d ms, to half a picture', (lag) => {
    const random = seeded(9);
    const samples = Array.from({ length: 240 }, (_, i): [number, number] => {
      const at = 700 + i * 33.37,
        // A camera gathers light for a while: what it shows is the mean of the last 20 ms.
        lit = [0, 5, 10, 15, 20].filter((back) => {
          const place = at - back - 1000 - lag;
          return place >= 0 && place % BLINK_EVERY < BLINK_LONG;
        }).length;
      return [at, 100 + 40 * (lit / 5) + (random() - 0.5) * 12];
    });
    const found = lagOfLight(samples, 1000, BLINK_EVERY, BLINK_LONG)!;
    expect(Math.abs(found.lagMs - 10 - lag)).toBeLessThan(17);
  });
  it('not by a camera that sees nothing blink', () => {
    const random = seeded(2);
    const noise = Array.from({ length: 240 }, (_, i): [number, number] => [i * 33, 100 + random() * 10]);
    expect(lagOfLight(noise, 0, BLINK_EVERY, BLINK_LONG)).toBeNull();
    expect(lagOfLight([], 0, BLINK_EVERY, BLINK_LONG)).toBeNull();
    expect(
      lagOfLight(
        noise.map(([at]) => [at, 5]),
        0,
        BLINK_EVERY,
        BLINK_LONG,
      ),
    ).toBeNull();
  });
});
