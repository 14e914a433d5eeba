import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { Hearing } from './hearing';

const RATE = 48000;
type Begun = readonly [at: number, known: number, note: number];
/** What begins in a sound. */
function begins(seconds: number, sound: (n: number) => number): Begun[] {
  const hearing = new Hearing(RATE, 256),
    { noteBegins } = hearing,
    hop = makeHop(256),
    found: Begun[] = [];
  hop.mono = true;
  for (let at = 0; at + 256 <= seconds * RATE; at += 256) {
    for (let i = 0; i < 256; i++) hop.left[i] = hop.right[i] = sound(at + i);
    hop.time = at / RATE;
    hearing.process(hop);
    const now = (at + 256) / RATE;
    if (noteBegins.begun) found.push([now - noteBegins.ago, now, noteBegins.note]);
    hearing.finish(hop);
  }
  return found;
}
const hzOf = (key: number): number => 440 * 2 ** ((key - 69) / 12);
/** One tone without a gap or a rise, whose key changes. */
function tied(keyAt: (t: number) => number, partials = 5): (n: number) => number {
  let phase = 0;
  return (n) => {
    phase += hzOf(keyAt(n / RATE)) / RATE;
    let y = 0;
    for (let k = 1; k <= partials; k++) y += Math.sin(2 * Math.PI * k * phase) / k;
    return 0.15 * y;
  };
}

describe('a note begins', () => {
  const KEYS = [60, 62, 63, 67, 55];
  it('where its pitch leaves the one before, though nothing rises: when it was, and which', () => {
    const found = begins(
      2.5,
      tied((t) => KEYS[Math.min(4, Math.floor(t / 0.5))]!),
    );
    expect(found.map(([, , note]) => Math.round(note))).toEqual(KEYS);
    found.slice(1).forEach(([at, known], i) => {
      expect(Math.abs(at - 0.5 * (i + 1))).toBeLessThan(0.015);
      expect(known - 0.5 * (i + 1)).toBeLessThan(0.09);
    });
  });
  it('once in a glide, and not at all by a vibrato', () => {
    const glide = begins(
      2,
      tied((t) => (t < 0.8 ? 57 : Math.min(62, 57 + (t - 0.8) * 60))),
    );
    expect(glide.map(([, , note]) => Math.round(note))).toEqual([57, 62]);
    expect(
      begins(
        2.5,
        tied((t) => 64 + 0.45 * Math.sin(2 * Math.PI * 5.5 * t)),
      ).length,
    ).toBe(1);
  });
  it('as a whistle too', () => {
    const found = begins(
      2,
      tied((t) => [91, 96, 103, 98][Math.min(3, Math.floor(t / 0.5))]!, 1),
    );
    expect(found.map(([, , note]) => Math.round(note))).toEqual([91, 96, 103, 98]);
  });
  it('again after a silence, and when the same note is struck again', () => {
    const pluck = tied(() => 64, 12);
    // Struck each half second, the fourth time after a rest.
    const found = begins(2.7, (n) => {
      const t = n / RATE - 0.2,
        since = t < 0 ? Infinity : t < 1.5 ? t % 0.5 : t - 2;
      return since >= 0 ? 2 * Math.exp(-since * 7) * pluck(n) : 0;
    });
    expect(found.length).toBe(4);
    [0.2, 0.7, 1.2, 2.2].forEach((t, i) => expect(Math.abs(found[i]![0] - t)).toBeLessThan(0.02));
  });
  it('nowhere in noise and in silence', () => {
    let x = 1;
    const noise = (): number => (x = (x * 48271) % 2147483647) / 2147483647 - 0.5;
    expect(begins(3, noise)).toEqual([]);
    expect(begins(1, () => 0)).toEqual([]);
  });
});
