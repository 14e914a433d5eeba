/** Our own instruments for the same notes: kits and voices drawn from a seed, so that no two pieces sound alike. 48 kHz. */
import { seeded } from '../../src/core/random';
import { CLAP, CRASH, DRUMS, KICK, OPEN_HAT, SNARE, type Note } from './score';

const RATE = 48000;
const TAU = 2 * Math.PI;

interface Kit {
  kickHz: number;
  kickSweep: number;
  kickFall: number;
  click: number;
  snareHz: number;
  snareTone: number;
  snareFall: number;
  snareLow: number;
  hatHz: number;
  hatFall: number;
  openFall: number;
  tomFall: number;
  drive: number;
}

function makeKit(seed: number): Kit {
  const r = seeded(seed * 77 + 5);
  const between = (a: number, b: number): number => a + (b - a) * r();
  return {
    kickHz: between(42, 68),
    kickSweep: between(1.5, 5),
    kickFall: between(0.07, 0.32),
    click: between(0, 0.5),
    snareHz: between(150, 240),
    snareTone: between(0.2, 0.9),
    snareFall: between(0.05, 0.18),
    snareLow: between(900, 2200),
    hatHz: between(5500, 9000),
    hatFall: between(0.015, 0.06),
    openFall: between(0.15, 0.45),
    tomFall: between(0.12, 0.35),
    drive: between(0, 1),
  };
}

/** First-order high-pass. */
class HighPass {
  #x = 0;
  #y = 0;
  readonly #a: number;
  constructor(hz: number) {
    this.#a = Math.exp((-TAU * hz) / RATE);
  }
  step(x: number): number {
    this.#y = this.#a * (this.#y + x - this.#x);
    this.#x = x;
    return this.#y;
  }
}

/** One drum stroke. @returns its samples */
export function drumSound(key: number, velocity: number, kitSeed: number, noiseSeed: number): Float32Array {
  const kit = makeKit(kitSeed),
    r = seeded(noiseSeed),
    noise = (): number => r() * 2 - 1;
  const v = (velocity / 127) ** 1.6;
  const make = (seconds: number, f: (t: number) => number): Float32Array =>
    Float32Array.from({ length: Math.round(seconds * RATE) }, (_, i) => v * f(i / RATE));
  if (KICK.includes(key)) {
    let phase = 0;
    return make(kit.kickFall * 6, (t) => {
      phase += (TAU * kit.kickHz * (1 + kit.kickSweep * Math.exp(-t / 0.02))) / RATE;
      const x = Math.sin(phase) * Math.exp(-t / kit.kickFall);
      return (
        0.8 * Math.tanh(x * (1 + kit.drive)) * Math.min(1, t / 0.001) +
        0.4 * kit.click * noise() * Math.exp(-t / 0.003)
      );
    });
  }
  if (SNARE.includes(key) || key === 37) {
    const high = new HighPass(kit.snareLow),
      short = key === 37 ? 0.3 : 1;
    return make(
      kit.snareFall * 6,
      (t) =>
        0.6 *
          kit.snareTone *
          Math.sin(TAU * kit.snareHz * (key === 37 ? 4 : 1) * t + 2 * Math.exp(-t / 0.008)) *
          Math.exp(-t / (0.06 * short)) +
        0.55 * high.step(noise()) * Math.exp(-t / (kit.snareFall * short)),
    );
  }
  if (key === CLAP) {
    const high = new HighPass(1000);
    return make(
      0.4,
      (t) =>
        0.5 * high.step(noise()) * (t < 0.03 ? Math.exp(-(t % 0.01) / 0.004) : Math.exp(-(t - 0.03) / 0.08)),
    );
  }
  if (key === 42 || key === 44 || key === OPEN_HAT) {
    const a = new HighPass(kit.hatHz),
      b = new HighPass(kit.hatHz),
      fall = key === OPEN_HAT ? kit.openFall : kit.hatFall;
    return make(fall * 6, (t) => {
      let metal = 0;
      for (let k = 0; k < 4; k++)
        metal += Math.sin(TAU * kit.hatHz * (0.62 + 0.31 * k) * t) > 0 ? 0.25 : -0.25;
      return 0.45 * b.step(a.step(noise() + 0.8 * metal)) * Math.min(1, t / 0.0006) * Math.exp(-t / fall);
    });
  }
  if (key === 69 || key === 70) {
    // Beads in a gourd: a soft start, duller and rounder than metal.
    const high = new HighPass(1800),
      foot = 0.012 + 0.02 * kit.openFall,
      fall = 0.02 + 0.4 * kit.hatFall,
      a = 1 - Math.exp((-TAU * (4000 + 300 * kit.drive)) / RATE);
    let low = 0,
      lower = 0;
    return make(0.25, (t) => {
      low += a * (noise() - low);
      lower += a * (low - lower);
      return 1.1 * high.step(lower) * (t < foot ? t / foot : Math.exp(-(t - foot) / fall));
    });
  }
  if (key === 54) {
    // Jingles: several plates that ring at their own pitches, struck within a few hundredths of a second of one another.
    const plates = Array.from({ length: 6 }, () => ({
      at: 0.035 * r() * r(),
      hz: 5200 + 6000 * r(),
      p: r() * 6,
    }));
    return make(0.4, (t) => {
      let x = 0;
      for (const { at, hz, p } of plates)
        if (t >= at) x += Math.sin(TAU * hz * t + p) * Math.exp(-(t - at) / 0.06);
      return 0.12 * x + 0.1 * noise() * Math.exp(-t / 0.02);
    });
  }
  if (key === CRASH || key === 57 || key === 51 || key === 59 || key === 53) {
    const high = new HighPass(3500),
      ride = key !== CRASH && key !== 57;
    return make(
      ride ? 0.8 : 1.8,
      (t) =>
        (ride ? 0.22 : 0.4) *
        high.step(noise() + (ride ? 1.2 * Math.sin(TAU * 3300 * t) * Math.exp(-t / 0.1) : 0)) *
        Math.exp(-t / (ride ? 0.22 : 0.5)),
    );
  }
  if (key >= 41 && key <= 50) {
    const hz = 70 * 2 ** ((key - 41) / 8);
    let phase = 0;
    return make(kit.tomFall * 5, (t) => {
      phase += (TAU * hz * (1 + 0.6 * Math.exp(-t / 0.03))) / RATE;
      return (
        0.6 * Math.sin(phase) * Math.exp(-t / kit.tomFall) * Math.min(1, t / 0.001) +
        0.1 * noise() * Math.exp(-t / 0.005)
      );
    });
  }
  const hz = 250 * 2 ** ((key - 54) / 7);
  return make(
    0.35,
    (t) =>
      0.4 *
        (Math.sin(TAU * hz * t) + 0.5 * Math.sin(TAU * hz * 2.76 * t) * Math.exp(-t / 0.03)) *
        Math.exp(-t / 0.07) *
        Math.min(1, t / 0.0008) +
      0.15 * noise() * Math.exp(-t / 0.003),
  );
}

/** One pitched note; the program chooses among plucked, bowed, blown and struck shapes. */
export function toneSound(note: Note): Float32Array {
  const { program, key, velocity, length } = note;
  const hz = 440 * 2 ** ((key - 69) / 12),
    v = 0.25 * (velocity / 127) ** 1.3;
  const held = (program >= 16 && program < 24) || (program >= 40 && program < 80) || program >= 88;
  const attack = (program >= 48 && program < 56) || program >= 88 ? 0.09 : held ? 0.02 : 0.003;
  const release = held ? 0.12 : 0.06,
    fall = held ? Infinity : program < 8 ? 0.7 : program >= 32 && program < 40 ? 0.5 : 0.35;
  const partials = Math.min(12, Math.floor(16000 / hz)),
    dull = 1 + ((program * 7) % 5) * 0.3;
  const out = new Float32Array(Math.round((length + release * 3) * RATE));
  for (let k = 1; k <= partials; k++) {
    const gain = v / k ** dull,
      w = (TAU * hz * k) / RATE,
      c = 2 * Math.cos(w),
      own = fall / (1 + 0.25 * (k - 1));
    let y1 = Math.sin(-w + k),
      y2 = Math.sin(-2 * w + k);
    for (let i = 0; i < out.length; i++) {
      const y = c * y1 - y2;
      y2 = y1;
      y1 = y;
      const t = i / RATE;
      out[i]! +=
        gain *
        y *
        Math.min(1, t / attack) *
        (own === Infinity ? 1 : Math.exp(-t / own)) *
        (t > length ? Math.exp(-(t - length) / release) : 1);
    }
  }
  return out;
}

/** Renders notes to one channel, and says when each is there: at −20 dB of its own peak. */
export function renderOwn(
  notes: readonly Note[],
  seconds: number,
  kitSeed: number,
): { sound: Float32Array; onsets: number[]; peaks: number[] } {
  const sound = new Float32Array(Math.round(seconds * RATE)),
    onsets: number[] = [],
    peaks: number[] = [];
  notes.forEach((n, i) => {
    const x = n.program === DRUMS ? drumSound(n.key, n.velocity, kitSeed, kitSeed * 1000 + i) : toneSound(n);
    const at = Math.round(n.t * RATE);
    let peak = 0;
    for (let k = 0; k < x.length; k++) {
      peak = Math.max(peak, Math.abs(x[k]!));
      if (at + k < sound.length) sound[at + k]! += x[k]!;
    }
    let first = 0;
    while (first < x.length && Math.abs(x[first]!) < peak * 0.1) first++;
    onsets.push(n.t + first / RATE);
    peaks.push(peak);
  });
  return { sound, onsets, peaks };
}

/** Room: a network of four delays fed back through an orthogonal mix. @param wet - 0 to 1 */
export function reverb(x: Float32Array, seconds: number, wet: number): Float32Array {
  const lengths = [1423, 1783, 2137, 2579],
    lines = lengths.map((n) => new Float32Array(n)),
    at = [0, 0, 0, 0],
    low = [0, 0, 0, 0];
  const gains = lengths.map((n) => 10 ** ((-3 * n) / RATE / seconds));
  const out = new Float32Array(x.length),
    d = [0, 0, 0, 0];
  for (let i = 0; i < x.length; i++) {
    for (let k = 0; k < 4; k++) {
      low[k]! += 0.6 * (lines[k]![at[k]!]! - low[k]!);
      d[k] = low[k]! * gains[k]!;
    }
    const half = (d[0]! + d[1]! + d[2]! + d[3]!) / 2;
    for (let k = 0; k < 4; k++) {
      lines[k]![at[k]!] = x[i]! + d[k]! - half;
      at[k] = (at[k]! + 1) % lengths[k]!;
    }
    out[i] = x[i]! + wet * (d[0]! - d[1]! + d[2]! - d[3]!) * 0.5;
  }
  return out;
}
