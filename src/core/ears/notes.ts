import type { Hop } from '../audio/hop';
import { CHANNELS, TRACKS, type NoteState } from '../notes/noteState';
import type { Seconds } from '../units';
import type { EarRunner, EventSink } from './runner';
import type { Listening } from './listening';

/** Notes of an input, of chosen tracks and channels or all: their beginnings, or the last one's velocity or pitch, or how many sound. */
export class NotesEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0;
  readonly #notes: NoteState | null;
  readonly #reading: Extract<Listening, { kind: 'notes' }>['reading'];
  /** 1 for each lane that is listened to. */
  readonly #wanted = new Uint8Array(TRACKS * CHANNELS);

  constructor({ channels, tracks, reading }: Extract<Listening, { kind: 'notes' }>, notes: NoteState | null) {
    this.#notes = notes;
    this.#reading = reading;
    for (let t = 0; t < TRACKS; t++)
      for (let c = 0; c < CHANNELS; c++)
        this.#wanted[t * CHANNELS + c] =
          (tracks.length === 0 || tracks.includes(t + 1)) &&
          (channels.length === 0 || channels.includes(c + 1))
            ? 1
            : 0;
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
}
