import type { BeatClock } from '../beat/beatClock';
import type { Hop } from '../audio/hop';
import { SAMPLE_RATE, type Seconds } from '../units';
import type { EarRunner, EventSink } from './runner';
import type { Listening } from './listening';

/** Beats, bars and their phases, of the show's tempo or a multiple of it. */
export class BeatEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0;
  readonly #clock: BeatClock | null;
  readonly #reading: Extract<Listening, { kind: 'beat' }>['reading'];
  readonly #multiple: number;
  readonly #lead: Seconds;
  #before = NaN;

  constructor(
    { reading, multiple, leadMs = 0 }: Extract<Listening, { kind: 'beat' }>,
    clock: BeatClock | null,
  ) {
    this.#clock = clock;
    this.#reading = reading;
    this.#multiple = multiple;
    this.#lead = leadMs / 1000;
  }

  process(hop: Hop, events: EventSink): void {
    const c = this.#clock;
    if (!c || c.bpm <= 0) {
      this.value = 0;
      return;
    }
    // A beat goes on evenly: where it will be is known.
    const ahead = (this.#lead * c.bpm) / 60,
      beat = (c.beat + ahead) * this.#multiple;
    switch (this.#reading) {
      case 'phase':
        this.value = beat - Math.floor(beat);
        return;
      case 'barPhase':
        this.value = (c.bar + ahead / c.beatsPerBar) % 1;
        return;
      case 'tempo':
        this.value = c.bpm * this.#multiple;
        return;
      case 'confidence':
        this.value = c.confidence;
        return;
      case 'bar':
        this.value = 0;
        if (ahead > 0) this.#ledBar(c, (c.fromBar + ahead) / c.beatsPerBar, hop, events);
        else if (c.isBar)
          this.#fire(hop, events, c.beatAgo, Math.round(Math.floor(c.fromBar) / c.beatsPerBar));
        return;
      case 'beat': {
        const before = this.#before;
        this.#before = beat;
        this.value = 0;
        // Nothing fires because a show was opened, or leapt.
        if (Math.floor(beat) === Math.floor(before) + 1)
          this.#fire(
            hop,
            events,
            ((beat - Math.floor(beat)) * 60) / (c.bpm * this.#multiple),
            Math.floor((c.fromBar + ahead) * this.#multiple + 1e-6),
          );
      }
    }
  }
  #ledBar(c: BeatClock, bars: number, hop: Hop, events: EventSink): void {
    const before = this.#before,
      whole = Math.floor(bars);
    this.#before = bars;
    if (whole === Math.floor(before) + 1)
      this.#fire(hop, events, ((bars - whole) * c.beatsPerBar * 60) / c.bpm, whole);
  }
  #fire(hop: Hop, events: EventSink, ago: Seconds, number: number): void {
    this.value = 1;
    events.event(hop.time + hop.frames / SAMPLE_RATE - ago, 1, number);
  }
}
