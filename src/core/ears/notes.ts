import type { Hop } from '../audio/hop';
import type { NoteState } from '../notes/noteState';
import type { Seconds } from '../units';
import type { EarRunner, EventSink } from './ear';
import type { Listening } from './listening';

/** Notes of an input, of chosen channels or all: their beginnings, or the last one's velocity or pitch, or how many sound. */
export class NotesEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0;
  readonly #notes: NoteState | null;
  readonly #reading: Extract<Listening, { kind: 'notes' }>['reading'];
  /** One bit a channel. */
  readonly #mask: number;

  constructor({ channels, reading }: Extract<Listening, { kind: 'notes' }>, notes: NoteState | null) {
    this.#notes = notes;
    this.#reading = reading;
    this.#mask = channels.length ? channels.reduce((m, c) => m | (1 << (c - 1)), 0) : 0xffff;
  }

  process(_: Hop, events: EventSink): void {
    const n = this.#notes;
    if (!n) { this.value = 0; return; }
    if (this.#reading === 'held') {
      let held = 0;
      for (let c = 0; c < 16; c++) if (this.#mask & (1 << c)) held += n.held[c]!;
      this.value = held;
      return;
    }
    if (this.#reading === 'on') this.value = 0;
    for (let i = 0; i < n.begun; i++) {
      const c = n.begunChannel[i]!;
      if (!(this.#mask & (1 << c))) continue;
      if (this.#reading === 'on') {
        const velocity = n.begunVelocity[i]!;
        if (velocity > this.value) this.value = velocity;
        events.event(n.begunTime[i]!, velocity);
      } else this.value = this.#reading === 'pitch' ? n.key[c]! : n.velocity[c]!;
    }
  }
}
