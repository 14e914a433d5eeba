import { describe, expect, it } from '@jest/globals';
import { displayNames, findDisplay, type Display } from './display';

const desk: Display = { label: 'Desk', left: 0, top: 0, width: 1440, height: 900 };
const stage = (left: number): Display => ({ label: 'Stage', left, top: 0, width: 1920, height: 1080 });

describe('the display of a screen', () => {
  it('is found by name and place', () => {
    expect(findDisplay(stage(3360), [desk, stage(1440), stage(3360)])).toBe(2);
  });
  it('is found again where it has moved to', () => {
    expect(findDisplay(stage(1440), [desk, stage(-1920)])).toBe(1);
    expect(findDisplay({ ...desk, width: 1280 }, [desk])).toBe(0);
  });
  it('is not guessed: it is gone, or two bear its name elsewhere', () => {
    expect(findDisplay(stage(1440), [desk])).toBe(-1);
    expect(findDisplay(stage(1440), [])).toBe(-1);
    expect(findDisplay(stage(0), [stage(1440), stage(3360)])).toBe(-1);
    // Another that took its place on the desktop is not it.
    expect(findDisplay(desk, [{ ...stage(0) }])).toBe(-1);
  });
  it('is told from others of the same name', () => {
    expect(displayNames([desk, stage(1440), stage(3360), { ...desk, label: '' }])).toEqual([
      'Desk · 1440 × 900',
      'Stage · 1920 × 1080 (1)',
      'Stage · 1920 × 1080 (2)',
      'Display · 1440 × 900',
    ]);
  });
});
