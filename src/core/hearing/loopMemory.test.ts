import { describe, expect, it } from '@jest/globals';
import { LoopMemory } from './loopMemory';

const HOP = 256 / 48000,
  KICK = 0,
  SNARE = 1;
/** Plays a bar of so many hops again and again: a kick at its beginning, a snare in its middle. */
function play(
  memory: LoopMemory,
  hops: number,
  bar: number,
  at: (hop: number) => readonly [number, number],
): void {
  const p = new Float32Array(4);
  for (let i = 0; i < hops; i++) {
    const [kick, snare] = at(i % bar);
    p[1] = kick;
    p[2] = snare;
    memory.take(p, 1);
  }
}
const bar = Math.round(2 / HOP),
  straight = (i: number): readonly [number, number] => [
    i < 3 ? 0.9 : 0.02,
    Math.abs(i - bar / 2) < 2 ? 0.8 : 0.01,
  ];

describe('a loop that is remembered', () => {
  it('says what was struck a round ago where it is due, and nothing where it is not', () => {
    const memory = new LoopMemory(48000, 256);
    play(memory, 6 * bar, bar, straight);
    expect(memory.confidence).toBeGreaterThan(0.6);
    expect(memory.before(KICK)).toBeCloseTo(0.9, 2);
    expect(memory.before(SNARE)).toBeLessThan(0.05);
    play(memory, Math.floor(bar / 2), bar, straight);
    expect(memory.before(SNARE)).toBeCloseTo(0.8, 2);
    expect(memory.before(KICK)).toBeLessThan(0.05);
    // A quarter on, nothing is due.
    const third = new LoopMemory(48000, 256);
    play(third, Math.floor(6.25 * bar), bar, straight);
    expect([third.before(KICK), third.before(SNARE)].every((x) => x < 0.05)).toBe(true);
  });
  it('knows nothing before it has heard something twice, and of what never repeats', () => {
    const early = new LoopMemory(48000, 256);
    play(early, Math.round(1.5 * bar), bar, straight);
    expect(early.confidence).toBe(0);
    const never = new LoopMemory(48000, 256);
    let seed = 1;
    const p = new Float32Array(4);
    for (let i = 0; i < 8 * bar; i++) {
      seed = (seed * 16807) % 2147483647;
      p[1] = seed % 97 === 0 ? 0.9 : 0.01;
      never.take(p, 1);
    }
    expect(never.confidence).toBeLessThan(0.3);
  });
  it('finds silence like nothing', () => {
    const silent = new LoopMemory(48000, 256);
    play(silent, 8 * bar, bar, () => [0, 0]);
    expect([silent.confidence, silent.before(KICK)]).toEqual([0, 0]);
  });
});
