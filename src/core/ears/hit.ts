import type { Hop } from '../audio/hop';
import { onePole, powerToDb, type Hz, type Seconds } from '../units';
import type { Hearing } from '../hearing/hearing';
import { RangePower } from './band';
import type { EarRunner, EventSink } from './runner';
import type { Listening } from './listening';

/** Quieter than this nothing is a hit, however steeply it rises. */
const GATE_DB = -62;
/** A hit this far below the recent loudest is taken for its ring or its neighbour's spill. */
const BELOW_LOUDEST_DB = 26;
/** Nothing is a hit before the background has been heard for so long. */
const WARM_UP: Seconds = 0.08;
/** A rise that is still climbing is followed for so long, so that the strength is that of the hit and not of its foot. */
const CLIMB: Seconds = 0.016;
/** A hit also stands above the crest of what came just before: in noise a dip ends with a leap, but only back to the crest. */
const CREST_FALL_DB_PER_S = 100;
const ABOVE_CREST_DB = 4;
/** Steps (13 ms) by which the crest lags, so that a hit's own foot is not part of it. */
const CREST_LAG = 10;

/**
 * Hits in a range: the energy in dB leaps above a background that follows it.
 *
 * The background rises with 50 ms and falls with 65 ms, so that a roll still has separate hits and a swell has none.
 * Strength is the amplitude of the leap's top relative to the loudest hits of the last seconds: 1 is as loud as those.
 */
export class HitEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #range: RangePower;
  readonly #rate: Hz;
  readonly #leap: number;
  #heard: Seconds = 0;
  #background = NaN;
  #crest = NaN;
  readonly #recent = new Float64Array(CREST_LAG).fill(NaN);
  #recentAt = 0;
  #loudest = GATE_DB + BELOW_LOUDEST_DB;
  #since: Seconds = Infinity;
  #armed = true;
  #climbing: Seconds = -1;
  #start: Seconds = 0;
  #top = 0;

  readonly #holdOff: Seconds;

  /** `sensitivity` from 0 to 1: a leap of 11 down to 3 dB counts */
  constructor({ low, high, sensitivity, holdOffMs }: Extract<Listening, { kind: 'hit' }>, hearing: Hearing) {
    this.#range = new RangePower(low, high, hearing);
    this.#rate = hearing.sampleRate;
    this.#holdOff = holdOffMs / 1000;
    this.#leap = 11 - 8 * Math.min(1, Math.max(0, sensitivity));
    this.delay = this.#range.delay;
  }

  process(hop: Hop, events: EventSink): void {
    const steps = this.#range.process(hop);
    this.value = 0;
    for (let i = 0; i < steps; i++) {
      const at = i * this.#range.stepFrames;
      const dt = Math.min(this.#range.stepFrames, hop.frames - at) / this.#rate;
      this.#step(powerToDb(this.#range.power[i]!), dt, hop.time + at / this.#rate, events);
    }
  }

  #step(e: number, dt: Seconds, time: Seconds, events: EventSink): void {
    this.#heard += dt;
    this.#since += dt;
    if (Number.isNaN(this.#background)) this.#background = e;
    const above = e - this.#background;
    // At first the background goes straight to what is there: a sound that is already on is not a hit.
    this.#background +=
      above * (this.#heard < WARM_UP ? (above > 0 ? 1 : 0.1) : onePole(dt, above > 0 ? 0.05 : 0.065));
    this.#loudest = Math.max(GATE_DB + BELOW_LOUDEST_DB, this.#loudest - 1.5 * dt);
    const crest = this.#crest;
    const past = this.#recent[this.#recentAt]!;
    this.#recent[this.#recentAt] = e;
    this.#recentAt = (this.#recentAt + 1) % CREST_LAG;
    if (!Number.isNaN(past))
      this.#crest = Number.isNaN(crest) ? past : Math.max(past, crest - CREST_FALL_DB_PER_S * dt);
    if (above < this.#leap / 2) this.#armed = true;

    if (this.#climbing >= 0) {
      this.#climbing += dt;
      const still = e > this.#top + 0.5;
      this.#top = Math.max(this.#top, e);
      if (!still || this.#climbing >= CLIMB) this.#finish(events);
      return;
    }
    if (this.#heard < WARM_UP || !this.#armed || this.#since < this.#holdOff) return;
    if (
      above > this.#leap &&
      e > crest + ABOVE_CREST_DB &&
      e > GATE_DB &&
      e > this.#loudest - BELOW_LOUDEST_DB
    ) {
      this.#armed = false;
      this.#since = 0;
      this.#climbing = 0;
      this.#top = e;
      // The range is late by its filter's delay, but never so late that a hit precedes what came before it.
      this.#start = Math.max(0, time - this.delay);
    }
  }

  #finish(events: EventSink): void {
    this.#climbing = -1;
    this.#loudest = Math.max(this.#loudest, this.#top);
    const strength = Math.min(1, Math.max(0.05, 10 ** ((this.#top - this.#loudest) / 20)));
    this.value = Math.max(this.value, strength);
    events.event(this.#start, strength);
  }
}
