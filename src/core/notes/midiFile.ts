import { parseMidi } from 'midi-file';
import { CHANNELS, type NoteEvent } from './noteState';
import type { Seconds } from '../units';

/** A standard MIDI file's notes in seconds, with the tempo changes of all its tracks taken into account. */
export interface Tune {
  /** By time; ends (velocity 0) before beginnings where both fall together. */
  readonly notes: readonly NoteEvent[];
  readonly seconds: Seconds;
  readonly tracks: number;
  /** Tracks and channels (both from 1) that play, with the track's name. */
  readonly lanes: readonly {
    readonly track: number;
    readonly channel: number;
    readonly name: string;
    readonly count: number;
  }[];
  /** Beats a minute at the start. */
  readonly bpm: number;
}

/** The file cannot be used; the message is for the person who dropped it. */
export class MidiFileError extends Error {
  override readonly name = 'MidiFileError';
}

/** Longer and larger files are refused: nobody performs them, and they would hold up everything else. */
const MOST_NOTES = 500_000;

/** @param bytes - the file; untrusted @throws MidiFileError when nothing can be played from it */
export function readMidiFile(bytes: Uint8Array): Tune {
  let midi: ReturnType<typeof parseMidi>;
  try {
    midi = parseMidi(bytes);
  } catch (cause) {
    throw new MidiFileError('This is not a standard MIDI file, or it is damaged.', { cause });
  }
  const { header, tracks } = midi;
  const perBeat = header.ticksPerBeat ?? 0;
  // Either ticks to a beat, or frames a second and ticks to a frame (SMPTE).
  const fixed = perBeat ? 0 : 1 / ((header.framesPerSecond ?? 25) * (header.ticksPerFrame ?? 40));
  if (!perBeat && !(fixed > 0)) throw new MidiFileError('This MIDI file does not say how fast it goes.');
  const tempi: { tick: number; perTick: number }[] = [];
  for (const track of tracks) {
    let tick = 0;
    for (const e of track) {
      tick += e.deltaTime;
      if (e.type === 'setTempo' && perBeat)
        tempi.push({ tick, perTick: e.microsecondsPerBeat / 1e6 / perBeat });
    }
  }
  tempi.sort((a, b) => a.tick - b.tick);
  const first = perBeat ? 0.5 / perBeat : fixed;
  const starts: { tick: number; time: number; perTick: number }[] = [{ tick: 0, time: 0, perTick: first }];
  for (const { tick, perTick } of tempi) {
    const last = starts.at(-1)!;
    starts.push({ tick, time: last.time + (tick - last.tick) * last.perTick, perTick });
  }
  const seconds = (tick: number): number => {
    let k = starts.length - 1;
    while (k > 0 && starts[k]!.tick > tick) k--;
    const s = starts[k]!;
    return s.time + (tick - s.tick) * s.perTick;
  };

  const notes: NoteEvent[] = [],
    names = new Map<number, { name: string; count: number }>();
  let end = 0;
  for (const [n, track] of tracks.entries()) {
    let tick = 0,
      name = '';
    for (const e of track) {
      tick += e.deltaTime;
      end = Math.max(end, tick);
      if (e.type === 'trackName') name = e.text.trim().slice(0, 60);
      if (e.type !== 'noteOn' && e.type !== 'noteOff') continue;
      const velocity = e.type === 'noteOn' ? e.velocity : 0;
      if (velocity > 0) {
        const lane = n * CHANNELS + e.channel,
          known = names.get(lane);
        if (known) known.count++;
        else names.set(lane, { name: name || `track ${n + 1}`, count: 1 });
      }
      notes.push({ time: seconds(tick), track: n, channel: e.channel, key: e.noteNumber, velocity });
      if (notes.length > MOST_NOTES)
        throw new MidiFileError(`This MIDI file has more than ${MOST_NOTES} notes.`);
    }
  }
  if (names.size === 0) throw new MidiFileError('This MIDI file holds no notes.');
  notes.sort((a, b) => a.time - b.time || a.velocity - b.velocity);
  return {
    notes,
    seconds: seconds(end),
    tracks: tracks.length,
    bpm: perBeat
      ? 60 / (starts.find((s) => s.tick === 0 && s !== starts[0])?.perTick ?? first) / perBeat
      : 120,
    lanes: [...names]
      .sort(([a], [b]) => a - b)
      .map(([lane, { name, count }]) => ({
        track: Math.floor(lane / CHANNELS) + 1,
        channel: (lane % CHANNELS) + 1,
        name,
        count,
      })),
  };
}
