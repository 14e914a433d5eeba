import { describe, expect, it } from '@jest/globals';
import { MidiClock } from './midiClock';

/** A beat of so many a minute from a place in beats, told every `every` ms. */
function run(
  clock: MidiClock,
  {
    bpm,
    from,
    to,
    every = 5.3,
    perBar = 4,
  }: { bpm: number; from: number; to: number; every?: number; perBar?: number },
  start = 0,
): { readonly byte: number; readonly at: number; readonly told: number }[] {
  const out: { byte: number; at: number; told: number }[] = [];
  const ms = ((to - from) * 60000) / bpm;
  for (let now = 0; now <= ms; now += every) {
    const beat = from + (now * bpm) / 60000;
    clock.step(bpm, (beat / perBar) % 1, perBar, start + now);
    while (clock.next()) out.push({ byte: clock.byte, at: clock.at, told: start + now });
  }
  return out;
}

describe('the beat as MIDI clock', () => {
  it.each([60, 112.5, 174])(
    'has 24 pulses a quarter note at %d beats a minute, each due when it falls',
    (bpm) => {
      const all = run(new MidiClock(), { bpm, from: 2.5, to: 34 });
      const pulses = all.filter((m) => m.byte === 0xf8);
      // The n-th pulse after beat 2.5 lies n/24 of a beat after it.
      pulses.forEach((p, n) => {
        const due = (n / 24) * (60000 / bpm);
        expect(Math.abs(p.at - due)).toBeLessThan(0.05);
        expect(p.at).toBeGreaterThanOrEqual(p.told);
      });
      expect(pulses.length).toBeGreaterThanOrEqual(31.5 * 24);
      // Started once, a millisecond before beat 4, which is a bar's first.
      const starts = all.filter((m) => m.byte !== 0xf8);
      expect(starts.map((m) => m.byte)).toEqual([0xfa]);
      expect(starts[0]!.at).toBeCloseTo((1.5 * 60000) / bpm - 1, 3);
      expect(all[all.indexOf(starts[0]!) + 1]!.at).toBeCloseTo((1.5 * 60000) / bpm, 3);
    },
  );
  it('stops when the beat stands still or leaps, and starts again with a bar', () => {
    const clock = new MidiClock();
    run(clock, { bpm: 120, from: 0, to: 8 });
    expect(clock.running).toBe(true);
    const still: number[] = [];
    for (let now = 4005; now < 5000; now += 5) {
      clock.step(120, 0.001, 4, now);
      while (clock.next()) still.push(clock.byte);
    }
    expect(still.filter((b) => b === 0xfc)).toHaveLength(1);
    expect(still.at(-1)).toBe(0xfc);
    const on = run(clock, { bpm: 120, from: 1, to: 6 }, 5000);
    expect(on.filter((m) => m.byte === 0xfa).map((m) => m.at)).toEqual([expect.closeTo(5000 + 1500 - 1, 3)]);
    const leapt = run(clock, { bpm: 120, from: 3.5, to: 3.8 }, 7600).map((m) => m.byte);
    expect(leapt[0]).toBe(0xfc);
    expect(leapt).not.toContain(0xfa);
  });
  it('says nothing without a beat, and ends with a stop', () => {
    const clock = new MidiClock();
    clock.step(0, 0, 4, 0);
    expect([clock.next(), clock.end()]).toEqual([false, false]);
    run(clock, { bpm: 100, from: 0, to: 5 });
    expect([clock.end(), clock.byte, clock.end()]).toEqual([true, 0xfc, false]);
  });
});
