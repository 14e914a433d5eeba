/** Dance music by rules of our own: its patterns, its basses and chords, and instruments made for them. 48 kHz. */
import { seeded } from '../../src/core/random';
import { playKit, recordedKits } from './kits';
import { ofSide, type Side } from './kinds';
import { CLAP, CRASH, DRUMS, KICK, OPEN_HAT, SNARE, type Note } from './score';
import type { Sounded } from './mix';
import { place, type FormOf, type PlannedBar } from './form';
import { SECTIONS, type Part, type Passage, type Role, type Section, type Song } from './song';

const RATE = 48000;

/** A rule: its tempi, and its lanes of sixteen steps a bar, several to choose from. Digits are tenths of full strength. */
interface Rule {
  readonly name: string;
  readonly bpm: readonly [number, number];
  readonly kick: readonly string[];
  readonly snare: readonly string[];
  readonly hat: readonly string[];
  readonly open: readonly string[];
  readonly bass: readonly BassLine[];
  readonly swing: number;
}
type BassLine = 'offbeat' | 'rolling' | 'long' | 'onbeat' | 'broken' | 'octaves' | 'kick';

const STRAIGHT_HATS = ['..7...7...7...7.', '7676767676767676', '7.5.7.5.7.5.7.5.', '................'];
const OPEN_OFF = ['..8...8...8...8.', '................', '..8...8...8...88'];
export const RULES: readonly Rule[] = [
  { name: 'four to the floor', bpm: [118, 130], kick: ['9...9...9...9...'], snare: ['....8.......8...', '................', '....8.......8..5'], hat: STRAIGHT_HATS, open: OPEN_OFF, bass: ['offbeat', 'broken', 'long', 'octaves'], swing: 0.04 },
  { name: 'driving', bpm: [126, 150], kick: ['9...9...9...9...'], snare: ['................', '....7.......7...'], hat: STRAIGHT_HATS, open: OPEN_OFF, bass: ['offbeat', 'rolling', 'onbeat'], swing: 0 },
  { name: 'rolling', bpm: [132, 146], kick: ['9...9...9...9...'], snare: ['....8.......8...', '................'], hat: ['..8...8...8...8.', '6564656465646564'], open: OPEN_OFF, bass: ['rolling', 'offbeat'], swing: 0 },
  { name: 'half-time', bpm: [132, 150], kick: ['9.............6.', '9..........7....', '9.....8.........'], snare: ['........9.......'], hat: ['7.7.7.7.7.7.7.77', '7..7..7.7..7..7.', '8...8...8...8...'], open: ['................'], bass: ['long', 'broken'], swing: 0 },
  { name: 'fast broken', bpm: [162, 178], kick: ['9.........9.....', '9..9......9.....', '9.........9..9..'], snare: ['....9.......9...', '....9..3.3..9...'], hat: ['8.8.8.8.8.8.8.8.', '8585858585858585'], open: ['................', '......7.........'], bass: ['long', 'broken', 'kick'], swing: 0 },
  { name: 'broken', bpm: [104, 138], kick: ['9..9..9...9.....', '9.9.......9..9..', '9......9..9.....'], snare: ['....9.......9...', '....9..4.4..9..4'], hat: ['8.8.8.8.8.8.8.8.', '8686868686868686'], open: ['................', '..............8.'], bass: ['broken', 'kick', 'offbeat'], swing: 0.06 },
  { name: 'two-step', bpm: [126, 138], kick: ['9.........9.....', '9.....9...9.....'], snare: ['....9.......9...'], hat: ['..8..8.8..8..8.8', '.8.8.8.8.8.8.8.8'], open: ['..7...7...7...7.', '................'], bass: ['broken', 'long'], swing: 0.14 },
  { name: 'slow heavy', bpm: [68, 96], kick: ['9......9..9.....', '9.9...9..9......', '9.....9..9......'], snare: ['....9.......9...'], hat: ['8.8.8.8.8.8.8.8.', '8.8.8.888.8.8.8.'], open: ['................', '......7.........'], bass: ['long', 'kick', 'broken'], swing: 0.08 },
  { name: 'off-beat guitars', bpm: [70, 100], kick: ['........9.......', '9.......9.......', '9...9...9...9...'], snare: ['........8.......', '................'], hat: ['7.5.7.5.7.5.7.5.', '..7...7...7...7.'], open: ['................'], bass: ['broken', 'long'], swing: 0.08 },
  { name: 'dotted', bpm: [88, 108], kick: ['9...9...9...9...', '9...9...9...9...'], snare: ['...8..8....8..8.', '...9..7....9..7.'], hat: ['8.6.8.6.8.6.8.6.', '................'], open: ['................'], bass: ['onbeat', 'broken', 'offbeat'], swing: 0 },
]; // prettier-ignore

/** A saw tooth without what would fold back, by smoothed corners. */
function sawStep(phase: number, dt: number): number {
  let y = 2 * phase - 1;
  if (phase < dt) {
    const t = phase / dt;
    y -= t + t - t * t - 1;
  } else if (phase > 1 - dt) {
    const t = (phase - 1) / dt;
    y -= t * t + t + t + 1;
  }
  return y;
}

interface ToneShape {
  readonly voices: number;
  readonly detune: number;
  /** 0 sine, 1 saw, 2 square */ readonly wave: number;
  readonly sub: number;
  readonly cutoff: number;
  readonly sweep: number;
  readonly sweepFall: number;
  readonly attack: number;
  readonly fall: number;
  readonly hold: number;
  readonly release: number;
  readonly drive: number;
}

/** Adds a note of a made instrument. @returns when it is there, at a tenth of its peak, and its peak */
function tone(
  out: Float32Array,
  wide: Float32Array,
  t: number,
  length: number,
  key: number,
  gain: number,
  s: ToneShape,
  random: () => number,
): [number, number] {
  const hz = 440 * 2 ** ((key - 69) / 12),
    from = Math.round(t * RATE),
    n = Math.min(out.length - from, Math.round((length + s.release * 4) * RATE)),
    phases = Array.from({ length: s.voices }, () => random()),
    steps = phases.map((_, v) => (hz * 2 ** (((v - (s.voices - 1) / 2) * s.detune) / 1200)) / RATE);
  let low = 0,
    band = 0,
    sub = 0,
    peak = 1e-9,
    onset = 0;
  const first = new Float32Array(Math.min(n, 4800));
  for (let i = 0; i < n; i++) {
    const at = i / RATE;
    let a = 0,
      b = 0;
    for (let v = 0; v < s.voices; v++) {
      const p = (phases[v] = (phases[v]! + steps[v]!) % 1);
      const y =
        s.wave === 0
          ? Math.sin(2 * Math.PI * p)
          : s.wave === 1
            ? sawStep(p, steps[v]!)
            : sawStep(p, steps[v]!) - sawStep((p + 0.5) % 1, steps[v]!);
      a += y;
      b += v & 1 ? y : -y;
    }
    sub = (sub + hz / 2 / RATE) % 1;
    let x = a / Math.sqrt(s.voices) + s.sub * Math.sin(2 * Math.PI * sub * (hz > 110 ? 1 : 2));
    const cut = Math.min(0.9, (s.cutoff * (1 + s.sweep * Math.exp(-at / s.sweepFall)) * 2 * Math.PI) / RATE);
    low += cut * band;
    band += cut * (x - low - 0.9 * band);
    x = s.drive > 0 ? Math.tanh(low * (1 + s.drive)) : low;
    const shape =
      Math.min(1, at / s.attack) *
      (s.hold + (1 - s.hold) * Math.exp(-at / s.fall)) *
      (at > length ? Math.exp(-(at - length) / s.release) : 1);
    const y = gain * shape * x;
    out[from + i]! += y;
    wide[from + i]! += (gain * shape * b * 0.3 * Math.min(1, cut * 2)) / Math.sqrt(s.voices);
    if (Math.abs(y) > peak) peak = Math.abs(y);
    if (i < first.length) first[i] = Math.abs(y);
  }
  while (onset < first.length && first[onset]! < 0.1 * peak) onset++;
  return [onset / RATE, peak];
}

export interface Made {
  readonly sound: Float32Array;
  readonly onset: number;
  readonly peak: number;
}
const made = (seconds: number, f: (t: number) => number): Made => {
  const sound = new Float32Array(Math.round(seconds * RATE));
  let peak = 1e-9,
    at = 0;
  for (let i = 0; i < sound.length; i++) {
    sound[i] = f(i / RATE);
    peak = Math.max(peak, Math.abs(sound[i]!));
  }
  while (at < sound.length && Math.abs(sound[at]!) < 0.1 * peak) at++;
  return { sound, onset: at / RATE, peak };
};

/** Drums of one piece: a kick, a layered snare, hats, drawn anew for each. */
export function electricKit(random: () => number): Readonly<Record<number, Made>> {
  const between = (a: number, b: number): number => a + (b - a) * random(),
    noise = (): number => random() * 2 - 1;
  const kick = ((): Made => {
    const hz = between(38, 62),
      sweep = between(1, 9),
      sweepFall = between(0.008, 0.045),
      fall = random() < 0.25 ? between(0.35, 0.8) : between(0.09, 0.3),
      click = between(0, 0.6) * random(),
      drive = random() < 0.4 ? between(1, 8) : between(0, 0.8),
      body = between(0, 0.4);
    let phase = 0;
    return made(Math.min(1.6, fall * 5), (t) => {
      phase += (2 * Math.PI * hz * (1 + sweep * Math.exp(-t / sweepFall))) / RATE;
      const x = Math.sin(phase) + body * Math.sin(2 * phase);
      return (
        0.8 * Math.tanh(x * (1 + drive) * Math.exp(-t / fall)) * Math.min(1, t / 0.0008) +
        click * noise() * Math.exp(-t / 0.0025)
      );
    });
  })();
  const clap = (level: number): ((t: number) => number) => {
    const centre = between(900, 2400),
      gaps = between(0.007, 0.013),
      tail = between(0.05, 0.16);
    let a = 0,
      b = 0;
    const c = (2 * Math.PI * centre) / RATE;
    return (t) => {
      a += c * b;
      b += c * (noise() - a - 0.7 * b);
      const e = t < 3 * gaps ? Math.exp(-(t % gaps) / 0.004) : Math.exp(-(t - 3 * gaps) / tail);
      return level * 0.9 * b * e;
    };
  };
  const snare = ((): Made => {
    const hz = between(140, 290),
      toneLevel = between(0, 0.8),
      toneFall = between(0.03, 0.13),
      noiseFall = between(0.04, 0.24),
      high = between(0.1, 0.6),
      drive = random() < 0.4 ? between(1, 5) : 0,
      layered = random() < 0.55 ? clap(between(0.3, 1)) : null,
      late = random() < 0.3 ? between(0, 0.012) : 0,
      gated = random() < 0.2 ? between(0.09, 0.18) : Infinity;
    let before = 0,
      hp = 0;
    return made(0.7, (t) => {
      const w = noise();
      hp = (1 - high) * (hp + w - before);
      before = w;
      const x =
        toneLevel * Math.sin(2 * Math.PI * hz * t + 1.5 * Math.exp(-t / 0.01)) * Math.exp(-t / toneFall) +
        0.8 * hp * Math.exp(-t / noiseFall) +
        (layered && t >= late ? layered(t - late) : 0);
      return t > gated ? 0 : 0.7 * (drive > 0 ? Math.tanh(x * (1 + drive)) : x) * Math.min(1, t / 0.0006);
    });
  })();
  const onlyClap = clap(1),
    metal = between(3200, 6800),
    metals = Array.from({ length: 6 }, () => between(0.7, 1.9)),
    cut = between(0.4, 0.85);
  const hatOf = (fall: number): Made => {
    let before = 0,
      hp = 0;
    const mix = between(0.1, 0.9);
    return made(Math.min(0.9, fall * 6), (t) => {
      let m = 0;
      for (const r of metals) m += Math.sin(2 * Math.PI * metal * r * t) > 0 ? 0.2 : -0.2;
      const w = (1 - mix) * noise() + mix * m;
      hp = cut * (hp + w - before);
      before = w;
      return 0.6 * hp * Math.exp(-t / fall) * Math.min(1, t / 0.0004);
    });
  };
  return {
    [KICK[0]!]: kick,
    [SNARE[0]!]: snare,
    [CLAP]: made(0.6, (t) => 0.8 * onlyClap(t)),
    42: hatOf(between(0.012, 0.05)),
    [OPEN_HAT]: hatOf(between(0.1, 0.3)),
    [CRASH]: hatOf(between(0.5, 0.9)),
    62: made(0.3, (t) => 0.5 * Math.sin(2 * Math.PI * between(300, 301) * t) * Math.exp(-t / 0.06)),
  };
}

export function playMade(
  kit: Readonly<Record<number, Made>>,
  notes: readonly Note[],
  seconds: number,
): { left: Float32Array; right: Float32Array; notes: Sounded[] } {
  const left = new Float32Array(Math.round(seconds * RATE)),
    heard: Sounded[] = [];
  for (const note of notes) {
    const s = kit[note.key];
    if (!s) continue;
    const gain = (note.velocity / 127) ** 1.5,
      at = Math.round(note.t * RATE);
    for (let i = 0, k = at; i < s.sound.length && k < left.length; i++, k++) left[k]! += gain * s.sound[i]!;
    heard.push({ note, onset: note.t + s.onset, peak: gain * s.peak, soft: s.onset > 0.03 });
  }
  return { left, right: left, notes: heard };
}

/** Louder and softer with each stroke of the bass drum. */
function pump(parts: readonly Part[], kicks: readonly number[], depth: number, recover: number): void {
  for (const { left, right } of parts)
    for (let i = 0, k = -1, g = 1; i < left.length; i++) {
      while (k + 1 < kicks.length && kicks[k + 1]! * RATE <= i) k++;
      if (k >= 0) {
        const since = i / RATE - kicks[k]!;
        const want = 1 - depth * Math.max(0, 1 - (since / recover) ** 1.5);
        g += 0.01 * (want - g);
      }
      left[i]! *= g;
      if (right !== left) right[i]! *= g;
    }
}

/** How many steps of a bar a held chord sounds. */
const padSteps = (bar: PlannedBar | undefined): number =>
  bar ? Math.max(0, Math.min(16, Math.round((bar.silentFrom * bar.bars - bar.bar) * 16))) : 16;

/** Noise that rises through each build that has it. */
function rising(
  form: readonly PlannedBar[],
  timeOf: (bar: number, step: number) => number,
  frames: number,
  random: () => number,
): Float32Array | null {
  const out = new Float32Array(frames);
  let any = false;
  for (const [first, { what, bar, bars, rise, silentFrom }] of form.entries()) {
    if (what !== 'build' || bar > 0 || !rise) continue;
    any = true;
    const from = Math.round(timeOf(first, 0) * RATE),
      whole = (timeOf(first + bars, 0) - timeOf(first, 0)) * RATE,
      to = Math.min(frames, from + Math.round(whole * silentFrom)),
      most = 0.08 + 0.2 * random(),
      low0 = 300 + 500 * random();
    let low = 0,
      band = 0;
    for (let i = from; i < to; i++) {
      const at = (i - from) / whole,
        cut = Math.min(0.9, (2 * Math.PI * low0 * 20 ** at) / RATE);
      low += cut * band;
      band += cut * (random() * 2 - 1 - low - 0.8 * band);
      out[i] = most * at * band;
    }
  }
  return any ? out : null;
}

/** What a build does to the sound of what plays on in it: it thins out from below, and what is held swells. */
function tense(
  form: readonly PlannedBar[],
  timeOf: (bar: number, step: number) => number,
  drums: readonly Part[],
  rest: readonly Part[],
): void {
  for (const [first, { what, bar, bars, thin, swell }] of form.entries()) {
    if (what !== 'build' || bar > 0 || !(thin || swell)) continue;
    const from = Math.round(timeOf(first, 0) * RATE),
      whole = (timeOf(first + bars, 0) - timeOf(first, 0)) * RATE;
    for (const part of [...drums, ...rest])
      for (const x of new Set([part.left, part.right])) {
        let low = 0;
        for (let i = from; i < Math.min(x.length, from + whole); i++) {
          const at = (i - from) / whole;
          low += Math.min(0.9, (2 * Math.PI * 20 * 30 ** at) / RATE) * (x[i]! - low);
          if (thin) x[i]! -= low;
          if (swell && rest.includes(part)) x[i]! *= 0.25 + 0.75 * at;
        }
      }
  }
}

/** A piece by one of the rules. @param formOf - what it is built of; without it, of four bars at a time by chance */
export function makeDance(seed: number, side: Side, seconds: number, formOf?: FormOf): Song {
  const random = seeded(seed * 6151 + 211),
    pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!,
    between = (a: number, b: number): number => a + (b - a) * random();
  const rule = pick(ofSide(RULES, side, (r) => r.name)),
    bpm = between(...rule.bpm),
    step = 60 / bpm / 4,
    start = random() * 1.2,
    swing = random() < 0.5 ? rule.swing * random() : 0;
  const timeOf = (bar: number, i: number): number =>
    start + (bar * 16 + i + (i % 2 === 1 ? swing * 2 : 0)) * step;
  const bars = Math.ceil((seconds - start) / (16 * step)),
    form = formOf?.(bars) ?? null;
  const lanes = {
      kick: pick(rule.kick),
      snare: pick(rule.snare),
      hat: pick(rule.hat),
      open: pick(rule.open),
    },
    backbeat = random() < 0.25 ? CLAP : SNARE[0]!,
    twoLayers = random() < 0.2;
  const drums: Note[] = [],
    kicks: number[] = [];
  const hit = (t: number, key: number, tenths: number): void => {
    if (t < seconds - 0.05)
      drums.push({
        t,
        length: 0.1,
        program: DRUMS,
        key,
        velocity: Math.min(127, Math.round(tenths * 13 * between(0.9, 1.05))),
      });
  };
  const first = pick(['main', 'main', 'intro', 'bare'] as const);
  let section: Section = first;
  const sections: Section[] = [];
  for (let bar = 0; bar < bars; bar++) {
    const planned = form?.[bar];
    if (planned) section = planned.what;
    else if (bar > 0 && bar % 4 === 0) {
      const was: Section = section;
      section =
        was === 'break' ? 'build' : was === 'build' ? 'main' : random() < 0.3 ? pick(SECTIONS) : 'main';
    }
    sections.push(section);
    const last = bar % 4 === 3;
    for (let i = 0; i < 16; i++) {
      const t = timeOf(bar, i),
        kick = Number(lanes.kick[i]!) || 0;
      if (
        kick &&
        section !== 'break' &&
        !(section === 'build' && (planned ? place(planned, i) > planned.kickTo : bar % 4 > 1 && i > 7)) &&
        !(last && i > 11 && random() < 0.2)
      ) {
        hit(t, KICK[0]!, kick);
        kicks.push(t);
      }
      const snare = Number(lanes.snare[i]!) || 0;
      const silent = planned !== undefined && place(planned, i) >= planned.silentFrom;
      if (snare && !silent && section !== 'break' && section !== 'intro') {
        hit(t, backbeat, snare);
        if (twoLayers) hit(t + 0.004 * random(), CLAP, snare * 0.8);
      }
      if (section !== 'break' && section !== 'bare' && !silent) {
        const hat = Number(lanes.hat[i]!) || 0,
          open = Number(lanes.open[i]!) || 0;
        if (hat) hit(t, 42, hat * between(0.7, 1));
        if (open) hit(t, OPEN_HAT, open);
        if (last && i > 11 && random() < 0.3) hit(t + step / 2, 42, 6);
      }
      if (section === 'build' && planned) {
        const at = place(planned, i);
        if (planned.roll && at < planned.silentFrom && i % (at < 0.5 ? 4 : at < 0.75 ? 2 : 1) === 0)
          hit(t, SNARE[0]!, 4 + 4 * at);
      } else if (section === 'build') {
        const dense = bar % 4 < 2 ? (i % 4 === 0 ? 1 : 0) : bar % 4 === 2 ? (i % 2 === 0 ? 1 : 0) : 1;
        if (dense) hit(t, SNARE[0]!, 4 + (4 * ((bar % 4) + i / 16)) / 4);
      }
    }
    if (section === 'main' && (planned ? planned.bar === 0 : bar % 8 === 0) && random() < 0.5)
      hit(timeOf(bar, 0), CRASH, 8);
  }
  const root = 31 + Math.floor(random() * 12),
    ways = pick([
      [0, 0, 0, 0],
      [0, 0, 3, 5],
      [0, 8, 3, 10],
      [0, 5, 8, 7],
      [0, 10, 8, 10],
      [0, 0, -2, -4],
    ]),
    minor = random() < 0.7 ? 3 : 4;
  const line = pick(rule.bass),
    frames = Math.round(seconds * RATE);
  const empty = (): { left: Float32Array; right: Float32Array; notes: Sounded[] } => ({
    left: new Float32Array(frames),
    right: new Float32Array(frames),
    notes: [],
  });
  const bass = empty(),
    chords = empty(),
    lead = empty();
  const wideOf = new Float32Array(frames);
  const play = (
    to: ReturnType<typeof empty>,
    t: number,
    length: number,
    key: number,
    gain: number,
    shape: ToneShape,
  ): void => {
    if (t > seconds - 0.05) return;
    const [offset, peak] = tone(to.left, wideOf, t, length, key, gain, shape, random);
    to.notes.push({
      note: { t, length, program: 81, key, velocity: 100 },
      onset: t + offset,
      peak,
      soft: offset > 0.03,
    });
  };
  const bassShape: ToneShape = {
    voices: random() < 0.4 ? 2 : 1,
    detune: between(4, 18),
    wave: pick([0, 1, 1, 2]),
    sub: between(0, 0.8),
    cutoff: between(150, 1400),
    sweep: between(0, 4),
    sweepFall: between(0.03, 0.15),
    attack: between(0.001, 0.006),
    fall: between(0.12, 0.6),
    hold: between(0, 0.9),
    release: between(0.01, 0.05),
    drive: random() < 0.4 ? between(0, 3) : 0,
  };
  const padShape: ToneShape = {
    voices: 4,
    detune: between(6, 14),
    wave: 1,
    sub: 0,
    cutoff: between(500, 4000),
    sweep: 0,
    sweepFall: 0.1,
    attack: between(0.02, 0.3),
    fall: 1,
    hold: 1,
    release: 0.15,
    drive: 0,
  };
  const stabShape: ToneShape = {
    ...padShape,
    voices: 2,
    cutoff: between(900, 6000),
    sweep: between(0, 3),
    attack: 0.002,
    fall: between(0.08, 0.3),
    hold: between(0, 0.4),
    release: 0.04,
  };
  const arpShape: ToneShape = {
    ...stabShape,
    voices: 1,
    wave: pick([0, 1, 2]),
    fall: between(0.06, 0.25),
    hold: 0,
  };
  const hasPad = random() < 0.65,
    stabs = pick(['none', 'offbeat', 'syncopated', 'dotted', 'beats'] as const),
    arp = random() < 0.4 ? pick([1, 2, 2, 3]) : 0,
    breakBass = random() < 0.3;
  const STABS: Readonly<Record<string, readonly number[]>> = {
    none: [],
    offbeat: [2, 6, 10, 14],
    syncopated: [0, 3, 6, 10, 12],
    dotted: [0, 3, 6, 9, 12, 15],
    beats: [0, 4, 8, 12],
  };
  for (let bar = 0; bar < bars; bar++) {
    const s = sections[bar]!,
      planned = form?.[bar],
      silent = (i: number): boolean => planned !== undefined && place(planned, i) >= planned.silentFrom,
      r = root + ways[Math.floor(bar / 2) % 4]!,
      triad = [0, minor, 7];
    if (s !== 'intro' && (s !== 'break' || breakBass) && (s !== 'build' || breakBass)) {
      for (let i = 0; i < 16; i++) {
        const on =
          line === 'offbeat'
            ? i % 4 === 2
            : line === 'rolling'
              ? i % 4 !== 0
              : line === 'onbeat'
                ? i % 4 === 0
                : line === 'octaves'
                  ? i % 2 === 0
                  : line === 'kick'
                    ? lanes.kick[i] !== '.'
                    : line === 'long'
                      ? i === 0 || (i === 10 && bar % 2 === 1)
                      : '9..9..9...9.9...'[(i + bar) % 16] !== '.';
        if (on && !silent(i))
          play(
            bass,
            timeOf(bar, i),
            step * (line === 'long' ? 9 : line === 'offbeat' ? 1.7 : 0.9),
            r + (line === 'octaves' && i % 4 === 2 ? 12 : 0) + (line === 'broken' && random() < 0.2 ? 7 : 0),
            0.45,
            bassShape,
          );
      }
    }
    if (s === 'bare') continue;
    if (hasPad && s !== 'intro')
      for (const k of triad)
        play(chords, timeOf(bar, 0), padSteps(planned) * step, r + 24 + k, 0.09, padShape);
    if (s !== 'intro')
      for (const i of STABS[stabs]!.filter((x) => !silent(x)))
        for (const k of triad)
          play(chords, timeOf(bar, i), step * 1.5, r + 24 + k + (k === 7 ? -12 : 0), 0.14, stabShape);
    if (arp && s !== 'intro')
      for (let i = 0; i < 16 && !silent(i); i += arp)
        play(
          lead,
          timeOf(bar, i),
          step * 0.8,
          r + 36 + triad[(i / arp) % 3]! + (i % 8 === 0 ? 12 : 0),
          0.16,
          arpShape,
        );
  }
  for (let i = 0; i < frames; i++) {
    bass.right[i] = bass.left[i]!;
    const w = wideOf[i]!;
    chords.right[i] = chords.left[i]! - w;
    chords.left[i]! += w;
    lead.right[i] = lead.left[i]! * 0.8;
  }
  const kits = recordedKits(side),
    recorded = kits.length > 0 && random() < 0.35 ? pick(kits) : null,
    made = recorded ? null : electricKit(random);
  const parts: Part[] = [];
  drums.sort((a, b) => a.t - b.t);
  const roles: Readonly<Partial<Record<Role, readonly number[]>>> = {
    kick: KICK,
    snare: [...SNARE, CLAP],
    hat: [42, OPEN_HAT],
    drums: [CRASH],
  };
  for (const [role, keys] of Object.entries(roles) as [Role, readonly number[]][]) {
    const notes = drums.filter((n) => keys.includes(n.key));
    if (notes.length === 0) continue;
    const heard = recorded
      ? playKit(recorded, notes, seconds, seeded(seed * 31 + role.length))
      : playMade(made!, notes, seconds);
    if (heard.notes.length === 0) continue;
    // On the back beat a clap is a snare.
    const notesOf = (list: Part['notes']): Part['notes'] =>
      role === 'snare' ? list.map((n) => ({ ...n, note: { ...n.note, key: SNARE[0]! } })) : list;
    parts.push({ role, ...heard, notes: notesOf(heard.notes) });
  }
  const rest: Part[] = [];
  for (const [role, p] of [
    ['bass', bass],
    ['chords', chords],
    ['lead', lead],
  ] as const)
    if (p.notes.length > 0) rest.push({ role, ...p, notes: p.notes.sort((a, b) => a.onset - b.onset) });
  const noise = form && rising(form, timeOf, frames, seeded(seed * 71 + 3));
  if (noise) rest.push({ role: 'lead', left: noise, right: noise, notes: [] });
  if (random() < 0.6) pump(rest, kicks, between(0.3, 0.95), between(0.7, 1) * 4 * step);
  if (form) tense(form, timeOf, parts, rest);
  const beats: number[] = [],
    downbeats: number[] = [];
  for (let k = 0; start + k * 4 * step < seconds; k++) {
    beats.push(start + k * 4 * step);
    if (k % 4 === 0) downbeats.push(beats[k]!);
  }
  return {
    kind: 'dance',
    from: [`rule ${rule.name}`, ...(recorded ? [`kit ${recorded.name}`] : [])],
    seconds,
    parts: [...parts, ...rest],
    beats,
    downbeats,
    beatKnown: true,
    speech: [],
    ...(form && { passages: passagesOf(form, (bar) => Math.min(seconds, timeOf(bar, 0)), bars) }),
  };
}
/** The same, as stretches: what follows its like goes on. */
function passagesOf(
  form: readonly PlannedBar[],
  timeOf: (bar: number) => number,
  bars: number,
): readonly Passage[] {
  const all: Passage[] = [];
  for (let bar = 0; bar < bars; bar++) {
    const { what } = form[bar]!,
      last = all.at(-1),
      to = timeOf(bar + 1);
    if (last?.what === what) all[all.length - 1] = { ...last, to };
    else all.push({ what, from: timeOf(bar), to });
  }
  return all;
}
