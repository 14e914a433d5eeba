import { seeded } from '../random';
import { SAMPLE_RATE, type Frames } from '../units';
import type { Stroke, Syllable } from './score';

const TAU = 2 * Math.PI;

/** Adds a sample to a loop: what rings past the end sounds on at the start, so that a lap has no seam. */
function ring(out: Float32Array, frame: number, x: number): void {
  out[frame % out.length]! += x;
}

/** A two-pole resonator (`y = g·x + 2r cos(ω) y₁ − r² y₂`), scaled to unity at its middle. */
class Resonator {
  #y1 = 0;
  #y2 = 0;
  #a = 0;
  #b = 0;
  #g = 0;
  tune(hz: number, width: number): this {
    const r = Math.exp((-Math.PI * width) / SAMPLE_RATE);
    const w = (TAU * hz) / SAMPLE_RATE;
    this.#a = 2 * r * Math.cos(w);
    this.#b = -r * r;
    this.#g = (1 - r) * Math.sqrt(1 - 2 * r * Math.cos(2 * w) + r * r);
    return this;
  }
  step(x: number): number {
    const y = this.#g * x + this.#a * this.#y1 + this.#b * this.#y2;
    this.#y2 = this.#y1;
    this.#y1 = y;
    return y;
  }
}

type Voice = (stroke: Stroke, out: Float32Array, noise: () => number) => void;

const lowDrum: Voice = ({ frame, velocity, colour }, out, noise) => {
  const decay = colour ? 0.075 : 0.26 + 0.1 * velocity;
  const base = colour ? 74 : 61;
  let phase = 0,
    slap = 0;
  const length = Math.round(SAMPLE_RATE * decay * 6);
  for (let i = 0; i < length; i++) {
    const t = i / SAMPLE_RATE;
    phase += (TAU * (base + 42 * Math.exp(-t / 0.022) * velocity)) / SAMPLE_RATE;
    slap += 0.12 * (noise() - slap);
    const foot = Math.min(1, t / 0.0015);
    const body = Math.sin(phase) + 0.22 * Math.sin(phase * 1.59 + 0.4) * Math.exp(-t / (decay * 0.4));
    ring(
      out,
      frame + i,
      0.32 * velocity ** 1.3 * foot * (body * Math.exp(-t / decay) + 0.9 * slap * Math.exp(-t / 0.007)),
    );
  }
};

const snareDrum: Voice = ({ frame, velocity }, out, noise) => {
  const rattle = new Resonator().tune(3600, 3800),
    shell = new Resonator().tune(1500, 900);
  const length = Math.round(SAMPLE_RATE * 0.34);
  for (let i = 0; i < length; i++) {
    const t = i / SAMPLE_RATE;
    const n = noise();
    const skin =
      Math.sin(TAU * 196 * t + 3 * Math.exp(-t / 0.01)) * Math.exp(-t / 0.05) +
      0.5 * Math.sin(TAU * 333 * t) * Math.exp(-t / 0.03);
    const wires =
      (2.4 * rattle.step(n) + 1.2 * shell.step(n)) *
      Math.exp(-t / (0.045 + 0.05 * velocity)) *
      (1 - Math.exp(-t / 0.002));
    ring(out, frame + i, 0.27 * velocity ** 1.4 * Math.min(1, t / 0.0006) * (0.55 * skin + wires));
  }
};

const shaker: Voice = ({ frame, velocity }, out, noise) => {
  const grain = new Resonator().tune(6800, 3400),
    air = new Resonator().tune(10500, 4000);
  const rise = 0.012 + 0.014 * (1 - velocity),
    fall = 0.02 + 0.022 * velocity;
  const length = Math.round(SAMPLE_RATE * 0.2);
  for (let i = 0; i < length; i++) {
    const t = i / SAMPLE_RATE;
    const n = noise() * (noise() > 0.2 ? 1 : 2.2);
    const swing = t < rise ? (t / rise) ** 2 : Math.exp(-(t - rise) / fall);
    ring(out, frame + i, 0.14 * velocity ** 1.2 * swing * (grain.step(n) + 0.7 * air.step(n)));
  }
};

const CUP = [1, 1.506, 2.44, 2.94, 4.07];
const bell: Voice = ({ frame, velocity, colour }, out, noise) => {
  const hz = colour ? 1108 : 830;
  const length = Math.round(SAMPLE_RATE * 0.9);
  for (let i = 0; i < length; i++) {
    const t = i / SAMPLE_RATE;
    let x = 0;
    for (let k = 0; k < CUP.length; k++)
      x += (Math.sin(TAU * hz * CUP[k]! * t + k) / (1 + 0.9 * k)) * Math.exp((-t * (1 + 0.75 * k)) / 0.17);
    ring(
      out,
      frame + i,
      0.17 * velocity * Math.min(1, t / 0.0008) * (x + 0.4 * noise() * Math.exp(-t / 0.004)),
    );
  }
};

const VOICES: Record<Stroke['instrument'], Voice> = { lowDrum, snareDrum, shaker, bell };

/**
 * One instrument's stem as a loop, with the deck's first reflections.
 * @returns `length` frames at 48 kHz, full scale ±1
 */
export function renderStem(
  strokes: readonly Stroke[],
  instrument: Stroke['instrument'],
  length: Frames,
): Float32Array {
  const dry = new Float32Array(length);
  const random = seeded(strokes.length * 7919 + instrument.length);
  const noise = (): number => random() * 2 - 1;
  for (const stroke of strokes) if (stroke.instrument === instrument) VOICES[instrument](stroke, dry, noise);
  return reflect(dry);
}

/** Four early reflections from planks and awning, each duller than the one before. */
function reflect(dry: Float32Array): Float32Array {
  const out = Float32Array.from(dry);
  const n = dry.length;
  [
    [0.0113, 0.2, 0.5],
    [0.0197, 0.15, 0.4],
    [0.0311, 0.11, 0.3],
    [0.0473, 0.08, 0.22],
  ].forEach(([delay, gain, bright]) => {
    const d = Math.round(delay! * SAMPLE_RATE);
    let y = 0;
    for (let i = 0; i < n; i++) {
      y += bright! * (dry[(i - d + n) % n]! - y);
      out[i]! += gain! * y;
    }
  });
  return out;
}

// First three formants in Hz of five vowels, as phonetics textbooks give them for a grown speaker.
const VOWELS = [
  [730, 1090, 2440],
  [530, 1840, 2480],
  [300, 2250, 3000],
  [570, 840, 2410],
  [330, 870, 2240],
] as const;

/** The host's voice: a buzzing source through three formants, with hissing onsets. No words; only speech. */
export function renderVoice(syllables: readonly Syllable[], length: Frames): Float32Array {
  const out = new Float32Array(length);
  const random = seeded(4711);
  const formants = [new Resonator(), new Resonator(), new Resonator()];
  const hiss = new Resonator().tune(5200, 2600);
  let phase = 0,
    tilt = 0;
  for (const s of syllables) {
    const vowel = VOWELS[s.vowel]!;
    const onset = Math.round(s.hiss > 0 ? SAMPLE_RATE * 0.06 : 0);
    for (let i = 0; i < onset; i++) {
      const shape = Math.sin((Math.PI * i) / onset);
      ring(out, s.frame + i, 0.5 * s.hiss * shape * hiss.step(random() * 2 - 1));
    }
    formants.forEach((f, k) => f.tune(vowel[k]!, 70 + 40 * k));
    const start = s.frame + Math.round(onset * 0.7);
    for (let i = 0; i < s.frames + 2400; i++) {
      const t = i / s.frames;
      const shape = t < 1 ? Math.min(1, t / 0.18) * Math.min(1, (1 - t) / 0.3 + 0.02) : 0;
      const hz = s.pitch * (1 + 0.04 * Math.sin(6 * t) - 0.06 * t);
      phase = (phase + hz / SAMPLE_RATE) % 1;
      // A rounded pulse once a period, as vocal folds give it, with a breath of noise.
      const pulse = phase < 0.6 ? Math.sin((Math.PI * phase) / 0.6) ** 2 * (1 - phase) : 0;
      const source = pulse - 0.3 + 0.03 * (random() * 2 - 1);
      const lip = source - tilt; // lips radiate the difference
      tilt = source;
      const x =
        (formants[0]!.step(lip) + 0.7 * formants[1]!.step(lip) + 0.4 * formants[2]!.step(lip)) *
        shape *
        s.stress;
      ring(out, start + i, 20 * x);
    }
  }
  return out;
}
