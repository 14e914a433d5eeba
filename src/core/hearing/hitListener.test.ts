import { describe, expect, it } from '@jest/globals';
import { BandFrame } from './bandFrame';
import { HitListener, HOLD_OFF, STROKES, strokeThreshold, StrokeTrigger } from './hitListener';
import { makeHop } from '../audio/hop';

const DT = 256 / 48000;
/** At which steps a trigger fires. */
const fires = (trigger: StrokeTrigger, probabilities: readonly number[]): number[] =>
  probabilities.flatMap((p, i) => (trigger.step(p, DT) ? [i] : []));
const quiet = (n: number): number[] => new Array<number>(n).fill(0.01);

describe('a stroke’s trigger', () => {
  it('fires once for a stroke, however long it stays likely', () => {
    expect(
      fires(new StrokeTrigger('kick', 0.8, HOLD_OFF), [
        ...quiet(5),
        0.5,
        0.9,
        0.95,
        0.9,
        0.85,
        0.9,
        ...quiet(20),
      ]),
    ).toEqual([6]);
  });
  it('fires again when it fell between two strokes, though not all the way', () => {
    expect(
      fires(new StrokeTrigger('snare', 0.7, HOLD_OFF), [0.95, 0.9, 0.8, 0.7, 0.6, 0.5, 0.6, 0.8, 0.9]),
    ).toEqual([0, 7]);
  });
  it('does not fire again before its hold-off is over, and then does', () => {
    const wave = Array.from({ length: 40 }, (_, i) => (i % 2 === 0 ? 0.9 : 0.05));
    const at = fires(new StrokeTrigger('any', 0.7, 0.036), wave);
    expect(at[0]).toBe(0);
    for (let i = 1; i < at.length; i++) expect((at[i]! - at[i - 1]!) * DT).toBeGreaterThanOrEqual(0.036);
    expect(at.length).toBe(Math.ceil(40 / 8)); // 36 ms are 6.75 hops; every second is likely
  });
  it('stays silent below its threshold', () => {
    expect(
      fires(
        new StrokeTrigger('hat', 0.6, HOLD_OFF),
        Array.from({ length: 200 }, (_, i) => 0.55 + 0.04 * Math.sin(i)),
      ),
    ).toEqual([]);
  });
});

describe('sensitivity', () => {
  it.each(STROKES)('of %s lowers the threshold evenly, and never to certainty either way', (stroke) => {
    const at = Array.from({ length: 21 }, (_, i) => strokeThreshold(stroke, i / 20));
    for (let i = 1; i < at.length; i++) expect(at[i]!).toBeLessThan(at[i - 1]!);
    expect(at[0]).toBeLessThan(1);
    expect(at[20]).toBeGreaterThan(0);
    // Even steps of the odds' logarithm, five from end to end.
    const odds = (p: number): number => Math.log(p / (1 - p));
    expect(odds(at[0]!) - odds(at[20]!)).toBeCloseTo(5, 9);
    expect(odds(at[10]!)).toBeCloseTo((odds(at[0]!) + odds(at[20]!)) / 2, 9);
  });
  it('beyond its ends is that of the ends', () => {
    expect(strokeThreshold('kick', -3)).toBe(strokeThreshold('kick', 0));
    expect(strokeThreshold('kick', 7)).toBe(strokeThreshold('kick', 1));
  });
});

describe('the hit listener', () => {
  /** Runs a sound through it. @param each - after each hop, with the time of its end */
  function listen(
    seconds: number,
    sound: (frame: number) => number,
    each: (l: HitListener, f: BandFrame, time: number) => void,
  ): void {
    const frame = new BandFrame(48000),
      listener = new HitListener(48000),
      hop = makeHop(256);
    hop.mono = true;
    for (let k = 0; k < (seconds * 48000) / 256; k++) {
      for (let i = 0; i < 256; i++) hop.left[i] = hop.right[i] = sound(k * 256 + i);
      frame.process(hop);
      listener.process(frame, 256);
      each(listener, frame, ((k + 1) * 256) / 48000);
      listener.fade(256);
    }
  }
  /** A drum of our own: a falling tone with a click, each half second. */
  const drum =
    (loud: (n: number) => number) =>
    (frame: number): number => {
      const n = Math.floor(frame / 24000),
        t = (frame % 24000) / 48000;
      return (
        loud(n) * Math.exp(-t * 18) * Math.sin(2 * Math.PI * (50 * t + 3 * (1 - Math.exp(-t * 40)))) +
        loud(n) * 0.3 * Math.exp(-t * 900) * Math.sin(frame * 1.7)
      );
    };
  it('believes nothing in the first moments, whatever is on already', () => {
    listen(
      0.04,
      (n) => Math.sin(n * 0.03),
      (l) => expect([...l.probability]).toEqual([0, 0, 0, 0]),
    );
  });
  it('hears each stroke of a drum within 25 ms, and nothing between', () => {
    const trigger = new StrokeTrigger('any', strokeThreshold('any', 0.5), HOLD_OFF),
      at: number[] = [];
    listen(
      6,
      drum(() => 0.8),
      (l, _, time) => {
        if (trigger.step(l.probability[0]!, DT)) at.push(time);
      },
    );
    const after = at.filter((t) => t > 0.6);
    expect(after.length).toBe(10);
    for (const t of after) expect(t % 0.5).toBeLessThan(0.025);
  });
  it('tells a stroke’s strength against the loudest of its kind of late', () => {
    const strengths: number[] = [];
    listen(
      6,
      drum((n) => (n % 2 ? 0.4 : 0.8)),
      (l, f, time) => {
        if (Math.abs((time % 0.5) - 0.0187) < DT / 2 && time > 2) strengths.push(l.strength(f, 'any'));
      },
    );
    expect(strengths.length).toBeGreaterThan(6);
    // Half the amplitude is half the strength, within what the level's scale rounds.
    const soft = strengths.filter((_, i) => i % 2 === (strengths[0]! < strengths[1]! ? 0 : 1)),
      loud = strengths.filter((s) => !soft.includes(s));
    for (const s of loud) expect(s).toBeGreaterThan(0.85);
    for (const s of soft) {
      expect(s).toBeGreaterThan(0.35);
      expect(s).toBeLessThan(0.65);
    }
  });
});
