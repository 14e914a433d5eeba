import type { Hop } from '../audio/hop';
import type { Hearing } from '../hearing/hearing';
import type { NoteListener } from '../hearing/noteListener';
import type { Seconds } from '../units';
import type { EarRunner, EventSink } from './runner';

/** The reference lies at the loudest of late: a note so far below it has a tenth of its strength. */
const SOFT_DB = 20;

/** Beginnings of notes, whether they are struck or only change their pitch; or the number of the note that began last. */
export class NoteBeginsEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0.05;
  readonly #hearing: Hearing;
  readonly #notes: NoteListener;
  readonly #events: boolean;

  constructor(reading: 'event' | 'note', hearing: Hearing) {
    this.#hearing = hearing;
    this.#notes = hearing.noteBegins;
    this.#events = reading === 'event';
  }

  process(hop: Hop, events: EventSink): void {
    const { begun, ago, note } = this.#notes;
    if (!this.#events) {
      this.value = note;
      return;
    }
    this.value = 0;
    if (!begun) return;
    const { level, reference } = this.#hearing.frame,
      strength = 10 ** ((level - reference) / SOFT_DB);
    this.value = strength > 1 ? 1 : strength > 0.05 ? strength : 0.05;
    events.event(Math.max(0, hop.time + hop.frames / this.#hearing.sampleRate - ago), this.value);
  }
}
