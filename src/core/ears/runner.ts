import type { Hop } from '../audio/hop';
import type { BeatClock } from '../beat/beatClock';
import type { Hearing } from '../hearing/hearing';
import type { NoteState } from '../notes/noteState';
import type { Seconds } from '../units';

/** Receives the hits of one hop. Times are when the sound happened, not when it was known. */
export interface EventSink {
  /** @param number - which one it is, where it has a number of its own, as a beat has; else it is counted */
  event(time: Seconds, strength: number, number?: number): void;
}

/** One ear at work on one input. Streaming and strictly causal; allocates nothing per hop. */
export interface EarRunner {
  /** Its number now; see `measureOf`. For events the strength of one in this hop, else 0. */
  readonly value: number;
  /** How long after the sound its value is half there. */
  readonly delay: Seconds;
  /** The row of numbers of a vector ear. The array stays the same. */
  readonly vector?: Float32Array;
  process(hop: Hop, events: EventSink): void;
}

/** What an ear may listen to, besides the sound of its hops. */
export interface EarSources {
  readonly hearing: Hearing;
  /** The show's tempo; absent where there is no show. */
  readonly clock?: BeatClock | undefined;
  /** Notes of the ear's input; absent where it gives none. */
  readonly notes?: NoteState | undefined;
}
