import { describe, expect, it } from '@jest/globals';
import { BarGrid, PHRASES } from './barGrid';

/** A grid that has counted so many bars, and was told of changes at some of them. */
function grid(bars: number, changes: readonly number[]): BarGrid {
  const g = new BarGrid();
  for (let bar = 0; bar < bars; bar++) {
    g.step();
    if (changes.includes(bar)) g.mark(bar, 1);
  }
  return g;
}

describe('phrases', () => {
  it('are counted from the first bar while nothing else is known', () => {
    const g = new BarGrid();
    expect(g.barOf(8)).toBe(0);
    const places: number[] = [];
    for (let i = 0; i < 10; i++) {
      g.step();
      places.push(g.barOf(8));
    }
    expect(places).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 0, 1]);
  });

  it('begin where something became different, the shorter ones with the longer', () => {
    for (const first of [1, 2, 3, 6, 11, 13]) {
      const g = grid(first + 33, [first, first + 16, first + 32]);
      expect(PHRASES.map((n) => g.barOf(n))).toEqual([0, 0, 0]);
      g.step();
      expect(PHRASES.map((n) => g.barOf(n))).toEqual([1, 1, 1]);
    }
  });

  it('of 4 are known from changes every 8, and those of 16 are of one of both', () => {
    const g = grid(43, [2, 10, 18, 26, 34, 42]);
    expect([g.barOf(4), g.barOf(8)]).toEqual([0, 0]);
    expect([0, 8]).toContain(g.barOf(16));
  });

  it('are not moved by one change in a bar of its own, and are by a piece that goes on differently', () => {
    const changes = [0, 8, 16, 24, 32, 37];
    expect(grid(38, changes).barOf(8)).toBe(5);
    const later = [...changes.slice(0, 5), 37, 45, 53, 61, 69, 77];
    expect(grid(78, later).barOf(8)).toBe(0);
  });
});
