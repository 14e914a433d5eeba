import { describe, expect, it } from '@jest/globals';
import { bandDelay } from '../audio/bandFilter';
import { makeHop } from '../audio/hop';
import { Hearing } from '../hearing/hearing';
import { HOP, SAMPLE_RATE } from '../units';
import { RangePower } from './band';
import { bandsOf } from './bandSet';

/** Where the energy of a tone's burst (a Gaussian of `width` seconds around `at`) has its centre, by the steps of a range. */
function heardAt(low: number, high: number, at: number, width: number): { centre: number; delay: number } {
  const hearing = new Hearing(SAMPLE_RATE, HOP),
    range = new RangePower(low, high, hearing),
    hop = makeHop(HOP),
    hz = (low + high) / 2;
  hop.mono = true;
  let sum = 0,
    moment = 0;
  for (let k = 0, n = 0; n < 3 * at * SAMPLE_RATE; k++) {
    for (let i = 0; i < HOP; i++) {
      const t = (k * HOP + i) / SAMPLE_RATE;
      hop.left[i] = hop.right[i] = Math.exp(-(((t - at) / width) ** 2)) * Math.sin(2 * Math.PI * hz * t);
    }
    hearing.process(hop);
    const steps = range.process(hop);
    // Energy handed out in a step stands for its middle.
    for (let s = 0; s < steps; s++) {
      const t = (n + range.stepFrames / 2) / SAMPLE_RATE;
      sum += range.power[s]!;
      moment += range.power[s]! * t;
      n += range.stepFrames;
    }
  }
  return { centre: moment / sum, delay: range.delay };
}

describe('the power of a range', () => {
  it.each([
    [40, 110],
    [200, 400],
    [900, 1100],
    [2000, 6000],
  ])('of %d to %d Hz is as late as it says', (low, high) => {
    // Long against the filter, so that all of the burst lies well inside the range.
    const width = 8 / (high - low),
      { centre, delay } = heardAt(low, high, 6 * width + 0.1, width);
    expect(Math.abs(centre - (6 * width + 0.1) - delay)).toBeLessThan(0.05 * delay + 0.0004);
  });
  it('of 40 to 110 Hz is known 16 ms after it sounded', () => {
    // The filter's 13.95 ms, and three halvings: 15 frames of 48, 24 and 12 kHz.
    expect(new RangePower(40, 110, new Hearing(SAMPLE_RATE, HOP)).delay).toBeCloseTo(
      0.01395 + 15 / 48000 + 15 / 24000 + 15 / 12000,
      4,
    );
  });
  it('waits for a lower rate a quarter of its own delay at most, or a millisecond', () => {
    for (const { low, high } of [...bandsOf('octaves'), ...bandsOf('thirds'), ...bandsOf('mel')]) {
      const own = bandDelay(low, Math.min(high, SAMPLE_RATE * 0.47)),
        { delay } = new RangePower(low, high, new Hearing(SAMPLE_RATE, HOP));
      expect(delay - own).toBeLessThanOrEqual(Math.max(0.001, own / 4) + 1e-9);
    }
  });
});
