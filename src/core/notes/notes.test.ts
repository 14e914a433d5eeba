import { describe, expect, it } from '@jest/globals';
import { writeMidi } from 'midi-file';
import { makeHop } from '../audio/hop';
import { makeEarRunner } from '../ears/ear';
import { Hearing } from '../hearing/hearing';
import { HOP, SAMPLE_RATE } from '../units';
import { keyName, keyOfName } from './keys';
import { MidiFileError, readMidiFile } from './midiFile';
import { NotePlayer, type FlatTune } from './notePlayer';
import { NoteState } from './noteState';

describe('a standard MIDI file', () => {
  const file = (): Uint8Array =>
    Uint8Array.from(
      writeMidi({
        header: { format: 1, numTracks: 2, ticksPerBeat: 480 },
        tracks: [
          [
            { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: 500000 },
            { deltaTime: 960, meta: true, type: 'setTempo', microsecondsPerBeat: 1000000 },
            { deltaTime: 0, meta: true, type: 'endOfTrack' },
          ],
          [
            { deltaTime: 0, meta: true, type: 'trackName', text: 'Bell' },
            { deltaTime: 480, channel: 2, type: 'noteOn', noteNumber: 74, velocity: 100 },
            { deltaTime: 480, channel: 2, type: 'noteOff', noteNumber: 74, velocity: 0 },
            { deltaTime: 480, channel: 2, type: 'noteOn', noteNumber: 67, velocity: 64 },
            { deltaTime: 240, channel: 2, type: 'noteOn', noteNumber: 67, velocity: 0 },
            { deltaTime: 0, meta: true, type: 'endOfTrack' },
          ],
        ],
      }),
    );
  it('gives its notes in seconds, tempo changes of another track included', () => {
    const tune = readMidiFile(file());
    // Two beats at 0.5 s, then a second a beat.
    expect(tune.notes).toEqual(
      [
        [0.5, 74, 100],
        [1, 74, 0],
        [2, 67, 64],
        [2.5, 67, 0],
      ].map(([time, key, velocity]) => ({ time, track: 1, channel: 2, key, velocity })),
    );
    expect(tune).toMatchObject({
      seconds: 2.5,
      bpm: 120,
      lanes: [{ track: 2, channel: 3, name: 'Bell', count: 2 }],
    });
  });
  it.each([
    ['empty', new Uint8Array()],
    ['foreign', Uint8Array.from([1, 2, 3, 4, 5, 6, 7, 8])],
    ['cut short', file().subarray(0, 40)],
  ])('that is %s is refused in words', (_, bytes) => {
    expect(() => readMidiFile(bytes)).toThrow(MidiFileError);
  });
  it('without notes is refused', () => {
    const silent = Uint8Array.from(
      writeMidi({
        header: { format: 0, numTracks: 1, ticksPerBeat: 96 },
        tracks: [[{ deltaTime: 0, meta: true, type: 'endOfTrack' }]],
      }),
    );
    expect(() => readMidiFile(silent)).toThrow('no notes');
  });
});

const tune: FlatTune = {
  times: Float64Array.of(0, 0.25, 0.5, 0.9),
  notes: Uint8Array.of(0, 0, 60, 100, 0, 0, 60, 0, 0, 1, 64, 50, 0, 0, 72, 127),
  seconds: 1,
  loop: true,
};
/** Plays hops from a position on, and lists what began. */
function play(
  player: NotePlayer,
  state: NoteState,
  from: number,
  hops: number,
  playing = true,
): [number, number, number][] {
  const out: [number, number, number][] = [],
    hop = HOP / SAMPLE_RATE;
  for (let k = 0; k < hops; k++) {
    state.begin();
    player.play(from + k * hop, hop, playing, 100 + k * hop, state);
    for (let i = 0; i < state.begun; i++)
      out.push([
        state.begunLane[i]!,
        +(state.begunTime[i]! - 100).toFixed(4),
        +(state.begunVelocity[i]! * 127).toFixed(0),
      ]);
  }
  return out;
}

describe('a tune that plays', () => {
  it('begins each note once, at its own time, lap after lap', () => {
    expect(play(new NotePlayer(tune), new NoteState(), 0, Math.round((2 * SAMPLE_RATE) / HOP))).toEqual([
      [0, 0, 100],
      [1, 0.5, 50],
      [0, 0.9, 127],
      [0, 1, 100],
      [1, 1.5, 50],
      [0, 1.9, 127],
    ]);
  });
  it('leaves nothing hanging after a leap or a pause, and goes on where it is', () => {
    const player = new NotePlayer(tune),
      state = new NoteState();
    play(player, state, 0, 3);
    expect(state.held[0]).toBe(1);
    expect(play(player, state, 0.45, 12)).toEqual([[1, 0.05, 50]]);
    expect(state.held[0]).toBe(0);
    play(player, state, 0.52, 1, false);
    expect([...state.held].every((n) => n === 0)).toBe(true);
  });
});

describe('notes as signals', () => {
  it('each note an event with its velocity; pitch and velocity stand; and how many sound', () => {
    const notes = new NoteState(),
      hearing = new Hearing(SAMPLE_RATE, HOP),
      hop = makeHop(HOP);
    const ear = (
      reading: 'on' | 'velocity' | 'pitch' | 'held',
      channels: number[] = [],
      tracks: number[] = [],
    ) => makeEarRunner({ kind: 'notes', channels, tracks, reading }, { hearing, notes });
    const on = ear('on'),
      pitch = ear('pitch'),
      held = ear('held'),
      second = ear('on', [2]),
      third = ear('pitch', [], [4]),
      events: [number, number][] = [];
    const tick = (): void => {
      for (const e of [on, pitch, held, second, third])
        e.process(hop, {
          event: (t, s) => {
            if (e !== second) events.push([t, +s.toFixed(3)]);
          },
        });
    };
    notes.begin();
    notes.take(0, 0, 60, 127, 1.5);
    notes.take(3, 0, 64, 64, 1.501);
    tick();
    expect(events).toEqual([
      [1.5, 1],
      [1.501, 0.504],
    ]);
    expect([pitch.value, held.value, second.value, third.value]).toEqual([64, 2, 0, 64]);
    notes.begin();
    notes.take(0, 0, 60, 0, 2);
    notes.take(0, 1, 50, 127, 2);
    tick();
    expect([on.value, pitch.value, held.value, second.value]).toEqual([1, 50, 2, 1]);
    notes.begin();
    tick();
    expect([on.value, second.value, pitch.value, third.value]).toEqual([0, 0, 50, 64]);
  });
  it('a row of velocities by key, of chosen tracks; a note too short to be seen is seen once', () => {
    const notes = new NoteState(),
      hearing = new Hearing(SAMPLE_RATE, HOP),
      hop = makeHop(HOP);
    const row = (tracks: number[]) =>
      makeEarRunner(
        { kind: 'notes', channels: [], tracks, reading: 'keys', low: 60, high: 64 },
        { hearing, notes },
      );
    const all = row([]),
      second = row([2, 3]);
    const hear = (): number[][] =>
      [all, second].map((ear) => {
        ear.process(hop, { event: () => undefined });
        return [...ear.vector!].map((x) => Math.round(x * 127));
      });
    notes.begin();
    notes.take(0, 0, 60, 127, 1);
    notes.take(1, 5, 60, 40, 1);
    notes.take(2, 0, 64, 64, 1);
    notes.take(0, 0, 65, 90, 1);
    notes.take(0, 0, 62, 30, 1);
    notes.take(0, 0, 62, 0, 1.001);
    expect(hear()).toEqual([
      [127, 0, 30, 0, 64],
      [40, 0, 0, 0, 64],
    ]);
    notes.begin();
    notes.take(0, 0, 60, 0, 2);
    expect(hear()).toEqual([
      [40, 0, 0, 0, 64],
      [40, 0, 0, 0, 64],
    ]);
  });
  it('a chord is an event when its last key joins, a single key whenever it is struck', () => {
    const notes = new NoteState(),
      hearing = new Hearing(SAMPLE_RATE, HOP),
      hop = makeHop(HOP),
      told: string[] = [];
    const waits = (name: string, keys: number[]) => {
      const ear = makeEarRunner(
        { kind: 'notes', channels: [], tracks: [], reading: 'chord', keys },
        { hearing, notes },
      );
      return (): void =>
        ear.process(hop, { event: (t, s) => told.push(`${name} ${t} ${Math.round(s * 127)}`) });
    };
    const ears = [waits('chord', [60, 64, 67]), waits('key', [64])];
    const tick = (...played: [key: number, velocity: number, time: number][]): void => {
      notes.begin();
      for (const [key, velocity, time] of played) notes.take(0, 0, key, velocity, time);
      for (const ear of ears) ear();
    };
    tick([60, 80, 1], [64, 90, 1]);
    tick();
    tick([67, 100, 2]);
    tick([64, 70, 3]);
    tick([64, 0, 4]);
    tick([64, 50, 5]);
    expect(told).toEqual(['key 1 90', 'chord 2 100', 'key 3 70', 'chord 5 50', 'key 5 50']);
    told.length = 0;
    tick([60, 0, 6], [64, 0, 6], [67, 0, 6], [60, 10, 6], [64, 20, 6], [67, 30, 6.001]);
    expect(told).toEqual(['chord 6.001 30', 'key 6 20']);
  });
  it('keys have names, and are known by them', () => {
    expect([60, 69, 21, 108, 70].map(keyName)).toEqual(['C4', 'A4', 'A0', 'C8', 'B♭4']);
    for (let key = 0; key < 128; key++) expect(keyOfName(keyName(key))).toBe(key);
    expect(['c4', ' F#3', 'Bb2', '60', 'H1', 'C', '128', ''].map(keyOfName)).toEqual([
      60,
      54,
      46,
      60,
      null,
      null,
      null,
      null,
    ]);
  });
});
