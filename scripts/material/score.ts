/** Patterns of our own, of several styles: what the accuracy report plays, and what the listening was tuned on. */
import { seeded } from '../../src/core/random';

/** General MIDI numbers: program 0–127, or `DRUMS` with the kit's program. */
export const DRUMS = -1;
export interface Note {
  readonly t: number;
  readonly length: number;
  readonly program: number;
  readonly key: number;
  /** 1–127 */ readonly velocity: number;
}
export interface Piece {
  readonly seed: number;
  readonly style: Style;
  readonly kit: number;
  readonly seconds: number;
  readonly drums: readonly Note[];
  readonly bed: readonly Note[];
  readonly beats: readonly number[];
  readonly downbeats: readonly number[];
  /** Beats a minute at the start and at the end. */
  readonly bpm: readonly [number, number];
}
export const STYLES = ['straight', 'swung', 'syncopated', 'sparse', 'three', 'free'] as const;
export type Style = (typeof STYLES)[number];

export const KICK = [36, 35],
  SNARE = [38, 40],
  HAT = [42, 44],
  OPEN_HAT = 46,
  RIDE = 51,
  CRASH = 49,
  STICK = 37,
  CLAP = 39;
const LATIN = [62, 63, 64, 56, 69, 70, 54, 75, 76, 77, 67, 68, 60, 61, 65, 66];
const TOMS = [50, 48, 47, 45, 43, 41];

/** One character a step: `.` nothing, a digit a velocity in tenths. `k` kick, `s` snare, `h` closed hat, `o` open hat, `r` ride, `x` side stick, `c` clap, `t` toms, `p` percussion. */
interface Groove {
  readonly style: Style;
  readonly steps: number;
  readonly perBeat: number;
  readonly beats: number;
  readonly lanes: Readonly<Record<string, string>>;
}
const GROOVES: readonly Groove[] = [
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.......9.......', s: '....9.......9...', h: '8.6.8.6.8.6.8.6.' },
  },
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.......9.9.....', s: '....9.......9...', h: '8.6.8.6.8.6.8.6.' },
  },
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9...9...9...9...', s: '....8.......8...', o: '..7...7...7...7.', h: '5...5...5...5...' },
  },
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9...9...9...9...', c: '....9.......9...', h: '7676767676767676' },
  },
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.......9.......', s: '........9.......', h: '8...8...8...8...' },
  },
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9..9..9.9..9....', s: '....9.......9..4', r: '8.5.8.5.8.5.8.5.' },
  },
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.......99......', s: '....9..3.3..9...', h: '8585858585858585' },
  },
  {
    style: 'straight',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9...9...9...9...', s: '..9...9...9...9.', h: '7...7...7...7...' },
  },
  {
    style: 'swung',
    steps: 12,
    perBeat: 3,
    beats: 4,
    lanes: { k: '9.....9.....', s: '...9.....9..', h: '8.68.68.68.6' },
  },
  {
    style: 'swung',
    steps: 12,
    perBeat: 3,
    beats: 4,
    lanes: { k: '5..5..5..5..', r: '8..8.68..8.6', h: '...7.....7..', s: '.....3..3...' },
  },
  {
    style: 'swung',
    steps: 12,
    perBeat: 3,
    beats: 4,
    lanes: { k: '9....69.....', s: '...9.4...9.4', h: '866866866866' },
  },
  {
    style: 'swung',
    steps: 12,
    perBeat: 3,
    beats: 4,
    lanes: { k: '9....7..9...', s: '......9.....', h: '8..8..8..8..' },
  },
  {
    style: 'syncopated',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9..9..9...9..9..', s: '....9..4.4..9..4', h: '8686868686868686' },
  },
  {
    style: 'syncopated',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.9....9..9..9..', s: '....9..5.5.59...', h: '8.8.8.8.8.8.8.8.' },
  },
  {
    style: 'syncopated',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9..7....9..7....', x: '..8..8..8...8..8', h: '7676767676767676', p: '7..7..7.7..7..7.' },
  },
  {
    style: 'syncopated',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '5...9...5...9...', p: '8.46.84.68.46.84', h: '6464646464646464', s: '7.37.373.37.3373' },
  },
  {
    style: 'syncopated',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { s: '9.....9...9.....', k: '9...............', h: '..8...8...8...8.', o: '......6.........' },
  },
  {
    style: 'syncopated',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '........9.......', x: '........8.......', h: '..8...8...8...8.', p: '7..7..7..7..7...' },
  },
  {
    style: 'syncopated',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.....9...9..9..', s: '....9.......9...', h: '7.7.7.7.7.7.7.7.', t: '..............76' },
  },
  {
    style: 'sparse',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9...............', s: '........9.......' },
  },
  {
    style: 'sparse',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.......7.......', h: '....6.......6...' },
  },
  {
    style: 'sparse',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { k: '9.........8.....', x: '....7.......7...' },
  },
  {
    style: 'sparse',
    steps: 16,
    perBeat: 4,
    beats: 4,
    lanes: { r: '7...7...7...7...', k: '9...............' },
  },
  {
    style: 'three',
    steps: 12,
    perBeat: 4,
    beats: 3,
    lanes: { k: '9...........', s: '....7...7...', h: '7...7...7...' },
  },
  {
    style: 'three',
    steps: 12,
    perBeat: 4,
    beats: 3,
    lanes: { k: '9.......6...', s: '....9.......', r: '8.6.8.6.8.6.' },
  },
  { style: 'free', steps: 16, perBeat: 4, beats: 4, lanes: {} },
];

const CHORDS = [
  [0, 4, 7],
  [0, 3, 7],
  [0, 4, 7, 10],
  [0, 3, 7, 10],
  [0, 4, 7, 11],
  [0, 5, 7],
];
const ROOTS = [
  [0, 5, 7, 0],
  [0, 9, 5, 7],
  [0, 7, 9, 5],
  [0, 3, 5, 7],
  [0, 10, 5, 0],
  [0, 2, 7, 0],
  [0, 8, 3, 10],
];
const KEYS = [
  0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 11, 12, 13, 16, 17, 18, 19, 21, 24, 25, 26, 27, 28, 29, 30, 46, 80, 81, 88,
  90,
];
const PADS = [48, 49, 50, 51, 52, 53, 54, 61, 62, 63, 89, 91, 92, 94, 95, 19, 20];
const BASSES = [32, 33, 34, 35, 36, 38, 39, 43];
const LEADS = [
  0, 4, 11, 12, 13, 22, 24, 25, 26, 27, 40, 41, 42, 56, 57, 60, 64, 65, 66, 68, 71, 73, 74, 75, 79, 80, 81,
  105, 108, 114,
];
export const KITS = [0, 8, 16, 24, 25, 32, 40, 48];

export interface PieceOptions {
  readonly style?: Style;
  readonly bpm?: number;
  readonly toBpm?: number;
  /** Its tempo at every moment, in place of both. */
  readonly bpmAt?: (t: number) => number;
  readonly seconds?: number;
  readonly kit?: number;
  /** Bars without drums or bed: [first, count] */ readonly rest?: readonly [number, number];
  readonly plain?: boolean;
}

/** A piece from a seed: groove, fills, chords, bass and a tune. The same seed gives the same piece. */
export function makePiece(seed: number, options: PieceOptions = {}): Piece {
  const random = seeded(seed * 2654435761);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const styles = options.style ? GROOVES.filter((g) => g.style === options.style) : GROOVES;
  const groove = pick(styles);
  const bpm = options.bpm ?? 70 + 110 * random();
  const seconds = options.seconds ?? 32;
  const kit = options.kit ?? pick(KITS);
  const toBpm = options.toBpm ?? (random() < 0.12 && !options.bpm ? bpm * (0.9 + 0.2 * random()) : bpm);
  // Where step n of the whole piece lies: the tempo goes evenly from the one to the other.
  const { bpmAt = (t: number): number => bpm + ((toBpm - bpm) * t) / seconds } = options,
    rate = (t: number): number => bpmAt(t) / 60;
  const swing = groove.perBeat === 4 && random() < 0.2 ? 0.06 + 0.08 * random() : 0;
  const beats: number[] = [],
    downbeats: number[] = [];
  for (let t = 0.05 + random() * 1.2, i = 0; t < seconds; t += 1 / rate(t), i++) {
    beats.push(t);
    if (i % groove.beats === 0) downbeats.push(t);
  }
  const timeOf = (beat: number): number => {
    const i = Math.floor(beat),
      a = beats[i],
      b = beats[i + 1];
    if (a === undefined) return Infinity;
    let f = beat - i;
    if (swing && Math.abs(f * 4 - Math.round(f * 4)) < 0.01 && Math.round(f * 4) % 2 === 1) f += swing / 2;
    return a + f * ((b ?? a + 1 / rate(a)) - a);
  };
  const drums: Note[] = [],
    bed: Note[] = [];
  const loose = 0.001 + 0.007 * random() * random();
  const human = (): number => (random() + random() - 1) * loose * 2;
  const kick = pick(KICK),
    snare = pick(SNARE),
    hat = pick(HAT.slice(0, 1).concat(42)),
    perc = [pick(LATIN), pick(LATIN)],
    ride = pick([51, 59, 53]);
  const keyOf = (lane: string): number =>
    ({ k: kick, s: snare, h: hat, o: OPEN_HAT, r: ride, x: STICK, c: CLAP, t: pick(TOMS), p: pick(perc) })[
      lane as 'k'
    ] ?? 38;
  const vel = (tenths: number): number =>
    Math.max(12, Math.min(127, Math.round(tenths * 13 * (0.85 + 0.25 * random()))));
  const add = (
    list: Note[],
    beat: number,
    program: number,
    key: number,
    velocity: number,
    lengthBeats: number,
  ): void => {
    const at = timeOf(beat) + human();
    if (at > seconds - 0.05 || at < 0) return;
    list.push({
      t: at,
      length: Math.max(0.05, (lengthBeats / rate(at)) * 0.92),
      program,
      key: Math.max(24, Math.min(100, key)),
      velocity: Math.max(8, Math.min(127, Math.round(velocity))),
    });
  };
  const bars = downbeats.length;
  const dropHat = random() < 0.15,
    extra = options.plain ? 0 : 0.06 * random();
  const introBars = random() < 0.2 && !options.plain ? Math.floor(random() * 3) : 0;
  const root = 36 + Math.floor(random() * 12),
    roots = pick(ROOTS),
    chord = roots.map(() => pick(CHORDS));
  const keys = pick(KEYS),
    pad = random() < 0.5 ? pick(PADS) : -1,
    bass = pick(BASSES),
    lead = random() < 0.6 ? pick(LEADS) : -1;
  const comp = pick(['eighths', 'offbeats', 'arpeggio', 'held', 'beats', 'push'] as const),
    bassLine = pick(['roots', 'eighths', 'kick', 'walk', 'octaves'] as const);
  const hasBed = groove.style === 'free' || random() < 0.8;
  let tune = root + 36;
  for (let bar = 0; bar < bars; bar++) {
    const b0 = bar * groove.beats;
    const resting = options.rest && bar >= options.rest[0] && bar < options.rest[0] + options.rest[1];
    if (resting) continue;
    const fill =
      !options.plain &&
      bar % 4 === 3 &&
      random() < 0.5 &&
      groove.style !== 'sparse' &&
      groove.style !== 'free';
    if (bar >= introBars) {
      for (const [lane, pattern] of Object.entries(groove.lanes)) {
        if (dropHat && 'ho'.includes(lane)) continue;
        for (let i = 0; i < groove.steps; i++) {
          const c = pattern[i]!;
          const inFill = fill && i >= groove.steps * 0.5;
          if (c === '.') {
            if (random() < extra && 'khs'.includes(lane) && !inFill)
              add(drums, b0 + i / groove.perBeat, DRUMS, keyOf(lane), vel(3 + 3 * random()), 0.2);
            continue;
          }
          if (inFill && 'ksho'.includes(lane)) continue;
          add(drums, b0 + i / groove.perBeat, DRUMS, keyOf(lane), vel(Number(c)), 0.2);
        }
      }
      if (fill) {
        const keysOfFill = random() < 0.5 ? TOMS : [snare];
        for (let i = groove.steps / 2; i < groove.steps; i++)
          if (random() < 0.75)
            add(
              drums,
              b0 + i / groove.perBeat,
              DRUMS,
              keysOfFill[Math.floor(((i - groove.steps / 2) / (groove.steps / 2)) * keysOfFill.length)]!,
              vel(6 + 3 * random()),
              0.2,
            );
      }
      if (bar % 8 === 0 && bar > 0 && random() < 0.5 && groove.style !== 'free')
        add(drums, b0, DRUMS, CRASH, vel(8), 1);
    }
    if (!hasBed) continue;
    const n = bar % roots.length,
      r = root + roots[n]!,
      notes = chord[n]!;
    const strike = (beat: number, length: number, loud: number): void => {
      for (const k of notes) add(bed, b0 + beat, keys, r + 24 + k, loud * (0.9 + 0.2 * random()), length);
    };
    const loud = 60 + 40 * random();
    for (let beat = 0; beat < groove.beats; beat++) {
      if (comp === 'eighths') {
        strike(beat, 0.5, loud);
        strike(beat + 0.5, 0.5, loud * 0.85);
      } else if (comp === 'offbeats') strike(beat + 0.5, 0.4, loud);
      else if (comp === 'arpeggio')
        for (let k = 0; k < 4; k++)
          add(
            bed,
            b0 + beat + k / 4,
            keys,
            r + 24 + notes[k % notes.length]! + (k === 3 ? 12 : 0),
            loud * (k ? 0.85 : 1),
            0.5,
          );
      else if (comp === 'beats') strike(beat, 0.9, loud);
      else if (comp === 'held' && beat === 0) strike(0, groove.beats, loud);
      else if (comp === 'push' && beat % 2 === 0) {
        strike(beat, 0.7, loud);
        strike(beat + 1.5, 0.5, loud * 0.9);
      }
    }
    if (pad >= 0) for (const k of notes) add(bed, b0, pad, r + 24 + k, 55 + 20 * random(), groove.beats);
    for (let beat = 0; beat < groove.beats; beat++) {
      if (bassLine === 'roots' && beat % 2 === 0) add(bed, b0 + beat, bass, r, 90, 1.8);
      else if (bassLine === 'eighths') {
        add(bed, b0 + beat, bass, r, 92, 0.5);
        add(bed, b0 + beat + 0.5, bass, r, 80, 0.5);
      } else if (bassLine === 'octaves') {
        add(bed, b0 + beat, bass, r, 92, 0.5);
        add(bed, b0 + beat + 0.5, bass, r + 12, 85, 0.4);
      } else if (bassLine === 'walk') add(bed, b0 + beat, bass, r + [0, 4, 7, 9][beat % 4]!, 88, 0.9);
    }
    if (bassLine === 'kick')
      for (let i = 0; i < groove.steps; i++)
        if ((groove.lanes.k ?? '9...............')[i] !== '.')
          add(bed, b0 + i / groove.perBeat, bass, r, 92, 0.6);
    if (lead >= 0) {
      for (let at = 0; at < groove.beats;) {
        const length = pick(groove.perBeat === 3 ? [1 / 3, 2 / 3, 1, 2] : [0.25, 0.5, 0.5, 1, 1, 1.5, 2]);
        tune += pick([-3, -2, -1, 0, 1, 2, 3, 5, -5]);
        if (tune < root + 28 || tune > root + 50) tune = root + 38;
        if (random() < 0.75) add(bed, b0 + at, lead, tune, 70 + 45 * random(), length);
        at += length;
      }
    }
  }
  const order = (a: Note, b: Note): number => a.t - b.t;
  return {
    seed,
    style: groove.style,
    kit,
    seconds,
    drums: drums.sort(order),
    bed: bed.sort(order),
    beats,
    downbeats,
    bpm: [bpm, toBpm],
  };
}
