import type { Hop } from '../audio/hop';
import { CHANNELS, TRACKS, type NoteState } from '../notes/noteState';
import type { Seconds } from '../units';
import type { EarRunner, EventSink } from './runner';
import { CHORD_MOST, keysOf, type Listening } from './listening';

type Notes = Extract<Listening, { kind: 'notes' }>;

/** 1 for each lane (`track × 16 + channel`) that is listened to. */
function wantedLanes({ channels, tracks }: Notes): Uint8Array {
  const wanted = new Uint8Array(TRACKS * CHANNELS);
  for (let t = 0; t < TRACKS; t++)
    for (let c = 0; c < CHANNELS; c++)
      if (
        (tracks.length === 0 || tracks.includes(t + 1)) &&
        (channels.length === 0 || channels.includes(c + 1))
      )
        wanted[t * CHANNELS + c] = 1;
  return wanted;
}

/**
 * Notes of an input, of chosen tracks and channels or all: their beginnings, a note's or a chord's, or the last one's velocity or
 * pitch, or how many sound.
 */
export class NotesEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0;
  readonly #notes: NoteState | null;
  readonly #reading: Notes['reading'];
  readonly #wanted: Uint8Array;
  readonly #chord: Int32Array;
  #complete = false;

  constructor(listening: Notes, notes: NoteState | null) {
    this.#notes = notes;
    this.#reading = listening.reading;
    this.#wanted = wantedLanes(listening);
    this.#chord = Int32Array.from((listening.keys ?? []).slice(0, CHORD_MOST));
  }

  process(_: Hop, events: EventSink): void {
    const n = this.#notes,
      wanted = this.#wanted;
    if (!n) {
      this.value = 0;
      return;
    }
    if (this.#reading === 'held') {
      let held = 0;
      for (let lane = 0; lane < wanted.length; lane++) if (wanted[lane]) held += n.held[lane]!;
      this.value = held;
      return;
    }
    if (this.#reading === 'chord') {
      this.#hearChord(n, events);
      return;
    }
    if (this.#reading === 'on') this.value = 0;
    for (let i = 0; i < n.begun; i++) {
      if (!wanted[n.begunLane[i]!]) continue;
      const velocity = n.begunVelocity[i]!;
      if (this.#reading === 'on') {
        if (velocity > this.value) this.value = velocity;
        events.event(n.begunTime[i]!, velocity);
      } else this.value = this.#reading === 'pitch' ? n.begunKey[i]! : velocity;
    }
  }

  /** An event when the last key of a chord joins the others; of a single key, each time that it is struck. As strong as its loudest. */
  #hearChord(n: NoteState, events: EventSink): void {
    const chord = this.#chord;
    this.value = 0;
    let sounding = 0,
      struck = 0,
      time = 0,
      loudest = 0;
    for (let k = 0; k < chord.length; k++) {
      if (this.#sounds(n, chord[k]!)) sounding++;
      let now = 0;
      for (let i = 0; i < n.begun; i++) {
        if (n.begunKey[i] !== chord[k] || !this.#wanted[n.begunLane[i]!]) continue;
        now = 1;
        if (n.begunTime[i]! > time) time = n.begunTime[i]!;
        if (n.begunVelocity[i]! > loudest) loudest = n.begunVelocity[i]!;
      }
      struck += now;
    }
    const all = chord.length > 0 && sounding === chord.length;
    // Let go and struck again between two looks, it is a new one all the same.
    if (struck > 0 && ((all && !this.#complete) || struck === chord.length)) {
      this.value = loudest;
      events.event(time, loudest);
    }
    this.#complete = all;
  }
  #sounds(n: NoteState, key: number): boolean {
    for (let lane = 0; lane < this.#wanted.length; lane++)
      if (this.#wanted[lane] && n.held[lane]! > 0 && n.velocity[lane * 128 + key]! > 0) return true;
    return false;
  }
}

/** Which keys sound, and how hard each was struck: a row of velocities, 0 to 1, from the lowest key to the highest. */
export class KeysEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0;
  readonly vector: Float32Array;
  readonly #notes: NoteState | null;
  readonly #wanted: Uint8Array;
  readonly #low: number;

  constructor(listening: Notes, notes: NoteState | null) {
    const { low, high } = keysOf(listening);
    this.#notes = notes;
    this.#wanted = wantedLanes(listening);
    this.#low = low;
    this.vector = new Float32Array(high - low + 1);
  }

  process(): void {
    const n = this.#notes,
      { vector } = this;
    vector.fill(0);
    this.value = 0;
    if (!n) return;
    for (let lane = 0; lane < this.#wanted.length; lane++) {
      if (!this.#wanted[lane] || n.held[lane] === 0) continue;
      for (let k = 0; k < vector.length; k++) this.#show(k, n.velocity[lane * 128 + this.#low + k]! / 127);
    }
    // A note that was over before anybody looked is seen once.
    for (let i = 0; i < n.begun; i++)
      if (this.#wanted[n.begunLane[i]!]) this.#show(n.begunKey[i]! - this.#low, n.begunVelocity[i]!);
  }
  #show(k: number, velocity: number): void {
    if (!(k >= 0 && k < this.vector.length) || velocity <= this.vector[k]!) return;
    this.vector[k] = velocity;
    if (velocity > this.value) this.value = velocity;
  }
}
