/** One voice at a time: sung, bowed, whistled and played lines, whose notes often begin without a rise in level. 48 kHz. */
import { seeded } from '../../src/core/random';
import { ofSide, type Side } from './kinds';
import type { Part, Song } from './song';

const RATE = 48000;

interface Voice {
  readonly name: string;
  readonly keys: readonly [number, number];
  /** Level of partial k at its frequency. */
  readonly partial: (k: number, hz: number) => number;
  readonly breath: number;
  readonly vibrato: readonly [number, number];
  /** Seconds from one pitch to the next. */ readonly glide: readonly [number, number];
  /** How far the level falls between tied notes, and share of notes that are tied. */
  readonly dip: number;
  readonly tied: number;
  readonly attack: readonly [number, number];
}

const bump = (hz: number, at: number, width: number): number => Math.exp(-(((hz - at) / width) ** 2));
export const VOICES: readonly Voice[] = [
  { name: 'sung a', keys: [48, 74], partial: (k, hz) => (0.15 + bump(hz, 750, 300) + 0.7 * bump(hz, 1200, 300) + 0.3 * bump(hz, 2700, 500)) / k ** 0.7, breath: 0.01, vibrato: [4, 45], glide: [0.03, 0.1], dip: 0.15, tied: 0.7, attack: [0.03, 0.08] },
  { name: 'sung o', keys: [45, 70], partial: (k, hz) => (0.15 + bump(hz, 450, 200) + 0.5 * bump(hz, 850, 250) + 0.2 * bump(hz, 2600, 500)) / k ** 0.8, breath: 0.01, vibrato: [4, 35], glide: [0.03, 0.12], dip: 0.1, tied: 0.7, attack: [0.03, 0.08] },
  { name: 'whistled', keys: [79, 106], partial: (k) => (k === 1 ? 1 : k === 2 ? 0.04 : 0), breath: 0.02, vibrato: [3, 35], glide: [0.02, 0.08], dip: 0.1, tied: 0.7, attack: [0.02, 0.06] },
  { name: 'flute', keys: [60, 98], partial: (k) => [0, 1, 0.5, 0.25, 0.08, 0.04, 0.02][k] ?? 0, breath: 0.015, vibrato: [2, 18], glide: [0.008, 0.03], dip: 0.25, tied: 0.55, attack: [0.03, 0.07] },
  { name: 'bowed', keys: [55, 93], partial: (k, hz) => (0.4 + bump(hz, 500, 200) + bump(hz, 3000, 900)) / k, breath: 0.008, vibrato: [4, 25], glide: [0.006, 0.05], dip: 0.15, tied: 0.6, attack: [0.03, 0.1] },
  { name: 'reed', keys: [50, 84], partial: (k) => (k % 2 === 1 ? 1 / k : 0.12 / k), breath: 0.006, vibrato: [0, 10], glide: [0.006, 0.02], dip: 0.2, tied: 0.6, attack: [0.02, 0.05] },
  { name: 'tied synth', keys: [36, 84], partial: (k, hz) => 1 / k / (1 + (hz / 1800) ** 2), breath: 0, vibrato: [0, 8], glide: [0.002, 0.06], dip: 0, tied: 0.85, attack: [0.005, 0.03] },
  { name: 'slid string', keys: [40, 76], partial: (k) => 1 / k ** 1.2, breath: 0.004, vibrato: [0, 20], glide: [0.02, 0.09], dip: 0.1, tied: 0.65, attack: [0.004, 0.015] },
]; // prettier-ignore

export interface Line {
  readonly voice: string;
  readonly sound: Float32Array;
  /** Each note: when its pitch is there (halfway from the one before) or its sound, its key, whether it began without a rise, and its end. */
  readonly notes: readonly {
    readonly t: number;
    readonly key: number;
    readonly tied: boolean;
    readonly end: number;
  }[];
}

/** A line in the range of a voice. @param low - keys below it are left out */
export function makeLine(seed: number, side: Side, seconds: number, low = 0): Line {
  const random = seeded(seed * 5077 + 307),
    between = (a: number, b: number): number => a + (b - a) * random();
  const all = ofSide(VOICES, side, (v) => v.name),
    fitting = all.filter((v) => v.keys[1] > low + 6),
    voice = (fitting.length > 0 ? fitting : VOICES.filter((v) => v.keys[1] > low + 6))[
      Math.floor(random() * (fitting.length || 3))
    ]!;
  const bottom = Math.max(low, voice.keys[0]),
    beat = between(0.28, 0.7),
    frames = Math.round(seconds * RATE);
  const notes: { t: number; key: number; tied: boolean; end: number; glide: number; dip: number }[] = [];
  let key = Math.round(between(bottom + 2, voice.keys[1] - 2));
  for (let t = 0.15 + 0.3 * random(), tied = false; t < seconds - 0.4;) {
    const length = beat * [0.5, 0.5, 1, 1, 1, 2][Math.floor(random() * 6)]!,
      rest = random() < 0.1 ? beat * 0.5 : 0;
    notes.push({
      t,
      key,
      tied,
      end: Math.min(seconds - 0.05, t + length - (rest > 0 ? 0 : 0.0)),
      glide: between(...voice.glide),
      dip: voice.dip * random(),
    });
    t += length + rest;
    const step = [-7, -5, -4, -3, -2, -2, -1, 1, 2, 2, 3, 4, 5, 7][Math.floor(random() * 14)]!;
    key += key + step < bottom || key + step > voice.keys[1] ? -step : step;
    tied = rest === 0 && random() < voice.tied;
  }
  const hz = new Float32Array(frames),
    level = new Float32Array(frames),
    rate = between(4.5, 6.5),
    cents = between(...voice.vibrato),
    attack = between(...voice.attack);
  notes.forEach((n, i) => {
    const before = i > 0 ? notes[i - 1]! : null,
      next = notes[i + 1],
      on = Math.round(n.t * RATE),
      off = Math.round((next?.tied ? next.t : n.end) * RATE);
    for (let k = Math.max(0, on - 4000); k < Math.min(frames, off + 4000); k++) {
      const s = k / RATE - n.t;
      if (k >= on - 4000 && (k < off || !next?.tied)) {
        // The glide goes by the middle at the note's time.
        const share = n.tied && before ? 1 / (1 + Math.exp(-s / (n.glide / 6))) : 1;
        if (k < on && !(n.tied && before)) continue;
        const from = before?.key ?? n.key,
          at = n.key * share + from * (1 - share);
        hz[k] =
          440 *
          2 **
            ((at - 69) / 12 +
              (cents / 1200) *
                Math.sin(2 * Math.PI * rate * (k / RATE)) *
                Math.min(1, Math.max(0, s - 0.1) * 4));
      }
      if (k < on || k >= off) continue;
      const rise = n.tied ? 1 - n.dip * Math.exp(-((s / 0.02) ** 2)) : Math.min(1, s / attack);
      level[k] = rise * (next?.tied ? 1 : Math.min(1, (off - k) / RATE / 0.03));
    }
  });
  const sound = new Float32Array(frames),
    phases = new Float64Array(24).map(() => random());
  let last = 440,
    a = 0,
    gain = 0;
  const amp = new Float64Array(24);
  for (let k = 0; k < frames; k++) {
    const f = hz[k]! > 0 ? hz[k]! : last;
    last = f;
    gain += 0.02 * (level[k]! - gain);
    if (k % 64 === 0) for (let p = 1; p < 24; p++) amp[p] = f * p < 18000 ? voice.partial(p, f * p) : 0;
    a = (a + f / RATE) % 1;
    if (gain < 1e-5) continue;
    let x = voice.breath * (random() * 2 - 1);
    for (let p = 1; p < 24 && amp[p]! > 0.001; p++)
      x += amp[p]! * Math.sin(2 * Math.PI * (p * a + phases[p]!));
    sound[k] = 0.2 * gain * x;
  }
  return {
    voice: voice.name,
    sound,
    notes: notes.map(({ t, key: note, tied, end }) => ({ t, key: note, tied, end })),
  };
}

/** A line as a piece of its own. Tied notes are no strokes; whether the others are is left open, as their starts are soft. */
export function lineSong(seed: number, side: Side, seconds: number): Song {
  const { voice, sound, notes } = makeLine(seed, side, seconds);
  const part: Part = {
    role: 'lead',
    left: sound,
    right: sound.slice(),
    notes: notes.map(({ t, key, tied }) => ({
      note: { t, length: 0.2, program: 73, key, velocity: 100 },
      onset: t,
      peak: tied ? 0 : 0.2,
      soft: true,
    })),
  };
  return {
    kind: 'lines',
    from: [`voice ${voice}`],
    seconds,
    parts: [part],
    beats: [],
    downbeats: [],
    beatKnown: false,
    speech: [],
  };
}
