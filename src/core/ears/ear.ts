import { BandEar, StrongestEar } from './band';
import { BandSetEar } from './bandSetEar';
import { BeatEar } from './beat';
import { BrightnessEar } from './brightness';
import { EveryNth } from './everyNth';
import { HitEar } from './hit';
import { LevelEar } from './level';
import { type Listening, nthOf } from './listening';
import type { EarRunner, EarSources } from './runner';
import { LoudnessEar, TruePeakEar } from './loudness';
import { KeysEar, NotesEar } from './notes';
import { NoteBeginsEar } from './noteBegins';
import { PitchEar } from './pitch';
import { PresenceEar } from './presence';
import { StrokeEar } from './stroke';
import { StructureEar } from './structure';
import { VectorEar } from './vector';

export * from './listening';
export type { EarRunner, EarSources, EventSink } from './runner';

/** Makes an ear. Its hearing must be processed before it, hop by hop. Set-up only. */
export function makeEarRunner(listening: Listening, sources: EarSources): EarRunner {
  const ear = makeRunner(listening, sources),
    nth = nthOf(listening);
  return nth ? new EveryNth(ear, nth) : ear;
}
function makeRunner(listening: Listening, sources: EarSources): EarRunner {
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
    case 'noteBegins':
      return new NoteBeginsEar(listening.reading, hearing);
    case 'brightness':
      return new BrightnessEar(hearing);
    case 'presence':
      return new PresenceEar(listening.what, hearing);
    case 'beat':
      return new BeatEar(listening, sources.clock ?? null);
    case 'structure':
      return new StructureEar(listening, sources);
    case 'vector':
      return new VectorEar(listening, hearing);
    case 'notes':
      return listening.reading === 'keys'
        ? new KeysEar(listening, sources.notes ?? null)
        : new NotesEar(listening, sources.notes ?? null);
  }
}
