import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry';
import { lampsOfLook } from '.';

const show = ferryShow({
  stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
  badge: 'a',
  tune: 'a',
});
const lamp = show.fixtures[0]!.id;

describe('lamps of a look', () => {
  it('are as the look has them, in linear light and dimmed; the others as they rest', () => {
    const values = { [`${lamp}/colour`]: '#ff0000', [`${lamp}/dimmer`]: 50 },
      [first, ...others] = lampsOfLook(show, { values, routes: {} });
    expect(first!.colour[0]).toBeCloseTo(0.5, 6);
    expect(first!.colour.slice(1)).toEqual([0, 0]);
    expect(others).toEqual(lampsOfLook(show, { values: {}, routes: {} }).slice(1));
  });
  it('are said to be moved by what a look leaves on, and not by what it takes out', () => {
    const routes = show.routes.filter((r) => r.target.thing === lamp),
      movedWith = (share: number): boolean =>
        lampsOfLook(show, { values: {}, routes: Object.fromEntries(routes.map((r) => [r.id, share])) })[0]!
          .moved;
    expect(routes.length).toBeGreaterThan(0);
    expect([movedWith(1), movedWith(0)]).toEqual([true, false]);
  });
});
