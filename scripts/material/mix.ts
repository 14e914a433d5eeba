/** Mixes a piece as a listener would get it, with the truth of every note that can be heard. */
import { seeded } from '../../src/core/random';
import { fonts, hasGeneralMidi, onsetOf, renderGeneralMidi } from './generalMidi';
import { CLAP, DRUMS, HAT, KICK, OPEN_HAT, SNARE, STICK, type Note, type Piece } from './score';
import { hasSpeech, makeSpeech } from './speech';
import { renderOwn, reverb } from './synth';

export interface Mixed {
  readonly left: Float32Array;
  readonly right: Float32Array;
  /** Onsets that must be heard: each note's own, those within 30 ms taken together. */
  readonly any: readonly number[];
  /** Onsets too soft or too gradual for that: neither right nor wrong. */
  readonly faint: readonly number[];
  readonly kick: readonly number[];
  readonly snare: readonly number[];
  readonly hat: readonly number[];
  /** Claps and strokes on a rim: whether they are a snare, nobody says. */
  readonly unsure?: readonly number[];
  readonly speech: readonly (readonly [number, number])[];
}
export interface MixOptions {
  /** Level of the bed against the drums (equal RMS at 0); −Infinity leaves it out. */
  readonly bedDb: number;
  /** Of the highest peak, in dBFS. */
  readonly peakDb: number;
  readonly room?: number;
  readonly voiceDb?: number;
  readonly seed: number;
}

const rms = (x: Float32Array): number => {
  let s = 0;
  for (const v of x) s += v * v;
  return Math.sqrt(s / Math.max(1, x.length));
};
const SOFT_ATTACK = 0.03;

/** When and how loud a note of a stem is, as rendered. */
export interface Sounded {
  readonly note: Note;
  readonly onset: number;
  readonly peak: number;
  readonly soft: boolean;
}
/** The drums or the bed of a piece, rendered without the other. */
export interface Stem {
  readonly left: Float32Array;
  readonly right: Float32Array;
  readonly notes: readonly Sounded[];
}

/** @param font - which of the soundfonts that are there */
export function renderStem(
  notes: readonly Note[],
  piece: Piece,
  source: 'own' | 'gm',
  font: number,
  seed: number,
): Stem {
  const { kit, seconds } = piece;
  if (source === 'gm' && hasGeneralMidi()) {
    const available = fonts(),
      file = available[font % available.length];
    const [left, right] = renderGeneralMidi(notes, kit, seconds, { font: file });
    return {
      left,
      right,
      notes: notes.map((note) => {
        const [offset, peak] = onsetOf(note, kit, file);
        return {
          note,
          onset: note.t + offset,
          peak: peak * (note.velocity / 100) ** 2,
          soft: offset > SOFT_ATTACK,
        };
      }),
    };
  }
  const { sound, onsets, peaks } = renderOwn(notes, seconds, seed);
  return {
    left: sound,
    right: sound,
    notes: notes.map((note, i) => ({
      note,
      onset: onsets[i]!,
      peak: peaks[i]!,
      soft: onsets[i]! - note.t > SOFT_ATTACK,
    })),
  };
}

export function mixPiece(
  piece: Piece,
  options: MixOptions & {
    readonly source: 'own' | 'gm';
    /** Which of the soundfonts that are there; the first when left out. */ readonly font?: number;
  },
): Mixed {
  const render = (notes: readonly Note[]): Stem =>
    renderStem(notes, piece, options.source, options.font ?? 0, options.seed);
  return mixStems(
    render(piece.drums),
    options.bedDb > -90 || piece.drums.length === 0 ? render(piece.bed) : null,
    options,
  );
}

/** @param drums, bed - of one length */
export function mixStems(drums: Stem, bed: Stem | null, options: MixOptions): Mixed {
  const frames = drums.left.length,
    seconds = frames / 48000;
  const drumRms = rms(drums.left),
    bedRms = bed ? rms(bed.left) : 0;
  const bedGain = bed && bedRms > 0 ? (drumRms > 0 ? (drumRms / bedRms) * 10 ** (options.bedDb / 20) : 1) : 0;
  const left = new Float32Array(frames),
    right = new Float32Array(frames);
  for (let i = 0; i < frames; i++) {
    left[i] = drums.left[i]! + bedGain * (bed?.left[i] ?? 0);
    right[i] = drums.right[i]! + bedGain * (bed?.right[i] ?? 0);
  }
  let speech: Mixed['speech'] = [];
  if (options.voiceDb !== undefined && hasSpeech()) {
    const voice = makeSpeech(options.seed, seconds),
      v = rms(voice.sound),
      m = rms(left) || 0.05;
    const gain = (m / Math.max(1e-6, v)) * 10 ** (options.voiceDb / 20);
    for (let i = 0; i < frames; i++) {
      left[i]! += gain * voice.sound[i]!;
      right[i]! += gain * voice.sound[i]!;
    }
    speech = voice.spans;
  }
  const wet = options.room
    ? ([reverb(left, options.room, 0.35), reverb(right, options.room, 0.35)] as const)
    : ([left, right] as const);
  let peak = 1e-9;
  for (const c of wet) for (const x of c) peak = Math.max(peak, Math.abs(x));
  const gain = 10 ** (options.peakDb / 20) / peak;
  for (const c of wet) for (let i = 0; i < frames; i++) c[i]! *= gain;

  return {
    left: wet[0],
    right: wet[1],
    ...audible([...drums.notes, ...(bed?.notes.map((n) => ({ ...n, peak: n.peak * bedGain })) ?? [])]),
    speech,
  };
}

/** Which notes can be heard: not far below the loudest around them. */
export function audible(
  notes: readonly Sounded[],
): Pick<Mixed, 'any' | 'faint' | 'kick' | 'snare' | 'hat' | 'unsure'> {
  const all = [...notes].sort((a, b) => a.onset - b.onset);
  const any: number[] = [],
    faint: number[] = [];
  const heard = (i: number, under: number): boolean => {
    const me = all[i]!;
    for (let k = i - 1; k >= 0 && me.onset - all[k]!.onset < 0.6; k--)
      if (all[k]!.peak > me.peak * under) return false;
    for (let k = i + 1; k < all.length && all[k]!.onset - me.onset < 0.06; k++)
      if (all[k]!.peak > me.peak * under) return false;
    return true;
  };
  const kick: number[] = [],
    snare: number[] = [],
    hat: number[] = [],
    unsure: number[] = [];
  all.forEach(({ note, onset, soft }, i) => {
    const loud = heard(i, note.program === DRUMS ? 18 : 9);
    if (!soft && loud) {
      if (onset - (any.at(-1) ?? -1) > 0.03) any.push(onset);
    } else faint.push(onset);
    if (note.program !== DRUMS) return;
    const push = (list: number[]): void => {
      if (onset - (list.at(-1) ?? -1) > 0.02) list.push(onset);
    };
    if (KICK.includes(note.key)) push(kick);
    else if (SNARE.includes(note.key)) push(snare);
    else if (HAT.includes(note.key) || note.key === OPEN_HAT) push(hat);
    else if (note.key === CLAP || note.key === STICK) push(unsure);
  });
  return {
    any,
    faint: faint.filter((t) => !any.some((a) => Math.abs(a - t) < 0.03)),
    kick,
    snare,
    hat,
    unsure,
  };
}

/** Sounds in which nothing is struck: noise, hum, held chords. */
export function stillSound(
  kind: 'white' | 'pink' | 'brown' | 'hum' | 'chord',
  seconds: number,
  seed: number,
): Float32Array {
  const random = seeded(seed * 13 + 7),
    n = Math.round(seconds * 48000),
    out = new Float32Array(n);
  if (kind === 'hum') {
    const hz = random() < 0.5 ? 50 : 60;
    for (let k = 1; k < 20; k++) {
      const a = 0.4 / k ** (0.7 + random()),
        p = random() * 6;
      for (let i = 0; i < n; i++) out[i]! += a * Math.sin((2 * Math.PI * hz * k * i) / 48000 + p);
    }
  } else if (kind === 'chord') {
    const root = 80 + 160 * random();
    for (const ratio of [1, 1.26, 1.498, 2, 3]) {
      const detune = 1 + 0.004 * (random() - 0.5);
      for (let k = 1; k < 6; k++) {
        const a = 0.15 / k;
        for (let i = 0; i < n; i++)
          out[i]! +=
            a *
            (Math.sin((2 * Math.PI * root * ratio * k * i) / 48000) +
              Math.sin((2 * Math.PI * root * ratio * detune * k * i) / 48000));
      }
    }
  } else {
    // Pink by the sum of octave-spaced one-pole stages (after Voss); brown by leaky summing.
    const rows = new Float64Array(12);
    let brown = 0;
    for (let i = 0; i < n; i++) {
      const w = random() * 2 - 1;
      if (kind === 'white') out[i] = 0.3 * w;
      else if (kind === 'brown') {
        brown = 0.998 * brown + 0.03 * w;
        out[i] = brown;
      } else {
        for (let k = 0; k < 12; k++) if (i % (1 << k) === 0) rows[k] = random() * 2 - 1;
        let s = w;
        for (let k = 0; k < 12; k++) s += rows[k]!;
        out[i] = 0.06 * s;
      }
    }
  }
  return out;
}
