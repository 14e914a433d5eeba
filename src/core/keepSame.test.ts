import { describe, expect, it } from '@jest/globals';
import { keepSame } from './keepSame';

describe('what came anew', () => {
  const was = { pages: { frame: 1 }, list: [{ id: 'a' }, { id: 'b' }], key: 'k', none: null, nan: NaN };
  it('is what was, where nothing is different', () => {
    expect(keepSame(was, structuredClone(was))).toBe(was);
  });
  it('keeps the parts that are as they were, and has the others as they came', () => {
    const now = { ...structuredClone(was), list: [{ id: 'a' }, { id: 'c' }], key: 'l' },
      kept = keepSame(was, now);
    expect(kept).toEqual(now);
    expect(kept.pages).toBe(was.pages);
    expect(kept.list).not.toBe(was.list);
    expect(kept.list[0]).toBe(was.list[0]);
  });
  it.each([
    ['a part less', { a: 1, b: 2 }, { a: 1 }],
    ['a part more', { a: 1 }, { a: 1, b: undefined }],
    ['a shorter list', [1, 2], [1]],
    ['a list for an object', { 0: 'x' }, ['x']],
    ['an object for a list', ['x'], { 0: 'x' }],
    ['something for nothing', null, { a: 1 }],
    ['nothing for something', { a: 1 }, null],
  ])('has %s', (_, before: unknown, now: unknown) => {
    const kept = keepSame(before, now);
    expect(kept).toStrictEqual(now);
    expect(kept).not.toBe(before);
  });
  it('changes neither', () => {
    const before = Object.freeze({ list: Object.freeze([1]) }),
      now = Object.freeze({ list: Object.freeze([1, 2]) });
    expect(keepSame(before, now)).toEqual({ list: [1, 2] });
  });
});
