import { describe, expect, it } from '@jest/globals';
import { hopFrames, makeHop } from '../audio/hop';
import { seeded } from '../random';
import { BandFrame } from './bandFrame';
import { Outstanding } from './outstanding';

const RATE = 48000,
  HOP = hopFrames(RATE);
/** What stands out of a sound: when it began, in how many deviations, and when that was known. */
function heard(x: Float32Array): { readonly at: number; readonly by: number; readonly known: number }[] {
  const frame = new BandFrame(RATE),
    outstanding = new Outstanding(RATE, HOP),
    hop = makeHop(HOP),
    out = [];
  for (let k = 0; (k + 1) * HOP <= x.length; k++) {
    hop.left.set(x.subarray(k * HOP, (k + 1) * HOP));
    hop.right.set(hop.left);
    frame.process(hop);
    outstanding.take(frame);
    const known = ((k + 1) * HOP) / RATE;
    if (outstanding.deviations > 0)
      out.push({ at: known - outstanding.ago, by: outstanding.deviations, known });
  }
  return out;
}
/** White normal noise with a standard deviation of a tenth (Box and Muller, 1958). */
function noise(seconds: number, seed: number): Float32Array {
  const random = seeded(seed);
  return Float32Array.from(
    { length: seconds * RATE },
    () => 0.1 * Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random()),
  );
}
/** Adds a pulse, or a tone that rings for two hundredths of a second, each half a second. */
function clicked(x: Float32Array, shape: 'pulse' | 'ring', height: number): number[] {
  const onsets: number[] = [];
  for (let at = RATE; at + 4000 < x.length; at += RATE / 2 + 77) {
    onsets.push(at / RATE);
    for (let k = 0; k < (shape === 'pulse' ? 24 : 1000); k++)
      x[at + k]! += height * (shape === 'pulse' ? 1 : Math.cos(0.2 * k) * Math.exp(-k / 200));
  }
  return onsets;
}

describe('what stands out of steady noise', () => {
  it('is nothing in noise alone', () => {
    expect(heard(noise(20, 3))).toEqual([]);
  });
  it.each(['pulse', 'ring'] as const)(
    'is a %s no higher than the noise’s own peaks, at once and when it was',
    (shape) => {
      const x = noise(12, 5),
        onsets = clicked(x, shape, shape === 'pulse' ? 0.25 : 0.2),
        found = heard(x);
      for (const t of onsets) {
        const one = found.find(({ at }) => Math.abs(at - t) < 0.006);
        expect(one).toBeDefined();
        expect(one!.known - t).toBeLessThan(0.013);
      }
      // And nothing else.
      expect(found.filter(({ known }) => !onsets.some((t) => known > t && known < t + 0.03))).toEqual([]);
    },
  );
  it('is nothing in a chord that begins, goes up and down, and bends: that is no noise', () => {
    const x = new Float32Array(8 * RATE);
    for (let i = 0; i < x.length; i++) {
      const t = i / RATE,
        bend = 3 * Math.sin(2 * Math.PI * 5 * t);
      for (const hz of [220, 277, 330, 440, 1320])
        x[i]! += 0.1 * (1 + 0.5 * Math.sin(2 * Math.PI * 3 * t)) * Math.sin(2 * Math.PI * hz * t + bend);
    }
    expect(heard(x)).toEqual([]);
  });
  it('survives what is no number, and hears on', () => {
    const x = noise(6, 8),
      onsets = clicked(x, 'pulse', 0.3);
    x[RATE / 2] = NaN;
    x[RATE / 2 + 1] = Infinity;
    expect(
      heard(x).filter(({ at }) => onsets.some((t) => Math.abs(at - t) < 0.006)).length,
    ).toBeGreaterThanOrEqual(onsets.length - 1);
  });
});
