import { describe, expect, it } from '@jest/globals';
import { LASER_DARK, LASER_PLAYS, laserMarks } from './laser';

describe('a laser’s frame', () => {
  it('is dark from the first moment in which anything goes dark, until all of that is over', () => {
    expect(laserMarks(0, true)).toBe(LASER_PLAYS);
    for (const darkness of [Number.MIN_VALUE, 0.01, 0.5, 1, NaN]) {
      expect(laserMarks(darkness, true)).toBe(LASER_DARK | LASER_PLAYS);
      expect(laserMarks(darkness, false)).toBe(LASER_DARK);
    }
    expect(laserMarks(0, false)).toBe(0);
  });
});
