import { describe, expect, it } from '@jest/globals';
import { isOscAddress, type MidiForm, saidOf } from './kinds';
import { MidiSpeaker } from './midiSpeaker';

const form = (change: Partial<MidiForm>): MidiForm => ({
  kind: 'midi',
  device: 'simulated',
  deviceName: 'Simulated instrument',
  says: 'note',
  channel: 10,
  number: 36,
  holdMs: 100,
  ...change,
});

describe('a device is told over MIDI', () => {
  /** Everything that is said from 0 to `to` ms, with its time. */
  const said = (s: MidiSpeaker, to: number, at: (now: number) => number): [number, number[]][] => {
    const out: [number, number[]][] = [];
    for (let now = 0; now <= to; now++) {
      const value = at(now);
      while (s.next(value, now)) out.push([now, [...s.bytes]]);
    }
    return out;
  };
  it('a note for each strike, ended after its time, or before the next; never a velocity of 0', () => {
    const s = new MidiSpeaker(form({}));
    const all = said(s, 400, (now) => {
      if (now === 10) s.strike(1);
      if (now === 60) s.strike(0.5);
      if (now === 300) s.strike(0);
      return 0;
    });
    expect(all).toEqual([
      [10, [0x99, 36, 127]],
      [60, [0x89, 36, 0]],
      [60, [0x99, 36, 64]],
      [160, [0x89, 36, 0]],
      [300, [0x99, 36, 1]],
      [400, [0x89, 36, 0]],
    ]);
    expect(s.end()).toBe(false);
    s.strike(1);
    s.next(0, 500);
    expect([s.end(), ...s.bytes]).toEqual([true, 0x89, 36, 0]);
  });
  it('a controller at each change of its seven bits, sixty times a second at most', () => {
    const s = new MidiSpeaker(form({ says: 'controller', channel: 1, number: 7 }));
    expect(said(s, 50, () => 0.5)).toEqual([[0, [0xb0, 7, 64]]]);
    const rushed = said(s, 1000, (now) => (now % 100) / 100);
    expect(rushed.length).toBeLessThanOrEqual(62);
    expect(rushed.length).toBeGreaterThan(50);
    expect(s.next(NaN, 5000)).toBe(true);
    expect(s.bytes[2]).toBe(0);
  });
});

describe('what is said over OSC', () => {
  it('lies between the two numbers, whole where it is to be, and is the low end for what is no number', () => {
    const f = { type: 'float', low: -1, high: 3 } as const;
    expect([0, 0.5, 1, 7, -2, NaN].map((x) => saidOf(f, x))).toEqual([-1, 1, 3, 3, -1, -1]);
    expect(saidOf({ type: 'int', low: 0, high: 127 }, 0.5)).toBe(64);
  });
  it('goes to an address that any receiver can read', () => {
    expect(['/a', '/deck/level', '/ch/1/mix/fader'].every(isOscAddress)).toBe(true);
    expect(['', 'a', '/', '/a/', '/a b', '/a*', '/{x}', '/é', `/${'a'.repeat(200)}`].some(isOscAddress)).toBe(
      false,
    );
  });
});
