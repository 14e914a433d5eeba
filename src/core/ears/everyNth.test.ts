import { describe, expect, it } from '@jest/globals';
import { makeHop } from '../audio/hop';
import { BeatClock } from '../beat/beatClock';
import { Hearing } from '../hearing/hearing';
import { NoteState } from '../notes/noteState';
import { HOP, SAMPLE_RATE } from '../units';
import { makeEarRunner, type Listening } from './ear';

const DT = HOP / SAMPLE_RATE;
const tempo = {
  source: 'known',
  bpm: 120,
  beatsPerBar: 4,
  anchor: 0,
  input: null,
  multiple: 1,
} as const;

/** Times of what an ear of beats tells from `from` on, while the show plays at 120 BPM with a bar at 0 s. */
function beats(listening: Partial<Extract<Listening, { kind: 'beat' }>>, from: number, to: number): number[] {
  const clock = new BeatClock(),
    hearing = new Hearing(SAMPLE_RATE, HOP),
    hop = makeHop(HOP),
    told: number[] = [];
  const ear = makeEarRunner({ kind: 'beat', reading: 'beat', multiple: 1, ...listening }, { hearing, clock });
  for (let k = Math.round(from / DT); k * DT < to; k++) {
    hop.time = k * DT;
    hop.frames = HOP;
    clock.step(tempo, DT, (k + 1) * DT, true, null);
    ear.process(hop, { event: (t) => told.push(+t.toFixed(2)) });
  }
  return told;
}

describe('one of every so many', () => {
  it('beats are counted from a bar’s first, wherever the show is opened', () => {
    expect(beats({ nth: { every: 4, from: 0 } }, 0.7, 7)).toEqual([2, 4, 6]);
    expect(beats({ nth: { every: 4, from: 0 } }, 2.6, 7)).toEqual([4, 6]);
    expect(beats({ nth: { every: 8, from: 3 } }, 0.7, 10)).toEqual([1.5, 5.5, 9.5]);
    expect(beats({ nth: { every: 3, from: 1 } }, 0.1, 4)).toEqual([0.5, 2, 3.5]);
  });
  it('bars and beats of a multiple are counted likewise', () => {
    expect(beats({ reading: 'bar', nth: { every: 2, from: 1 } }, 0.5, 11)).toEqual([2, 6, 10]);
    expect(beats({ multiple: 2, nth: { every: 8, from: 0 } }, 0.5, 7)).toEqual([2, 4, 6]);
    expect(beats({ reading: 'bar' }, 0.5, 7)).toEqual([2, 4, 6]);
  });
  it('other events are counted as they come, and 1 is each', () => {
    const notes = new NoteState(),
      hearing = new Hearing(SAMPLE_RATE, HOP),
      hop = makeHop(HOP);
    const told = (every: number, from: number): number[] => {
      const all: number[] = [],
        ear = makeEarRunner(
          { kind: 'notes', channels: [], tracks: [], reading: 'on', nth: { every, from } },
          { hearing, notes },
        );
      for (let i = 0; i < 9; i++) {
        notes.begin();
        notes.take(0, 0, 60, 100, i);
        ear.process(hop, { event: (t) => all.push(t) });
      }
      return all;
    };
    expect(told(3, 1)).toEqual([1, 4, 7]);
    expect(told(1, 0)).toEqual([0, 1, 2, 3, 4, 5, 6, 7, 8]);
    expect(told(1024, 8)).toEqual([8]);
  });
});
