import { describe, expect, it } from '@jest/globals';
import { BarPointer, FIRST_OF_THREE } from './barPointer';

const STEP = 512 / 48000;
/** Beats at these times, every `bar`th a bar's first (when that is told), each heard for two frames; between two of them what `between` says. */
function hear(
  pointer: BarPointer,
  beats: readonly number[],
  {
    bar = 4,
    between = 0.02,
    told = true,
    until = beats.at(-1)!,
    each,
  }: { bar?: number; between?: number; told?: boolean; until?: number; each?: (time: number) => void } = {},
): void {
  let next = 0;
  for (let k = 0; k * STEP < until; k++) {
    const t = k * STEP;
    while (next < beats.length && beats[next]! + 2 * STEP <= t) next++;
    const on = next < beats.length && beats[next]! <= t,
      half = next > 0 && next < beats.length && Math.abs(t - (beats[next - 1]! + beats[next]!) / 2) < STEP;
    pointer.step(
      on ? 0.9 : half ? between : 0.02,
      !on ? 0.01 : !told ? 0.2 : next % bar === 0 ? 0.8 : 0.01,
      1,
    );
    pointer.read();
    each?.(t);
  }
}
const even = (bpm: number, seconds: number): number[] =>
  Array.from({ length: Math.floor((seconds * bpm) / 60) }, (_, i) => (i * 60) / bpm);
const bpmOf = (p: BarPointer): number => 60 / (p.period * STEP);
const likeliest = (p: BarPointer): number => p.places.indexOf(Math.max(...p.places));

describe('the bar pointer', () => {
  it.each([70, 92, 120, 150, 180])(
    'finds %d beats a minute within 1 %%, and where in the beat it is',
    (bpm) => {
      const pointer = new BarPointer(STEP),
        beats = even(bpm, 14);
      let worst = 0;
      hear(pointer, beats, {
        each: (t) => {
          if (t < 9) return;
          const off = pointer.phase - (t * bpm) / 60;
          worst = Math.max(worst, Math.abs(off - Math.round(off)));
        },
      });
      expect(Math.abs(bpmOf(pointer) / bpm - 1)).toBeLessThan(0.01);
      expect(worst).toBeLessThan(0.08);
      expect(pointer.sharp).toBeGreaterThan(0.7);
    },
  );
  it('knows which beat of a bar of four, or of three, it is', () => {
    for (const bar of [4, 3]) {
      const pointer = new BarPointer(STEP),
        bpm = 110,
        from = bar === 3 ? FIRST_OF_THREE : 0;
      let asked = 0,
        right = 0;
      hear(pointer, even(bpm, 24), {
        bar,
        each: (t) => {
          const at = (t * bpm) / 60;
          if (t < 14 || Math.abs(at - Math.floor(at) - 0.5) > 0.05) return;
          asked++;
          if (likeliest(pointer) === from + (Math.floor(at) % bar)) right++;
        },
      });
      expect(asked).toBeGreaterThan(15);
      expect(right).toBe(asked);
    }
  });
  it('is not led to the double by what is heard halfway, when it hears that bars have four beats', () => {
    const known = new BarPointer(STEP),
      unknown = new BarPointer(STEP);
    hear(known, even(80, 24), { between: 0.15 });
    hear(unknown, even(80, 24), { between: 0.15, told: false });
    expect(Math.abs(bpmOf(known) / 80 - 1)).toBeLessThan(0.015);
    expect(Math.abs(bpmOf(unknown) / 160 - 1)).toBeLessThan(0.015);
  });
  it('keeps to the beat when all of them sound like a bar’s first and all halves are heard too: three halves fit bars of four better, but are no beat', () => {
    for (const bpm of [102, 128]) {
      const pointer = new BarPointer(STEP);
      let last = NaN;
      for (let k = 0; k * STEP < 24; k++) {
        // As wide as the networks say it: half of its height 20 ms from the middle.
        const half = (k * STEP * bpm) / 30,
          nearest = Math.round(half),
          ms = (Math.abs(half - nearest) * 30000) / bpm,
          heard = 0.97 * 2 ** -((ms / 20) ** 2);
        pointer.step(heard, heard * (nearest % 2 === 0 ? 0.85 : 0.02), 1);
        pointer.read();
        if (k * STEP > 12 && Math.abs(bpmOf(pointer) / bpm - 1) > 0.015) last = k * STEP;
      }
      expect(last).toBeNaN();
    }
  });
  it('follows from 100 to 130 in a minute', () => {
    const beats: number[] = [],
      bpm = (t: number): number => 100 + (30 * t) / 60;
    for (let t = 0; t < 60; t += 60 / bpm(t)) beats.push(t);
    const pointer = new BarPointer(STEP);
    let worst = 0;
    hear(pointer, beats, {
      each: (t) => {
        if (t > 10) worst = Math.max(worst, Math.abs(bpmOf(pointer) / bpm(t) - 1));
      },
    });
    expect(worst).toBeLessThan(0.04);
  });
  it('runs on by itself when nothing is trusted, and stays a probability', () => {
    const pointer = new BarPointer(STEP),
      bpm = 120,
      beats = even(bpm, 16);
    hear(pointer, beats);
    const from = Math.ceil(beats.at(-1)! / STEP);
    for (let k = from; k < from + 4 / STEP; k++) pointer.step(0.01, 0.01, 0);
    pointer.read();
    const off = pointer.phase - ((from + Math.round(4 / STEP) - 1) * STEP * bpm) / 60;
    expect(Math.abs(off - Math.round(off))).toBeLessThan(0.1);
    expect(bpmOf(pointer)).toBeCloseTo(bpm, -0.5);
    const sum = pointer.places.reduce((a, b) => a + b, 0);
    expect(sum).toBeGreaterThan(0);
    expect(sum).toBeLessThanOrEqual(1 + 1e-6);
  });
  it('takes up another tempo within a few bars', () => {
    const pointer = new BarPointer(STEP),
      first = even(96, 15),
      second = even(140, 15).map((t) => t + 15);
    hear(pointer, [...first, ...second]);
    expect(bpmOf(pointer)).toBeCloseTo(140, -0.5);
  });
});
