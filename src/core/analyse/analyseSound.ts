import { hopFrames, makeHop } from '../audio/hop';
import type { Pcm } from '../audio/wav';
import { bandOf, makeEarRunner, type EarRunner, type EventSink } from '../ears/ear';
import { Hearing } from '../hearing/hearing';
import { HOLD_OFF, STROKES, StrokeTrigger, strokeThreshold, type Stroke } from '../hearing/hitListener';
import { SPEECH_LAG } from '../hearing/speechListener';
import { gainToDb, type DbFs, type Hz, type Seconds } from '../units';

/** The three bands of a first look at a sound. */
export const THREE_BANDS = {
  low: [30, 250],
  mid: [250, 2500],
  high: [2500, 16000],
} as const satisfies Record<string, readonly [Hz, Hz]>;

export interface Analysis {
  readonly sampleRate: Hz;
  readonly duration: Seconds;
  /** Time, peak and RMS of each tenth of a second, in dBFS. */
  readonly level: readonly (readonly [Seconds, DbFs, DbFs])[];
  /** Time and RMS level of each band, in dBFS. */
  readonly bands: Readonly<Record<keyof typeof THREE_BANDS, readonly (readonly [Seconds, DbFs])[]>>;
  /** When each stroke sounded, when that was known, and how strong it was (0 to 1). */
  readonly hits: Readonly<Record<Stroke, readonly (readonly [Seconds, Seconds, number])[]>>;
  /** When each beat falls, and when it was announced. */
  readonly beats: readonly (readonly [Seconds, Seconds])[];
  /** Each second: time, beats a minute (0 before any was found), confidence. */
  readonly tempo: readonly (readonly [Seconds, number, number])[];
  /** Every 0.02 s: time, Hz (0 for none), confidence, as known at that time. */
  readonly pitch: readonly (readonly [Seconds, Hz, number])[];
  /** EBU R 128, in LUFS, LU and dBTP; the courses every 0.1 s, stamped at the end of their windows. */
  readonly loudness: {
    readonly integrated: number;
    readonly range: number;
    readonly truePeak: number;
    readonly momentary: readonly (readonly [Seconds, number])[];
    readonly shortTerm: readonly (readonly [Seconds, number])[];
  };
  /** When somebody speaks: from, to, and when the beginning was known. */
  readonly speech: readonly (readonly [Seconds, Seconds, Seconds])[];
}

const EVERY: Seconds = 0.1;
const PITCH_EVERY: Seconds = 0.02;
const NOBODY: EventSink = { event: () => undefined };

/** Gathers the hops of one reporting window: greatest peak, mean power. Stamped at the window's end. */
class Window {
  peak = 0;
  power = 0;
  hops = 0;
  add(x: number): void {
    if (x > this.peak) this.peak = x;
    this.power += x * x;
    this.hops++;
  }
  rms(): DbFs {
    return gainToDb(Math.sqrt(this.power / Math.max(1, this.hops)));
  }
  clear(): void {
    this.peak = this.power = this.hops = 0;
  }
}

/**
 * Runs the ears over a whole sound, hop by hop, exactly as the show does while it plays: strictly causal.
 * For the levels the last hop is filled up with silence; nothing else is heard in a hop that is not whole.
 * @param sound - one or two channels are listened to; further ones are left out
 */
export function analyseSound(sound: Pcm): Analysis {
  const { sampleRate, frames, channels } = sound;
  const size = hopFrames(sampleRate);
  const hop = makeHop(size);
  const left = channels[0]!;
  const right = channels[1] ?? left;
  hop.mono = left === right;
  const levels = new Hearing(sampleRate, size);
  const ears: Record<string, { runner: EarRunner; window: Window }> = {
    peak: {
      runner: makeEarRunner({ kind: 'level', reading: 'peak' }, { hearing: levels }),
      window: new Window(),
    },
    rms: {
      runner: makeEarRunner({ kind: 'level', reading: 'rms' }, { hearing: levels }),
      window: new Window(),
    },
  };
  const bands = { low: [], mid: [], high: [] } as Record<keyof typeof THREE_BANDS, [Seconds, DbFs][]>;
  for (const name of Object.keys(THREE_BANDS) as (keyof typeof THREE_BANDS)[]) {
    const [low, high] = THREE_BANDS[name];
    ears[name] = { runner: makeEarRunner(bandOf(low, high), { hearing: levels }), window: new Window() };
  }
  const all = Object.values(ears);
  const level: [Seconds, DbFs, DbFs][] = [];

  const hearing = new Hearing(sampleRate, size);
  const { frame, hits: listener, beat, pitch, loudness, truePeak, speech } = hearing;
  const triggers = STROKES.map((stroke) => new StrokeTrigger(stroke, strokeThreshold(stroke, 0.5), HOLD_OFF));
  const hits = { any: [], kick: [], snare: [], hat: [] } as Record<Stroke, [Seconds, Seconds, number][]>;
  const beats: [Seconds, Seconds][] = [],
    tempo: [Seconds, number, number][] = [],
    pitches: [Seconds, Hz, number][] = [],
    spoken: [Seconds, Seconds, Seconds][] = [];
  const momentary: [Seconds, number][] = [],
    shortTerm: [Seconds, number][] = [];
  let top = 0,
    speaking = false;
  const onLoudness = (): void => {
    if (loudness.steps % 10 !== 0) return;
    const t = round(loudness.steps / 100);
    momentary.push([t, round(loudness.momentary, 2)]);
    shortTerm.push([t, round(loudness.shortTerm, 2)]);
  };

  let report = 1,
    second = 1,
    pitchAt = 1,
    hz = 0,
    sure = 0;
  for (let at = 0; at < frames; at += size) {
    const n = Math.min(size, frames - at);
    for (let i = 0; i < size; i++) {
      hop.left[i] = i < n ? left[at + i]! : 0;
      hop.right[i] = i < n ? right[at + i]! : 0;
    }
    hop.frames = size;
    hop.time = at / sampleRate;
    levels.process(hop);
    for (const { runner, window } of all) {
      runner.process(hop, NOBODY);
      window.add(runner.value);
    }
    const known = Math.min(at + size, frames) / sampleRate;
    if (known + 1e-9 >= report * EVERY || at + size >= frames) {
      // A sound shorter than a tenth still gives one line; a rest shorter than a hop gives none.
      const t = Math.min(report * EVERY, frames / sampleRate);
      level.push([round(t), round(gainToDb(ears.peak!.window.peak)), round(ears.rms!.window.rms())]);
      for (const name of Object.keys(bands) as (keyof typeof THREE_BANDS)[])
        bands[name].push([round(t), round(ears[name]!.window.rms())]);
      for (const { window } of all) window.clear();
      while (report * EVERY <= known + 1e-9) report++;
    }
    if (n < size) {
      hop.frames = n;
      loudness.process(hop, onLoudness);
      truePeak.process(hop);
      top = Math.max(top, truePeak.peak);
      break;
    }
    for (; pitchAt * PITCH_EVERY < known - 1e-9; pitchAt++)
      pitches.push([round(pitchAt * PITCH_EVERY), hz, sure]);
    hearing.process(hop, onLoudness);
    top = Math.max(top, truePeak.peak);
    hz = round(pitch.hz, 2);
    sure = round(pitch.confidence);
    for (let k = 0; k < STROKES.length; k++) {
      const stroke = STROKES[k]!;
      if (triggers[k]!.step(listener.probability[k]!, size / sampleRate))
        hits[stroke].push([
          round(Math.max(0, known - listener.ago[k]!), 4),
          round(known, 4),
          round(listener.strength(frame, stroke)),
        ]);
    }
    if (beat.beatAgo === beat.beatAgo) beats.push([round(known - beat.beatAgo, 4), round(known, 4)]);
    if (speech.speaking !== speaking) {
      speaking = speech.speaking;
      if (speaking)
        spoken.push([round(Math.max(0, known - SPEECH_LAG)), round(frames / sampleRate), round(known)]);
      else spoken.at(-1)![1] = round(known - SPEECH_LAG);
    }
    hearing.finish(hop);
    for (; second <= known + 1e-9; second++) tempo.push([second, round(beat.bpm, 2), round(beat.confidence)]);
  }
  for (; second <= frames / sampleRate + 1e-9; second++)
    tempo.push([second, round(beat.bpm, 2), round(beat.confidence)]);
  for (; pitchAt * PITCH_EVERY <= frames / sampleRate + 1e-9; pitchAt++)
    pitches.push([round(pitchAt * PITCH_EVERY), hz, sure]);
  return {
    sampleRate,
    duration: round(frames / sampleRate, 6),
    level,
    bands,
    hits,
    beats,
    tempo,
    pitch: pitches,
    loudness: {
      integrated: round(loudness.integrated(), 2),
      range: round(loudness.range(), 2),
      truePeak: round(gainToDb(top), 2),
      momentary,
      shortTerm,
    },
    speech: spoken,
  };
}

function round(x: number, digits = 3): number {
  const f = 10 ** digits;
  return Math.round(x * f) / f + 0; // never −0
}
