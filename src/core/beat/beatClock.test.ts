import { describe, expect, it } from '@jest/globals';
import type { BeatTracker } from '../hearing/beatTracker';
import type { Tempo } from '../show/types';
import { BeatClock } from './beatClock';

const DT = 256 / 48000;
const tempo = (t: Partial<Tempo>): Tempo => ({
  source: 'typed',
  bpm: 120,
  beatsPerBar: 4,
  anchor: 0,
  input: null,
  multiple: 1,
  ...t,
});
/** Beats that fall in so many seconds: their times, and whether each begins a bar. */
function run(
  clock: BeatClock,
  t: Tempo,
  seconds: number,
  position: (time: number) => number = (x) => x,
  tracker: BeatTracker | null = null,
  from = 0,
): [number, boolean][] {
  const out: [number, boolean][] = [];
  for (let k = 1; k <= Math.round(seconds / DT); k++) {
    clock.step(t, DT, position(from + k * DT), true, tracker);
    if (clock.beatAgo === clock.beatAgo) out.push([from + k * DT - clock.beatAgo, clock.isBar]);
  }
  return out;
}

describe('the one tempo of a show', () => {
  it("known: beats lie on the show's position, bars at the anchor, and a leap is no beat", () => {
    const clock = new BeatClock(),
      t = tempo({ source: 'known', bpm: 112.5, anchor: 0.1 });
    const beats = run(clock, t, 3);
    beats.forEach(([at], i) => expect(at).toBeCloseTo(0.1 + (i * 60) / 112.5, 4));
    expect(beats.map(([, bar]) => bar)).toEqual([true, false, false, false, true, false]);
    expect(run(clock, t, DT, () => 20)).toEqual([]);
    expect(clock.confidence).toBe(1);
  });
  it('typed: runs by itself, set to the beat by a tap and to the bar by hand', () => {
    const clock = new BeatClock(),
      t = tempo({ bpm: 60 });
    run(clock, t, 0.4);
    clock.beatNow();
    const beats = run(clock, t, 3.2);
    expect(beats[0]![0]).toBeCloseTo(1, 1); // the tap is the nearest beat; the next comes a second later
    clock.barNow();
    expect(
      run(clock, t, 4)
        .map(([, bar]) => bar)
        .filter(Boolean),
    ).toHaveLength(1);
  });
  it('found: follows its tracker, half or double, and keeps a bar that was set by hand', () => {
    const tracker = { bpm: 100, confidence: 0.9, position: 0, barBeat: 2, beatsPerBar: 4 };
    const clock = new BeatClock();
    const go = (t: Tempo, seconds: number): [number, boolean][] => {
      const out: [number, boolean][] = [];
      for (let k = 0; k < seconds / DT; k++) {
        const was = Math.floor(tracker.position);
        tracker.position += (DT * 100) / 60;
        if (Math.floor(tracker.position) > was) tracker.barBeat = (tracker.barBeat + 1) % 4;
        clock.step(t, DT, 0, false, tracker as unknown as BeatTracker);
        if (clock.beatAgo === clock.beatAgo) out.push([k, clock.isBar]);
      }
      return out;
    };
    expect(go(tempo({ source: 'found' }), 4.85).map(([, bar]) => bar)).toEqual([
      false,
      true,
      false,
      false,
      false,
      true,
      false,
      false,
    ]);
    expect(clock.bpm).toBe(100);
    expect(go(tempo({ source: 'found', multiple: 2 }), 6).length).toBe(20);
    clock.barNow();
    const start = clock.bar;
    expect(Math.min(start, 1 - start)).toBeLessThan(0.07);
    tracker.barBeat = 1; // what the tracker thinks of the bar counts no more
    clock.step(tempo({ source: 'found', multiple: 2 }), DT, 0, false, tracker as unknown as BeatTracker);
    expect(Math.min(clock.bar, 1 - clock.bar)).toBeLessThan(0.07);
  });
  it('MIDI clock: draws together what has drifted, and stops with it', () => {
    const clock = new BeatClock(),
      t = tempo({ source: 'midi' });
    for (let k = 0; k < 400; k++) {
      if (k % 4 === 0) clock.midi((k * DT * 125) / 60, 125);
      clock.step(t, DT, 0, false, null);
    }
    expect(clock.bpm).toBe(125);
    expect(clock.beat).toBeCloseTo((400 * DT * 125) / 60, 1);
    clock.midi(clock.beat, 0);
    expect(run(clock, t, 2)).toEqual([]);
  });
});
