import { seeded } from '../random';
import { SAMPLE_RATE, type Frames, type Seconds } from '../units';

/** The Night Ferry's sound: four acts at 112.5 beats a minute, so that a beat is a whole number of hops (100). */
export const FERRY_BPM = 112.5;
export const BEAT: Frames = (SAMPLE_RATE * 60) / FERRY_BPM;
export const SIXTEENTH: Frames = BEAT / 4;
export const BAR: Frames = BEAT * 4;
export const BARS = 20;
export const LENGTH: Frames = BAR * BARS;

export const ACTS = [
  { name: 'the drums set out', from: 0, to: 7 },
  { name: 'the host speaks', from: 7, to: 12 },
  { name: 'still water', from: 12, to: 14 },
  { name: 'everything moves', from: 14, to: 20 },
] as const;

export type Instrument = 'lowDrum' | 'snareDrum' | 'shaker' | 'bell';
/** One stroke. `colour` tells an open stroke from a damped one, or the bell's high cup from its low one. */
export interface Stroke {
  readonly instrument: Instrument;
  readonly frame: Frames;
  readonly velocity: number;
  readonly colour: 0 | 1;
}
/** One syllable of the host. */
export interface Syllable {
  readonly frame: Frames;
  readonly frames: Frames;
  readonly vowel: number;
  readonly pitch: number;
  readonly stress: number;
  readonly hiss: number;
}
export interface Score {
  readonly strokes: readonly Stroke[];
  readonly syllables: readonly Syllable[];
  readonly speech: readonly (readonly [Seconds, Seconds])[];
}

// One character a sixteenth, two bars a line: digits are velocities in tenths, capital letters damped or high strokes.
const LOW_A = '6...9.....6.9...' + '6...9.....6.9.76';
const LOW_QUIET = '....6.......5...' + '....6.......5.4.';
const SNARE_A = '7.33733373337373' + '7.33733373377373';
const SNARE_QUIET = '2.22422222224222' + '2.22422222224224';
const SHAKER_A = '8464846484648464' + '8464846484648466';
const SHAKER_QUIET = '4232423242324232' + '4232423242324232';
// h: the high cup, l: the low one
const BELL_A = 'h.h.l.l.hh.h.l.l' + 'h.h.ll.h.h.l.l.l';
const FILL = ['9.9.9.9.9999', '5566677788999999', '9999999999999999'];

/** The whole score from one seed, the same every time. */
export function ferryScore(seed = 20): Score {
  const random = seeded(seed);
  const strokes: Stroke[] = [];
  const loose = (frames: number): number => Math.round((random() + random() - 1) * frames);
  const play = (instrument: Instrument, bar: number, pattern: string, level = 1): void => {
    for (let i = 0; i < 16; i++) {
      const c = pattern[((bar & 1) * 16 + i) % pattern.length]!;
      if (c === '.') continue;
      const digit = Number.parseInt(c, 10);
      const velocity = Math.min(
        1,
        Math.max(0.05, (Number.isNaN(digit) ? 0.75 : digit / 10) * level * (0.92 + 0.16 * random())),
      );
      // The off-sixteenths lean late, as hands play them: the lilt that a sequencer lacks.
      const lilt = i % 4 === 1 ? 330 : i % 4 === 2 ? 160 : i % 4 === 3 ? -220 : 0;
      const frame = Math.max(
        0,
        bar * BAR + i * SIXTEENTH + (i === 0 ? 0 : lilt) + loose(i % 4 === 0 ? 70 : 150),
      );
      const colour = instrument === 'lowDrum' ? (i % 16 === 0 ? 1 : 0) : c === 'h' ? 1 : 0;
      strokes.push({ instrument, frame, velocity, colour });
    }
  };
  for (let bar = 0; bar < 7; bar++) {
    play('shaker', bar, SHAKER_A, 0.6 + bar * 0.05);
    play('lowDrum', bar, LOW_A, bar < 2 ? 0.8 : 1);
    if (bar >= 2) play('snareDrum', bar, SNARE_A, bar < 4 ? 0.6 : 0.85);
    if (bar >= 3) play('bell', bar, BELL_A, 0.7);
  }
  for (let bar = 7; bar < 12; bar++) {
    play('shaker', bar, SHAKER_QUIET);
    play('lowDrum', bar, LOW_QUIET);
    if (bar > 8) play('snareDrum', bar, SNARE_QUIET, 0.7);
  }
  // The last stroke of the quiet act rings out; two bars of stillness follow.
  play('lowDrum', 14, `....${FILL[0]}`.slice(0, 16));
  play('snareDrum', 14, FILL[1]!, 0.95);
  for (let bar = 15; bar < 20; bar++) {
    play('shaker', bar, SHAKER_A);
    play('lowDrum', bar, LOW_A);
    play('snareDrum', bar, bar === 19 ? FILL[1]! : SNARE_A);
    play('bell', bar, BELL_A, 0.95);
  }
  strokes.sort((a, b) => a.frame - b.frame);
  const { syllables, speech } = speak(random);
  return { strokes, syllables, speech };
}

/** The host's words, as syllables: phrases of five to nine, with breaths between. */
function speak(random: () => number): { syllables: Syllable[]; speech: [Seconds, Seconds][] } {
  const syllables: Syllable[] = [];
  const speech: [Seconds, Seconds][] = [];
  const end = 12 * BAR - SAMPLE_RATE * 0.7;
  let at = 7 * BAR + SAMPLE_RATE * 0.35;
  while (at < end - SAMPLE_RATE) {
    const count = 5 + Math.floor(random() * 5);
    const from = at;
    for (let i = 0; i < count && at < end; i++) {
      const stress = i === 0 || random() < 0.35 ? 1 : 0.6;
      const frames = Math.round(SAMPLE_RATE * (0.11 + 0.07 * random() + 0.05 * stress));
      const fall = 1 - i / count;
      syllables.push({
        frame: Math.round(at),
        frames,
        vowel: Math.floor(random() * 5),
        pitch: 108 + 26 * fall + 18 * stress * random(),
        stress,
        hiss: random() < 0.4 ? 0.3 + 0.5 * random() : 0,
      });
      at += frames * (0.98 + 0.12 * random());
    }
    speech.push([from / SAMPLE_RATE, at / SAMPLE_RATE]);
    at += SAMPLE_RATE * (0.32 + 0.3 * random());
  }
  return { syllables, speech };
}
