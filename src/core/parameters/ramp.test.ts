import { describe, expect, it } from '@jest/globals';
import { toLinear } from './colour';
import { colourAt, layRamp, plainRamp, rampColour, wholeRamp } from './ramp';

const stops = [
  { at: 0, ink: '#000000' },
  { at: 0.25, ink: '#ff0000' },
  { at: 1, ink: '#ffffff' },
];

describe('a ramp of inks', () => {
  it('has each ink at its place, what lies beyond the ends at its end, and in linear light what lies between', () => {
    for (const s of stops) expect(colourAt(stops, s.at)).toBe(s.ink);
    expect([colourAt(stops.slice(1), 0), colourAt(stops, 2)]).toEqual(['#ff0000', '#ffffff']);
    const half = [0, 0, 0];
    toLinear(colourAt(stops, 0.125), half);
    expect(half[0]).toBeCloseTo(0.5, 2);
    toLinear(colourAt(stops, 0.625), half);
    [1, 0.5, 0.5].forEach((x, i) => expect(half[i]).toBeCloseTo(x, 2));
  });
  it('of two or three inks evenly apart is what the two or three were without one', () => {
    const numbers = [0.1, 0.2, 0.3, 0, 0.9, 0.8, 0.7, 0.5, 0.4, 0.4, 0.4, 1],
      out = [0, 0, 0];
    for (const x of [0, 0.2, 0.5, 0.7, 1]) {
      rampColour(numbers, 3, x, out);
      const k = x < 0.5 ? 0 : 1,
        share = 2 * x - k;
      for (let c = 0; c < 3; c++)
        expect(out[c]).toBeCloseTo(numbers[k * 4 + c]! * (1 - share) + numbers[k * 4 + 4 + c]! * share, 9);
    }
  });
  it('leaves none of a thing’s own inks without effect', () => {
    expect(plainRamp(['dark', 'half', 'light']).map((s) => s.at)).toEqual([0, 0.5, 1]);
    expect(wholeRamp([{ at: 0.4, ink: '#123456' }], ['ink', 'top'])).toEqual([
      { at: 0, ink: 'ink' },
      { at: 0.4, ink: '#123456' },
      { at: 1, ink: 'top' },
    ]);
    expect(wholeRamp(null, ['ink', 'top'])).toEqual(plainRamp(['ink', 'top']));
  });
  it('that was kept is laid on a thing by its own inks and others between', () => {
    expect(layRamp(stops, ['ink', 'top'])).toEqual({
      stops: [
        { at: 0, ink: 'ink' },
        { at: 0.25, ink: '#ff0000' },
        { at: 1, ink: 'top' },
      ],
      rests: { ink: '#000000', top: '#ffffff' },
    });
    expect(layRamp(stops, ['dark', 'half', 'light']).stops).toEqual([
      { at: 0, ink: 'dark' },
      { at: 0.25, ink: 'half' },
      { at: 1, ink: 'light' },
    ]);
    // With too few, the one between is what lies there.
    const two = layRamp([stops[0]!, stops[2]!], ['dark', 'half', 'light']);
    expect(two.stops.map((s) => s.ink)).toEqual(['dark', 'half', 'light']);
    expect(two.rests.half).toBe(colourAt([stops[0]!, stops[2]!], 0.5));
  });
});
