/** Mixes a piece as a listener would get it, with the truth of every note that can be heard. */
import { seeded } from '../../src/core/random';
import { fonts, hasGeneralMidi, onsetOf, renderGeneralMidi } from './generalMidi';
import { DRUMS, HAT, KICK, OPEN_HAT, SNARE, type Note, type Piece } from './score';
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
  readonly speech: readonly (readonly [number, number])[];
}
export interface MixOptions {
  readonly source: 'own' | 'gm';
  /** Level of the bed against the drums (equal RMS at 0); −Infinity leaves it out. */
  readonly bedDb: number;
  /** Of the highest peak, in dBFS. */
  readonly peakDb: number;
  readonly room?: number;
  readonly voiceDb?: number;
  readonly seed: number;
  /** Which of the soundfonts that are there; the first when left out. */
  readonly font?: number;
}

const rms = (x: Float32Array): number => { let s = 0; for (const v of x) s += v * v; return Math.sqrt(s / Math.max(1, x.length)); };
const SOFT_ATTACK = 0.03;

export function mixPiece(piece: Piece, options: MixOptions): Mixed {
  const { seconds, kit } = piece;
  const frames = Math.round(seconds * 48000);
  const gm = options.source === 'gm' && hasGeneralMidi();
  const available = fonts(), font = available[(options.font ?? 0) % Math.max(1, available.length)];
  const render = (notes: readonly Note[]): { l: Float32Array; r: Float32Array; at: { onset: number; peak: number; soft: boolean }[] } => {
    if (gm) {
      const [l, r] = renderGeneralMidi(notes, kit, seconds, { font });
      return { l, r, at: notes.map((n) => { const [offset, peak] = onsetOf(n, kit, font); return { onset: n.t + offset, peak: peak * (n.velocity / 100) ** 2, soft: offset > SOFT_ATTACK }; }) };
    }
    const { sound, onsets, peaks } = renderOwn(notes, seconds, options.seed);
    return { l: sound, r: sound, at: notes.map((n, i) => ({ onset: onsets[i]!, peak: peaks[i]!, soft: onsets[i]! - n.t > SOFT_ATTACK })) };
  };
  const drums = render(piece.drums);
  const withBed = options.bedDb > -90 || piece.drums.length === 0;
  const bed = withBed ? render(piece.bed) : null;
  const drumRms = rms(drums.l), bedRms = bed ? rms(bed.l) : 0;
  const bedGain = bed && bedRms > 0 ? (drumRms > 0 ? (drumRms / bedRms) * 10 ** (options.bedDb / 20) : 1) : 0;
  const left = new Float32Array(frames), right = new Float32Array(frames);
  for (let i = 0; i < frames; i++) { left[i] = drums.l[i]! + bedGain * (bed?.l[i] ?? 0); right[i] = drums.r[i]! + bedGain * (bed?.r[i] ?? 0); }
  let speech: Mixed['speech'] = [];
  if (options.voiceDb !== undefined && hasSpeech()) {
    const voice = makeSpeech(options.seed, seconds), v = rms(voice.sound), m = rms(left) || 0.05;
    const gain = (m / Math.max(1e-6, v)) * 10 ** (options.voiceDb / 20);
    for (let i = 0; i < frames; i++) { left[i]! += gain * voice.sound[i]!; right[i]! += gain * voice.sound[i]!; }
    speech = voice.spans;
  }
  const wet = options.room ? [reverb(left, options.room, 0.35), reverb(right, options.room, 0.35)] as const : [left, right] as const;
  let peak = 1e-9;
  for (const c of wet) for (const x of c) peak = Math.max(peak, Math.abs(x));
  const gain = 10 ** (options.peakDb / 20) / peak;
  for (const c of wet) for (let i = 0; i < frames; i++) c[i]! *= gain;

  // Which notes can be heard: not far below the loudest around them.
  const all = [...piece.drums.map((n, i) => ({ n, ...drums.at[i]! })), ...(bed ? piece.bed.map((n, i) => ({ n, ...bed.at[i]!, peak: bed.at[i]!.peak * bedGain })) : [])].sort((a, b) => a.onset - b.onset);
  const any: number[] = [], faint: number[] = [];
  const heard = (i: number, under: number): boolean => {
    const me = all[i]!;
    for (let k = i - 1; k >= 0 && me.onset - all[k]!.onset < 0.6; k--) if (all[k]!.peak > me.peak * under) return false;
    for (let k = i + 1; k < all.length && all[k]!.onset - me.onset < 0.06; k++) if (all[k]!.peak > me.peak * under) return false;
    return true;
  };
  const kick: number[] = [], snare: number[] = [], hat: number[] = [];
  all.forEach(({ n, onset, soft }, i) => {
    const loud = heard(i, n.program === DRUMS ? 18 : 9);
    if (!soft && loud) { if (onset - (any.at(-1) ?? -1) > 0.03) any.push(onset); } else faint.push(onset);
    if (n.program !== DRUMS) return;
    const push = (list: number[]): void => { if (onset - (list.at(-1) ?? -1) > 0.02) list.push(onset); };
    if (KICK.includes(n.key)) push(kick);
    else if (SNARE.includes(n.key)) push(snare);
    else if (HAT.includes(n.key) || n.key === OPEN_HAT) push(hat);
  });
  return { left: wet[0], right: wet[1], any, faint: faint.filter((t) => !any.some((a) => Math.abs(a - t) < 0.03)), kick, snare, hat, speech };
}

/** Sounds in which nothing is struck: noise, hum, held chords. */
export function stillSound(kind: 'white' | 'pink' | 'brown' | 'hum' | 'chord', seconds: number, seed: number): Float32Array {
  const random = seeded(seed * 13 + 7), n = Math.round(seconds * 48000), out = new Float32Array(n);
  if (kind === 'hum') {
    const hz = random() < 0.5 ? 50 : 60;
    for (let k = 1; k < 20; k++) { const a = 0.4 / k ** (0.7 + random()), p = random() * 6; for (let i = 0; i < n; i++) out[i]! += a * Math.sin((2 * Math.PI * hz * k * i) / 48000 + p); }
  } else if (kind === 'chord') {
    const root = 80 + 160 * random();
    for (const ratio of [1, 1.26, 1.498, 2, 3]) { const detune = 1 + 0.004 * (random() - 0.5); for (let k = 1; k < 6; k++) { const a = 0.15 / k; for (let i = 0; i < n; i++) out[i]! += a * (Math.sin((2 * Math.PI * root * ratio * k * i) / 48000) + Math.sin((2 * Math.PI * root * ratio * detune * k * i) / 48000)); } }
  } else {
    // Pink by the sum of octave-spaced one-pole stages (after Voss); brown by leaky summing.
    const rows = new Float64Array(12);
    let brown = 0;
    for (let i = 0; i < n; i++) {
      const w = random() * 2 - 1;
      if (kind === 'white') out[i] = 0.3 * w;
      else if (kind === 'brown') { brown = 0.998 * brown + 0.03 * w; out[i] = brown; }
      else { for (let k = 0; k < 12; k++) if (i % (1 << k) === 0) rows[k] = random() * 2 - 1; let s = w; for (let k = 0; k < 12; k++) s += rows[k]!; out[i] = 0.06 * s; }
    }
  }
  return out;
}
