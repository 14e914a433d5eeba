import { describe, expect, it } from '@jest/globals';
import { LETTERS_MOST } from '../../core/figures';
import { layLetters } from './letterLayout';

/** Every letter ten wide, a space five. */
const measure = (text: string): number => [...text].reduce((sum, c) => sum + (c === ' ' ? 5 : 10), 0);

describe('letters', () => {
  it('stand on their rows, each with its place among all and in its line; spaces are none', () => {
    const { letters, width, height } = layLetters('ab c\nde', 'middle', 0, 100, measure);
    expect([width, height]).toEqual([35, 200]);
    expect(letters.map((l) => [l.text, l.x, l.y, l.line, l.inAll, l.inLine, l.ofLine])).toEqual([
      ['a', -17.5, 25, 1, 0, 0, 3],
      ['b', -7.5, 25, 1, 1, 1, 3],
      ['c', 7.5, 25, 1, 2, 2, 3],
      ['d', -10, -75, 2, 3, 0, 2],
      ['e', 0, -75, 2, 4, 1, 2],
    ]);
    // A line alone stands in the middle of where all would.
    expect(letters.map((l) => l.yAlone)).toEqual([-25, -25, -25, -25, -25]);
  });
  it('are set to either side', () => {
    const x = (align: 'left' | 'right'): number[] =>
      layLetters('abcd\ne', align, 0, 100, measure).letters.map((l) => l.x);
    expect(x('left')).toEqual([-20, -10, 0, 10, -20]);
    expect(x('right')).toEqual([-20, -10, 0, 10, 10]);
  });
  it('wrap between words, within a word only where it is longer than its row, and belong to their line still', () => {
    const rows = (text: string, wide: number): string[] => {
      const out = new Map<number, string>();
      for (const l of layLetters(text, 'left', wide, 100, measure).letters)
        out.set(l.y, (out.get(l.y) ?? '') + l.text);
      return [...out.values()];
    };
    expect(rows('one two three', 70)).toEqual(['onetwo', 'three']);
    expect(rows('abcdefgh ij', 40)).toEqual(['abcd', 'efgh', 'ij']);
    const { letters } = layLetters('one two\nx', 'left', 30, 100, measure);
    expect(letters.map((l) => l.line)).toEqual([1, 1, 1, 1, 1, 1, 2]);
    expect(letters.find((l) => l.text === 't')!.ofLine).toBe(6);
  });
  it('of a text without end are the first that can be drawn, signs of several parts kept whole', () => {
    expect(layLetters('x'.repeat(5000), 'left', 0, 100, measure).letters).toHaveLength(LETTERS_MOST);
    expect(layLetters('é👩‍🚀', 'left', 0, 100, measure).letters.map((l) => l.text)).toEqual(['é', '👩‍🚀']);
    expect(layLetters('', 'left', 0, 100, measure).letters).toEqual([]);
  });
});
