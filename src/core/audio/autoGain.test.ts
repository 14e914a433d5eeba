import { describe, expect, it } from '@jest/globals';
import { AutoGain, AUTO_GAIN_LEAST, AUTO_GAIN_MOST } from './autoGain';
import { makeHop } from './hop';

const HOP = 256,
  DT = HOP / 48000;
/** Plays a square wave (its RMS is its amplitude) for some seconds. @returns the RMS of the last hop, in dBFS */
function play(g: AutoGain, db: number, seconds: number): number {
  const hop = makeHop(HOP),
    a = 10 ** (db / 20);
  let sum = 0;
  for (let t = 0; t < seconds; t += DT) {
    for (let i = 0; i < HOP; i++) hop.left[i] = hop.right[i] = i % 2 ? a : -a;
    g.process(hop, DT);
    sum = hop.left.reduce((s, v) => s + v * v, 0) / HOP;
  }
  return 10 * Math.log10(sum);
}

describe('automatic gain', () => {
  it('brings a quiet and a loud sound to the same level, −20 dBFS', () => {
    expect(play(new AutoGain(), -38, 20)).toBeCloseTo(-20, 3);
    expect(play(new AutoGain(), -12, 20)).toBeCloseTo(-20, 3);
  });
  it('goes no further than its ends', () => {
    const up = new AutoGain(),
      down = new AutoGain();
    play(up, -55, 30);
    play(down, 0, 30);
    expect([up.db, down.db]).toEqual([AUTO_GAIN_MOST, AUTO_GAIN_LEAST]);
  });
  it('arrives within three seconds, however quiet the sound is', () => {
    for (const level of [-55, -44, -30, -12, 0])
      expect(play(new AutoGain(), level, 3)).toBeCloseTo(
        level + Math.max(AUTO_GAIN_LEAST, Math.min(AUTO_GAIN_MOST, -20 - level)),
        1,
      );
  });
  it('then rises by 3 dB a second and falls by 18', () => {
    const up = new AutoGain(),
      down = new AutoGain();
    play(up, -30, 3);
    expect(up.db).toBeCloseTo(10, 1); // to the hop
    play(up, -40, 2);
    expect(up.db).toBeCloseTo(16, 1); // the loudest of late is forgotten faster
    play(down, -10, 0.25);
    expect(down.db).toBeCloseTo(-4.5, 1); // to the hop
  });
  it('does not turn up the empty room, nor what is left in a pause', () => {
    const g = new AutoGain();
    play(g, -70, 30);
    expect(g.db).toBe(0);
    play(g, -30, 10);
    const was = g.db;
    play(g, -75, 10);
    expect(g.db).toBe(was);
  });
  it('changes evenly over a hop, without a step', () => {
    const g = new AutoGain(),
      hop = makeHop(HOP),
      gains: number[] = [];
    for (let k = 0; k < 100; k++) {
      hop.left.fill(0.01);
      hop.right.fill(0.01);
      g.process(hop, DT);
      for (const v of hop.left) gains.push(v);
    }
    for (let i = 1; i < gains.length; i++) expect(Math.abs(gains[i]! / gains[i - 1]! - 1)).toBeLessThan(2e-4);
    expect(gains.at(-1)! / gains[0]!).toBeGreaterThan(1.1);
  });
});
