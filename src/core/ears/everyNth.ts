import type { Hop } from '../audio/hop';
import { isNth, type Nth } from '../nth';
import type { Seconds } from '../units';
import type { EarRunner, EventSink } from './runner';

/** An ear of which only every so many events count. */
export class EveryNth implements EarRunner, EventSink {
  readonly delay: Seconds;
  readonly #ear: EarRunner;
  readonly #nth: Nth;
  #count = 0;
  #into: EventSink | null = null;

  constructor(ear: EarRunner, nth: Nth) {
    this.#ear = ear;
    this.#nth = nth;
    this.delay = ear.delay;
  }

  get value(): number {
    return this.#ear.value;
  }
  process(hop: Hop, events: EventSink): void {
    this.#into = events;
    this.#ear.process(hop, this);
  }
  /** @param number - where what is heard has a number of its own, as a beat has */
  event(time: Seconds, strength: number, number?: number): void {
    const n = number ?? this.#count;
    this.#count++;
    if (isNth(n, this.#nth)) this.#into!.event(time, strength, (n - this.#nth.from) / this.#nth.every);
  }
}
