import { describe, expect, it } from '@jest/globals';
import { figureBox, figureParameters, PRINT_FORMS } from '../figures/kinds';
import { decode, encode, toHex, toLinear } from './colour';
import { acceptsValue, colourParameter, formatNumber, numberParameter } from './description';

describe('colours', () => {
  it('follow the sRGB curve at its published points, and come back as they went', () => {
    expect(decode(0.5)).toBeCloseTo(0.21404, 5);
    expect(encode(0.21404)).toBeCloseTo(0.5, 4);
    const out = [0, 0, 0];
    for (const hex of ['#000000', '#ffffff', '#e8572a', '#0b0a0a']) {
      toLinear(hex, out);
      expect(toHex(out[0]!, out[1]!, out[2]!)).toBe(hex);
    }
    expect(toHex(9, -1, NaN)).toMatch(/^#ff00/);
  });
});

describe('numbers as they are read', () => {
  it('have as many digits as their step, a true minus, and no minus nought', () => {
    const p = numberParameter({
      id: 'x',
      label: 'x',
      help: '',
      unit: 'px',
      min: -10,
      max: 10,
      step: 0.5,
      rest: 0,
      reach: 1,
    });
    expect([formatNumber(3, p), formatNumber(-2.5, p), formatNumber(-0.01, p)]).toEqual([
      '3.0 px',
      '−2.5 px',
      '0.0 px',
    ]);
    expect(formatNumber(4, { step: 1, unit: '°' })).toBe('4°');
  });
  it('are accepted within their range only', () => {
    const p = numberParameter({ id: 'x', label: 'x', help: '', unit: '', min: 0, max: 1, rest: 0, reach: 1 });
    expect([0, 1, 1.01, NaN, '1', null].map((v) => acceptsValue(p, v))).toEqual([
      true,
      true,
      false,
      false,
      false,
      false,
    ]);
    const c = colourParameter({ id: 'c', label: 'c', help: '', rest: '#000000', reach: '#ffffff' });
    expect(['#aBc123', 'red', 3].map((v) => acceptsValue(c, v))).toEqual([true, false, false]);
  });
  it('every description rests and reaches within itself', () => {
    for (const kind of ['ground', 'print', 'waves', 'lanterns', 'stars'] as const)
      for (const p of figureParameters(kind)) {
        expect(acceptsValue(p, p.rest)).toBe(true);
        expect(acceptsValue(p, p.reach)).toBe(true);
      }
    for (const form of PRINT_FORMS) expect(figureBox({ kind: 'print', form }).width).toBeGreaterThan(0);
  });
});
