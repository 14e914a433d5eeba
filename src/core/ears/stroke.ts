import type { Hop } from '../audio/hop';
import type { Hearing } from '../hearing/hearing';
import { STROKES, strokeLag, StrokeTrigger, strokeThreshold } from '../hearing/hitListener';
import type { Seconds } from '../units';
import type { EarRunner, EventSink } from './runner';
import type { Listening } from './listening';

/** Strokes known by their sound: kick, snare, hat, or any at all. */
export class StrokeEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #hearing: Hearing;
  readonly #trigger: StrokeTrigger;
  readonly #index: number;

  constructor(listening: Extract<Listening, { kind: 'hit' }>, hearing: Hearing) {
    const stroke = listening.what === 'range' ? 'any' : listening.what;
    this.#hearing = hearing;
    void hearing.hits; // makes the stage
    this.#trigger = new StrokeTrigger(
      stroke,
      strokeThreshold(stroke, listening.sensitivity),
      listening.holdOffMs / 1000,
    );
    this.#index = STROKES.indexOf(stroke);
    this.delay = strokeLag(stroke);
  }

  process(hop: Hop, events: EventSink): void {
    const { hits, frame, sampleRate } = this.#hearing;
    this.value = 0;
    if (!this.#trigger.step(hits.probability[this.#index]!, hop.frames / sampleRate)) return;
    this.value = hits.strength(frame, this.#trigger.stroke);
    events.event(Math.max(0, hop.time + hop.frames / sampleRate - hits.ago[this.#index]!), this.value);
  }
}
