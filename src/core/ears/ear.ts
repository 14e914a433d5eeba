import type { Hop } from '../audio/hop';
import type { Hz, Seconds } from '../units';
import { BandEar } from './band';
import { HitEar } from './hit';
import { LevelEar } from './level';

/** What an ear listens for. Part of the show. */
export type Listening =
  | { readonly kind: 'level'; readonly reading: 'peak' | 'rms' }
  | { readonly kind: 'band'; readonly low: Hz; readonly high: Hz }
  | { readonly kind: 'hit'; readonly low: Hz; readonly high: Hz; /** 0 (only the strongest) to 1 (everything) */ readonly sensitivity: number };

/** Kind of a signal: a *level* is always there, an *event* happens. Neither silently becomes the other. */
export type SignalKind = 'level' | 'event';

/** Receives the hits of one hop. Times are when the sound happened, not when it was known. */
export interface EventSink {
  event(time: Seconds, strength: number): void;
}

/** One ear at work on one input. Streaming and strictly causal; allocates nothing per hop. */
export interface EarRunner {
  /** Linear amplitude for levels (1 = full scale); for hits the strength of a hit in this hop, else 0. */
  readonly value: number;
  /** How long after the sound its value is half there. */
  readonly delay: Seconds;
  process(hop: Hop, events: EventSink): void;
}

export function signalKindOf(listening: Listening): SignalKind {
  return listening.kind === 'hit' ? 'event' : 'level';
}

/**
 * What such a signal usually reads when it is loud. An automatic fit never raises a sound by more than 24 dB
 * beyond it, so that hiss is not blown up to a full movement.
 */
export function usualHigh(listening: Listening): number {
  switch (listening.kind) {
    case 'level': return 0.25;
    case 'band': return 0.08;
    case 'hit': return 1;
  }
}

export function makeEarRunner(listening: Listening, sampleRate: Hz): EarRunner {
  switch (listening.kind) {
    case 'level': return new LevelEar(listening.reading, sampleRate);
    case 'band': return new BandEar(listening.low, listening.high, sampleRate);
    case 'hit': return new HitEar(listening.low, listening.high, listening.sensitivity, sampleRate);
  }
}
