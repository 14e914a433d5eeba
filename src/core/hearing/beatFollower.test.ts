import { describe, expect, it } from '@jest/globals';
import { seeded } from '../random';
import { BeatFollower } from './beatFollower';

const STEP = 512 / 48000,
  LAG = 0.02;
type Told = readonly [time: number, bpm: number];
/** Follows what `likely` says of each moment. @returns the beats that were told */
function follow(
  follower: BeatFollower,
  seconds: number,
  likely: (time: number) => readonly [beat: number, down: number],
  each?: (time: number) => void,
): Told[] {
  const told: Told[] = [];
  for (let k = 1; k * STEP < seconds; k++) {
    const t = k * STEP;
    follower.follow(...likely(t));
    if (follower.beatAgo === follower.beatAgo) told.push([t - follower.beatAgo, follower.bpm]);
    each?.(t);
  }
  return told;
}
/** Beats at an even tempo, as late as they are heard; the first of four is a bar's first. */
const even =
  (bpm: number) =>
  (t: number): readonly [number, number] => {
    const at = ((t - LAG) * bpm) / 60,
      beat = Math.round(at),
      near = Math.abs(((at - beat) * 60) / bpm) < STEP;
    return [near ? 0.9 : 0.02, near && beat % 4 === 0 ? 0.8 : 0.01];
  };
/** How far from a beat of an even tempo, in seconds. */
const off = (time: number, bpm: number): number => {
  const at = (time * bpm) / 60;
  return (Math.abs(at - Math.round(at)) * 60) / bpm;
};
const QUIET = [0.02, 0.01] as const;

describe('the beat follower', () => {
  it.each([80, 126, 165])('tells each beat of %d a minute as it comes', (bpm) => {
    const told = follow(new BeatFollower(STEP, LAG), 24, even(bpm)).filter(([t]) => t > 8);
    expect(Math.abs(told.length - (16 * bpm) / 60)).toBeLessThan(1.5);
    expect(Math.max(...told.map(([t]) => off(t, bpm)))).toBeLessThan(0.03);
    expect(Math.max(...told.map(([, b]) => Math.abs(b / bpm - 1)))).toBeLessThan(0.01);
  });
  it('knows the beat of the bar, and tells none before it knows', () => {
    const f = new BeatFollower(STEP, LAG);
    let known = 0;
    follow(f, 24, even(110), (t) => {
      if (f.barBeat < 0) {
        expect(t).toBeLessThan(14);
        return;
      }
      if (t < 14 || off(t, 110) < 0.1) return;
      known++;
      expect(f.barBeat).toBe(Math.floor((t * 110) / 60) % 4);
    });
    expect(known).toBeGreaterThan(300);
  });
  it.each([6, 16])(
    'goes through eight bars of nothing after %d s at the tempo and place it had, and on from there',
    (begin) => {
      const bpm = 112,
        from = Math.floor((begin * bpm) / 60) * (60 / bpm) + 0.1,
        to = from + (32 * 60) / bpm;
      const told = follow(new BeatFollower(STEP, LAG), to + 6, (t) =>
        t > from && t < to ? QUIET : even(bpm)(t),
      ).filter(([t]) => t > from);
      expect(Math.abs(told.length - ((to + 6 - from) * bpm) / 60)).toBeLessThan(1.5);
      expect(Math.max(...told.map(([t]) => off(t, bpm)))).toBeLessThan(0.07);
    },
  );
  it('takes up another tempo within twelve of its beats', () => {
    const change = 16,
      told = follow(new BeatFollower(STEP, LAG), 32, (t) =>
        t < change ? even(90)(t) : even(128)(t - change),
      );
    const late = told.filter(([t]) => t > change + (12 * 60) / 128);
    expect(Math.max(...late.map(([, b]) => Math.abs(b / 128 - 1)))).toBeLessThan(0.02);
    expect(Math.max(...late.map(([t]) => off(t - change, 128)))).toBeLessThan(0.03);
  });
  it.each([
    [118, 92],
    [97, 124],
    [90, 128],
  ])('takes up a leap from %d to %d within four and a half seconds, unsure meanwhile', (from, to) => {
    const change = 18,
      f = new BeatFollower(STEP, LAG);
    let least = 1;
    const told = follow(
      f,
      40,
      (t) => (t < change ? even(from)(t) : even(to)(t - change)),
      (t) => {
        if (t > change && t < change + 4) least = Math.min(least, f.confidence);
      },
    );
    const late = told.filter(([t]) => t > change + 4.5);
    expect(Math.max(...late.map(([, b]) => Math.abs(b / to - 1)))).toBeLessThan(0.03);
    expect(least).toBeLessThan(0.75);
    expect(f.confidence).toBeGreaterThan(0.9);
  });
  it.each([
    [100, 128],
    [128, 100],
  ])('tells a tempo that slides from %d to %d in ten seconds as it goes', (from, to) => {
    const begin = 14,
      length = 10,
      tempo = (t: number): number => from + (to - from) * Math.min(1, Math.max(0, (t - begin) / length));
    // Beats where the tempo's own integral is whole.
    const beats: number[] = [];
    for (let t = 0, at = 0; t < 40; t += 0.0005) {
      const next = at + (tempo(t) / 60) * 0.0005;
      if (Math.floor(next) > Math.floor(at)) beats.push(t);
      at = next;
    }
    const f = new BeatFollower(STEP, LAG),
      errors: number[] = [];
    let k = 0;
    const told = follow(
      f,
      36,
      (t) => {
        while (k + 1 < beats.length && beats[k + 1]! < t - LAG + 0.1) k++;
        const near = [k, k + 1].some((i) => Math.abs((beats[i] ?? -9) + LAG - t) < STEP);
        return [near ? 0.9 : 0.02, 0.02];
      },
      (t) => {
        if (t > begin) errors.push(Math.abs(f.bpm / tempo(t) - 1));
      },
    );
    errors.sort((a, b) => a - b);
    expect(errors[Math.floor(0.5 * errors.length)]).toBeLessThan(0.012);
    expect(errors[Math.floor(0.9 * errors.length)]).toBeLessThan(0.04);
    const missed = beats.filter((b) => b > 8 && b < 35 && !told.some(([t]) => Math.abs(t - b) < 0.06));
    expect(missed.length).toBeLessThanOrEqual(1);
  });
  it('stays where it is through a fill that leaves beats out', () => {
    const bpm = 120,
      f = new BeatFollower(STEP, LAG);
    const told = follow(f, 32, (t) =>
      // Two beats of every sixteen are not heard, and two between them are.
      t % 8 > 7 ? even(bpm)(t + 15 / bpm) : even(bpm)(t),
    ).filter(([t]) => t > 8);
    expect(Math.max(...told.map(([t]) => off(t, bpm)))).toBeLessThan(0.07);
  });
  it('is unsure before it changes its mind about where the beat is, does so once, and is sure again', () => {
    const bpm = 120,
      change = 16,
      f = new BeatFollower(STEP, LAG),
      // From then on what was between two beats is the beat.
      shifted = (t: number): readonly [number, number] => even(bpm)(t < change ? t : t - 30 / bpm);
    const sure: [number, number][] = [];
    const told = follow(f, 40, shifted, (t) => sure.push([t, f.confidence])),
      right = (t: number): boolean => off(t - 30 / bpm, bpm) < 0.06,
      late = told.filter(([t]) => t > change),
      [at] = late.find(([t]) => right(t))!;
    expect(at - change).toBeLessThan(8);
    // Not back and forth: from then on all are right.
    expect(late.filter(([t]) => t >= at).every(([t]) => right(t))).toBe(true);
    const sureAt = (t: number): number => sure.find(([x]) => x >= t)![1];
    expect(sureAt(change)).toBeGreaterThan(0.8);
    expect(sureAt(at - 0.6)).toBeLessThan(0.3);
    expect(sureAt(at + 6)).toBeGreaterThan(0.8);
  });
  it('never runs backwards, and stays finite and unsure on chance alone', () => {
    const random = seeded(5),
      f = new BeatFollower(STEP, LAG);
    let was = 0,
      surest = 0;
    const told = follow(
      f,
      60,
      () => [random() < 0.05 ? random() : 0.02, random() * 0.05],
      (t) => {
        expect(f.position).toBeGreaterThanOrEqual(was);
        was = f.position;
        if (t > 20) surest = Math.max(surest, f.confidence);
      },
    );
    expect(told.every(([t, bpm]) => Number.isFinite(t) && bpm > 40 && bpm < 240)).toBe(true);
    expect(surest).toBeLessThan(0.8);
  });
  it('finds no tempo where nothing is heard', () => {
    const f = new BeatFollower(STEP, LAG);
    expect(follow(f, 20, () => QUIET)).toEqual([]);
    expect(f.confidence).toBeLessThan(0.1);
  });
});
