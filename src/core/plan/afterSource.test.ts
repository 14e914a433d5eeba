import { describe, expect, it } from '@jest/globals';
import { afterSource } from './afterSource';

const order = (
  from: Readonly<Record<string, string>>,
): { readonly order: string[]; readonly cut: string[] } => {
  const cut: string[] = [];
  return {
    order: afterSource(
      Object.keys(from),
      (x) => (from[x] ?? '').split(' ').filter(Boolean),
      (x) => cut.push(x),
    ),
    cut,
  };
};

describe('what takes from something else', () => {
  it('comes after it, and otherwise stays in its order', () => {
    expect(order({ a: 'c', b: '', c: 'd', d: '' })).toEqual({ order: ['d', 'c', 'a', 'b'], cut: [] });
  });
  it('may take from what is not there', () => {
    expect(order({ a: 'gone', b: 'a' })).toEqual({ order: ['a', 'b'], cut: [] });
  });
  it('is cut where it would come round to itself, once', () => {
    const { order: all, cut } = order({ a: 'b', b: 'c', c: 'a', d: 'a' });
    expect(cut).toEqual(['c']);
    expect(all).toEqual(['c', 'b', 'a', 'd']);
    expect(order({ a: 'a' })).toEqual({ order: ['a'], cut: ['a'] });
  });
  it('may take from several, and is cut from those alone that come round', () => {
    const { order: all, cut } = order({ a: 'b c', b: 'd', c: 'd a', d: '' });
    expect(all).toEqual(['d', 'b', 'c', 'a']);
    expect(cut).toEqual(['c']);
  });
  it('may be a chain of a hundred thousand, in whichever direction it is listed', () => {
    const n = 100000,
      up = Array.from({ length: n }, (_, i) => i);
    const ordered = afterSource(
      up,
      (i) => (i + 1 < n ? [i + 1] : []),
      () => undefined,
    );
    expect(ordered[0]).toBe(n - 1);
    expect(ordered.at(-1)).toBe(0);
    expect(
      afterSource(
        up,
        (i) => (i > 0 ? [i - 1] : []),
        () => undefined,
      ),
    ).toEqual(up);
  });
});
