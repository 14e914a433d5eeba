import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { Pasts } from './past';

const DT = 0.005;
/** The value so many ticks ago, by the straight line between two; 0 before the first. */
const before = (all: readonly number[], ticks: number): number => {
  const at = (k: number): number => all[all.length - 1 - k] ?? 0,
    k = Math.floor(ticks + 1e-9);
  return at(k) + (at(k + 1) - at(k)) * (ticks - k);
};
/** The mean over so many ticks, of what there is of them. */
const meanOf = (all: readonly number[], ticks: number): number => {
  const whole = Math.floor(ticks + 1e-9),
    part = ticks - whole;
  if (all.length <= whole) return all.reduce((a, b) => a + b, 0) / all.length;
  return ticks > 0
    ? (all
        .slice(-whole || all.length)
        .slice(whole ? 0 : all.length)
        .reduce((a, b) => a + b, 0) +
        part * all[all.length - 1 - whole]!) /
        ticks
    : all.at(-1)!;
};

describe('the recent past of numbers', () => {
  it('gives back what was put a span ago, also between two ticks', () => {
    const p = new Pasts(),
      random = seeded(3),
      spans = [0, DT, 3 * DT, 7.25 * DT, 40.5 * DT];
    spans.forEach((s, id) => p.setUp(id, s, DT));
    const all: number[] = [];
    for (let k = 0; k < 300; k++) {
      all.push(random());
      spans.forEach((s, id) => {
        p.put(id, all[k]!);
        expect(p.delayed(id)).toBeCloseTo(before(all, s / DT), 9);
      });
    }
  });
  it('gives the mean of the span, of what is known of it', () => {
    const p = new Pasts(),
      random = seeded(4),
      spans = [DT, 3 * DT, 7.25 * DT, 40.5 * DT];
    spans.forEach((s, id) => p.setUp(id, s, DT));
    const all: number[] = [];
    for (let k = 0; k < 300; k++) {
      all.push(random() * 10);
      spans.forEach((s, id) => {
        p.put(id, all[k]!);
        expect(p.mean(id)).toBeCloseTo(meanOf(all, s / DT), 9);
      });
    }
  });
  it('keeps what it knows when the span changes, and nobody else is disturbed', () => {
    const p = new Pasts(),
      all: number[] = [];
    p.setUp(0, 20 * DT, DT);
    p.setUp(1, 5 * DT, DT);
    for (let k = 0; k < 30; k++) {
      all.push(k);
      p.put(0, k);
      p.put(1, -k);
    }
    p.setUp(0, 8 * DT, DT);
    expect(p.delayed(0)).toBeCloseTo(21, 9);
    expect(p.mean(0)).toBeCloseTo(25.5, 9);
    expect(p.delayed(1)).toBeCloseTo(-24, 9);
    p.setUp(0, 15 * DT, DT);
    for (let k = 30; k < 60; k++) p.put(0, k);
    expect(p.delayed(0)).toBeCloseTo(44, 9);
  });
  it('uses again what was dropped, empty', () => {
    const p = new Pasts();
    p.setUp(0, 4 * DT, DT);
    for (let k = 0; k < 10; k++) p.put(0, 7);
    p.drop(0);
    p.setUp(5, 4 * DT, DT);
    expect(p.mean(5)).toBe(0);
    p.put(5, 3);
    expect([p.delayed(5), p.mean(5)]).toEqual([0, 3]);
  });
  it('does not drift over a million ticks', () => {
    const p = new Pasts(),
      random = seeded(9);
    p.setUp(0, 50 * DT, DT);
    for (let k = 0; k < 1e6; k++) p.put(0, random() * 1e6);
    for (let k = 0; k < 60; k++) p.put(0, 0.25);
    expect(p.mean(0)).toBeCloseTo(0.25, 6);
  });
});
