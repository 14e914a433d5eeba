import { describe, expect, it } from '@jest/globals';
import { toHex } from './colour';
import { colourOf } from './oklch';

const hex = (hue: number, lightness: number, strength: number): string => {
  const out = [0, 0, 0];
  colourOf(hue, lightness, strength, out);
  return toHex(out[0]!, out[1]!, out[2]!);
};

describe('colours even to the eye', () => {
  it('pure red and green lie where their published coordinates say, at full strength', () => {
    // Lightness and hue of the sRGB primaries in OKLab, to five digits.
    for (const [hue, lightness, colour] of [
      [29.2339, 0.62796, [1, 0, 0]],
      [142.4953, 0.86644, [0, 1, 0]],
    ] as const) {
      const out = [0, 0, 0];
      colourOf(hue, lightness, 1, out);
      out.forEach((x, i) => expect(Math.abs(x - colour[i]!)).toBeLessThan(0.01));
    }
  });
  it('no strength is grey, as bright to the eye as its lightness: cubed, in linear light', () => {
    const out = [0, 0, 0];
    colourOf(123, 0.5, 0, out);
    for (const x of out) expect(x).toBeCloseTo(0.125, 3);
    expect([hex(0, 0, 1), hex(200, 1, 0)]).toEqual(['#000000', '#ffffff']);
  });
  it('every colour can be shown, and the hue comes round', () => {
    for (let hue = 0; hue < 360; hue += 15)
      for (const lightness of [0.3, 0.6, 0.9]) {
        const out = [0, 0, 0];
        colourOf(hue, lightness, 1, out);
        expect(out.every((x) => x >= 0 && x <= 1)).toBe(true);
      }
    expect(hex(380, 0.7, 0.8)).toBe(hex(20, 0.7, 0.8));
  });
});
