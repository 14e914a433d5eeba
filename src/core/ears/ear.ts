import type { BeatClock } from '../beat/beatClock';
import type { Hop } from '../audio/hop';
import type { Hearing } from '../hearing/hearing';
import type { NoteState } from '../notes/noteState';
import type { Seconds } from '../units';
import { BandEar, StrongestEar } from './band';
import { BandSetEar } from './bandSetEar';
import { BeatEar } from './beat';
import { BrightnessEar } from './brightness';
import { HitEar } from './hit';
import { LevelEar } from './level';
import type { Listening } from './listening';
import { LoudnessEar, TruePeakEar } from './loudness';
import { NotesEar } from './notes';
import { PitchEar } from './pitch';
import { PresenceEar } from './presence';
import { StrokeEar } from './stroke';
import { VectorEar } from './vector';

export * from './listening';

/** Receives the hits of one hop. Times are when the sound happened, not when it was known. */
export interface EventSink {
  event(time: Seconds, strength: number): void;
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

/** Makes an ear. Its hearing must be processed before it, hop by hop. Set-up only. */
export function makeEarRunner(listening: Listening, sources: EarSources): EarRunner {
  const { hearing } = sources;
  switch (listening.kind) {
    case 'level':
      switch (listening.reading) {
        case 'peak':
        case 'rms':
          return new LevelEar(listening.reading, hearing.sampleRate);
        case 'truePeak':
          return new TruePeakEar(hearing);
        default:
          return new LoudnessEar(listening.reading, hearing);
      }
    case 'band':
      return listening.reading === 'energy'
        ? new BandEar(listening, hearing)
        : new StrongestEar(listening, hearing);
    case 'bands':
      return new BandSetEar(listening, hearing);
    case 'hit':
      return listening.what === 'range' ? new HitEar(listening, hearing) : new StrokeEar(listening, hearing);
    case 'pitch':
      return new PitchEar(listening.reading, hearing);
    case 'brightness':
      return new BrightnessEar(hearing);
    case 'presence':
      return new PresenceEar(listening.what, hearing);
    case 'beat':
      return new BeatEar(listening, sources.clock ?? null);
    case 'vector':
      return new VectorEar(listening, hearing);
    case 'notes':
      return new NotesEar(listening, sources.notes ?? null);
  }
}
