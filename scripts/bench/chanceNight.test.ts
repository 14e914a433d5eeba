import { expect, it } from '@jest/globals';
import { chanceNight } from './chanceNight';

it('a night of chance acts, edits and faults, done twice, is the same twice, and every value is a number', () => {
  const once = chanceNight(7, 500),
    again = chanceNight(7, 500);
  expect(once.faults).toBeGreaterThan(2);
  expect(once.wrong).toBe(0);
  expect(again.sums).toEqual(once.sums);
  // And it is the seed that makes it so.
  expect(chanceNight(8, 30).sums).not.toEqual(once.sums.slice(0, 30));
});
