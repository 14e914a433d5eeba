import type { Hop } from '../audio/hop';
import type { Hearing } from '../hearing/hearing';
import { type StructureListener, TURNS } from '../hearing/structureListener';
import type { Seconds } from '../units';
import type { Listening } from './listening';
import type { EarRunner, EarSources, EventSink } from './runner';

/** The course of a piece: what happens in it, how far a build has come, and where in a phrase of bars it is. */
export class StructureEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #hearing: Hearing;
  readonly #listener: StructureListener;
  readonly #listening: Extract<Listening, { kind: 'structure' }>;
  readonly #turn: number;
  #phrases = 0;

  constructor(listening: Extract<Listening, { kind: 'structure' }>, { hearing, clock }: EarSources) {
    this.#hearing = hearing;
    this.#listener = hearing.structure;
    this.#listener.pace ??= clock ?? null;
    this.#listening = listening;
    this.#turn = (TURNS as readonly string[]).indexOf(listening.reading);
    this.delay = this.#turn < 0 ? 0 : listening.reading === 'drop' ? 0.15 : 0.5;
  }

  process(hop: Hop, events: EventSink): void {
    const { reading, bars } = this.#listening,
      listener = this.#listener,
      end = hop.time + hop.frames / this.#hearing.sampleRate;
    if (this.#turn >= 0) {
      this.value = listener.told[this.#turn] ? listener.sure[this.#turn]! : 0;
      if (this.value > 0) events.event(Math.max(0, end - listener.ago[this.#turn]!), this.value);
      return;
    }
    switch (reading) {
      case 'progress':
        this.value = listener.progress;
        return;
      case 'phrasePlace': {
        const { grid, pace } = listener;
        this.value = grid.bar < 0 ? 0 : ((grid.barOf(bars) + (pace?.bar ?? 0)) / bars) % 1;
        return;
      }
      case 'phrase':
        this.value = 0;
        if (!listener.barBegins || listener.grid.barOf(bars) !== 0) return;
        this.value = 1;
        events.event(Math.max(0, end - listener.barAgo), 1, this.#phrases++);
    }
  }
}
