import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { HEALTH, InputMeter } from './inputMeter';

const HOP = 256,
  DT = HOP / 48000;
/** Plays a sine of 1.5 kHz: eight whole periods a hop. */
function play(
  m: InputMeter,
  amplitude: number,
  seconds: number,
  gain = 1,
  change: (x: number, i: number) => number = (x) => x,
): void {
  const hop = makeHop(HOP);
  for (let t = 0; t < seconds; t += DT) {
    for (let i = 0; i < HOP; i++)
      hop.left[i] = hop.right[i] = change(amplitude * gain * Math.sin((2 * Math.PI * 8 * i) / HOP), i);
    m.process(hop, DT, gain);
  }
}
const health = (m: InputMeter): string => HEALTH[m.health]!;

describe('the meter of an input', () => {
  it('reads peak and RMS of a sine', () => {
    const m = new InputMeter();
    play(m, 0.5, 0.1);
    expect(m.peak).toBeCloseTo(0.5, 3);
    expect(m.rms).toBeCloseTo(0.5 / Math.SQRT2, 3);
  });
  it('tells a click to a display of 60 pictures a second, wherever it falls between two of them', () => {
    const click = makeHop(HOP),
      rest = makeHop(HOP);
    click.left[7] = click.right[7] = 0.9;
    for (let late = 0; late < 8; late++) {
      const m = new InputMeter();
      for (let i = 0; i < late; i++) m.process(rest, DT, 1);
      m.process(click, DT, 1);
      // The very next picture may be a whole sixtieth of a second away: three more hops.
      for (let i = 0; i < 3; i++) m.process(rest, DT, 1);
      expect(m.peak).toBeCloseTo(0.9, 6);
      for (let i = 0; i < 6; i++) m.process(rest, DT, 1);
      expect(m.peak).toBe(0);
    }
  });
  it('tells silent, quiet and good apart, and gives a new input a moment to speak', () => {
    for (const [db, what] of [
      [-80, 'silent'],
      [-50, 'quiet'],
      [-20, 'good'],
    ] as const) {
      const m = new InputMeter();
      play(m, 10 ** (db / 20), 0.5);
      expect(health(m)).toBe('good');
      play(m, 10 ** (db / 20), 2);
      expect([db, health(m)]).toEqual([db, what]);
    }
  });
  it('takes a flat top for clipping, for two seconds, but not a lone peak', () => {
    const m = new InputMeter();
    play(m, 0.3, 1, 1, (x, i) => (i === 40 ? 1 : x));
    expect(health(m)).toBe('good');
    play(m, 0.3, DT / 2, 1, (x, i) => (i >= 40 && i < 43 ? 1 : x));
    expect(health(m)).toBe('clipping');
    play(m, 0.3, 1.9);
    expect(health(m)).toBe('clipping');
    play(m, 0.3, 0.2);
    expect(health(m)).toBe('good');
  });
  it('judges clipping by what the device gave, not by the trim after it', () => {
    const loud = new InputMeter(),
      soft = new InputMeter();
    play(loud, 0.4, 1, 4);
    expect(health(loud)).toBe('good');
    // Clipped in the device, then turned down.
    play(soft, 3, 1, 0.25, (x) => Math.max(-0.25, Math.min(0.25, x)));
    expect(health(soft)).toBe('clipping');
  });
});
