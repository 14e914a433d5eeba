import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import { LIMITS, tooMuch } from './limits';
import { parseShow } from './schema';
import type { Ear, Show } from './types';

const hash = 'a'.repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});
const makers = (n: number): Show => ({
  ...ferry,
  makers: Array.from({ length: n }, (_, i) => ({
    id: `m-${i}`,
    name: `m ${i}`,
    making: { kind: 'slider' as const, touch: null },
  })) as Show['makers'],
});
const thirds = (n: number): Show => ({
  ...ferry,
  ears: Array.from({ length: n }, (_, i): Ear => ({
    id: `e-${i}`,
    name: `e ${i}`,
    input: 'deck',
    channel: 'sum',
    listening: { kind: 'bands', set: 'thirds', crossovers: [], weighting: { kind: 'flat' }, gainsDb: [] },
  })),
});

describe('what a show may have', () => {
  it('is said in words, with the number that it would be', () => {
    expect(tooMuch(ferry)).toBeNull();
    expect(tooMuch(makers(LIMITS.makers))).toBeNull();
    expect(tooMuch(makers(LIMITS.makers + 1))).toBe('A show may have 2500 makers; this would be 2501.');
  });
  it('counts the bands of sets, which are what takes time', () => {
    expect(tooMuch(thirds(30))).toBeNull();
    expect(tooMuch(thirds(60))).toContain('bands');
  });
  it('is asked of a file too, which is not called damaged for it', () => {
    expect(() => parseShow(makers(LIMITS.makers + 1))).toThrow(/^A show may have 2500 makers/);
    expect(() => parseShow({ ...ferry, makers: {} })).toThrow('damaged');
  });
});

it('a refusal is short, however long what is refused', () => {
  const long = 'x'.repeat(5 << 20);
  for (const broken of [
    { ...ferry, name: long },
    { ...ferry, figures: ferry.figures.map((f) => ({ ...f, rest: { height: long } })) },
    { ...ferry, format: 'batucada-show', ears: [{ ...ferry.ears[0]!, listening: { kind: long } }] },
  ]) {
    let why = '';
    try {
      parseShow(broken);
    } catch (e) {
      why = (e as Error).message;
    }
    expect(why.length).toBeGreaterThan(10);
    expect(why.length).toBeLessThan(400);
  }
});
