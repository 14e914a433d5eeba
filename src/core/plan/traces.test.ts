import { describe, expect, it } from '@jest/globals';
import { columnOfTick, COLUMN_SECONDS, TICKS_PER_COLUMN, Traces, TRACE_COLUMNS } from './traces';

const last = (t: Traces, row: number, n: number): number[] => {
  const out = new Float32Array(n);
  t.read(row, out);
  return [...out];
};

describe('traces', () => {
  it('keep a little more than twelve seconds, in columns of whole ticks', () => {
    expect(TRACE_COLUMNS * COLUMN_SECONDS).toBeGreaterThan(12);
    expect(TRACE_COLUMNS * COLUMN_SECONDS).toBeLessThan(12.5);
    expect([0, TICKS_PER_COLUMN - 1, TICKS_PER_COLUMN, 10 * TICKS_PER_COLUMN].map(columnOfTick)).toEqual([
      0, 0, 1, 10,
    ]);
  });
  it('keep the greatest of a column, so that no peak is lost; what is not a number never wins', () => {
    const t = Traces.make(2);
    t.advance(0);
    for (const x of [0.2, 0.9, 0.4]) t.put(0, x);
    t.put(1, NaN);
    t.put(1, -3);
    expect(last(t, 0, 1)[0]).toBeCloseTo(0.9, 6);
    expect(last(t, 1, 1)).toEqual([-3]);
  });
  it('know nothing of what was skipped, or before the beginning', () => {
    const t = Traces.make(1);
    t.advance(3);
    t.put(0, 1);
    t.advance(6);
    t.put(0, 2);
    expect(last(t, 0, 9)).toEqual([NaN, NaN, NaN, NaN, NaN, 1, NaN, NaN, 2]);
    expect(t.read(0, new Float32Array(1))).toBe(6);
  });
  it('go round: the oldest column makes room for the newest, and nothing else', () => {
    const t = Traces.make(1);
    for (let c = 0; c < TRACE_COLUMNS + 5; c++) {
      t.advance(c);
      t.put(0, c);
    }
    expect(last(t, 0, TRACE_COLUMNS)).toEqual(Array.from({ length: TRACE_COLUMNS }, (_, i) => i + 5));
  });
  it('take what is learned of the past afterwards, but only where nothing is known', () => {
    const t = Traces.make(1);
    t.advance(2);
    t.put(0, 5);
    t.fill(0, 1, 4);
    t.fill(0, 2, 9);
    t.fill(0, 3, 9);
    t.fill(0, -1, 9);
    t.advance(TRACE_COLUMNS + 1);
    // That one has gone already: its place is another column's now.
    t.fill(0, 1, 7);
    const all = last(t, 0, TRACE_COLUMNS);
    expect(all[0]).toBe(5);
    expect(all.filter((x) => !Number.isNaN(x))).toEqual([5]);
  });
  it('tell the greatest of late, and take over a smaller store', () => {
    const small = Traces.make(1),
      t = Traces.make(3);
    for (let c = 0; c < 10; c++) {
      small.advance(c);
      small.put(0, 10 - c);
    }
    t.copyFrom(small);
    expect([t.recent(0, 3), t.recent(0, 100), t.recent(2, 100)]).toEqual([3, 10, 0]);
    expect(t.newest).toBe(9);
    t.clear(0);
    expect(t.recent(0, 100)).toBe(0);
    expect(last(t, 7, 2)).toEqual([NaN, NaN]);
  });
});
