import { writeMidi } from 'midi-file';
import { SAMPLE_RATE, type Seconds } from '../units';
import { ACTS, BAR, BARS, BEAT, FERRY_BPM, ferryScore, LENGTH, type Instrument } from './score';
import { renderStem, renderVoice } from './synth';

export { FERRY_BPM } from './score';
export { FERRY_BADGE } from './badge';

export const STEM_NAMES = {
  lowDrum: 'low drum',
  snareDrum: 'snare drum',
  shaker: 'shaker',
  bell: 'bell',
} as const satisfies Record<Instrument, string>;

/** What is truly in the sound, for tests and reports. */
export interface Truth {
  readonly sampleRate: number;
  readonly frames: number;
  readonly bpm: number;
  readonly beatsPerBar: number;
  readonly beats: readonly Seconds[];
  /** Onset and velocity of each stroke. */
  readonly hits: Readonly<Record<Instrument, readonly (readonly [Seconds, number])[]>>;
  readonly speech: readonly (readonly [Seconds, Seconds])[];
  readonly acts: readonly { readonly name: string; readonly from: Seconds; readonly to: Seconds }[];
}

/** The bell's notes as a standard MIDI file: high cup D5, low cup G4, on channel 10's neighbour, so that nobody takes it for a drum kit. */
export function ferryTune(): Uint8Array {
  const perBeat = 480,
    tick = (frame: number): number => Math.round((frame / BEAT) * perBeat);
  const strokes = ferryScore().strokes.filter((s) => s.instrument === 'bell');
  const events = strokes
    .flatMap((s) => {
      const at = tick(s.frame),
        noteNumber = s.colour ? 74 : 67;
      return [
        {
          at,
          order: 1,
          event: {
            type: 'noteOn',
            velocity: Math.max(1, Math.round(s.velocity * 127)),
            noteNumber,
            channel: 0,
          } as const,
        },
        { at: at + 60, order: 0, event: { type: 'noteOff', velocity: 0, noteNumber, channel: 0 } as const },
      ];
    })
    .sort((a, b) => a.at - b.at || a.order - b.order);
  let before = 0;
  const notes = events.map(({ at, event }) => {
    const deltaTime = at - before;
    before = at;
    return { ...event, deltaTime };
  });
  const end = Math.max(0, tick(LENGTH) - before);
  return Uint8Array.from(
    writeMidi({
      header: { format: 0, numTracks: 1, ticksPerBeat: perBeat },
      tracks: [
        [
          { deltaTime: 0, meta: true, type: 'setTempo', microsecondsPerBeat: Math.round(60e6 / FERRY_BPM) },
          { deltaTime: 0, meta: true, type: 'trackName', text: 'Bell' },
          ...notes,
          { deltaTime: end, meta: true, type: 'endOfTrack' },
        ],
      ],
    }),
  );
}

export interface FerrySound {
  readonly stems: Readonly<Record<Instrument | 'voice', Float32Array>>;
  readonly truth: Truth;
}

/** Renders the whole scenario: about a second of work for each ten of sound. */
export function renderFerry(): FerrySound {
  const score = ferryScore();
  const stem = (instrument: Instrument): Float32Array => renderStem(score.strokes, instrument, LENGTH);
  const hits = (instrument: Instrument): [Seconds, number][] =>
    score.strokes.filter((s) => s.instrument === instrument).map((s) => [s.frame / SAMPLE_RATE, s.velocity]);
  return {
    stems: {
      lowDrum: stem('lowDrum'),
      snareDrum: stem('snareDrum'),
      shaker: stem('shaker'),
      bell: stem('bell'),
      voice: renderVoice(score.syllables, LENGTH),
    },
    truth: {
      sampleRate: SAMPLE_RATE,
      frames: LENGTH,
      bpm: FERRY_BPM,
      beatsPerBar: 4,
      beats: Array.from({ length: BARS * 4 }, (_, i) => (i * BEAT) / SAMPLE_RATE),
      hits: {
        lowDrum: hits('lowDrum'),
        snareDrum: hits('snareDrum'),
        shaker: hits('shaker'),
        bell: hits('bell'),
      },
      speech: score.speech,
      acts: ACTS.map(({ name, from, to }) => ({
        name,
        from: (from * BAR) / SAMPLE_RATE,
        to: (to * BAR) / SAMPLE_RATE,
      })),
    },
  };
}
