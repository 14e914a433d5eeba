import { SILENCE_DB, type Frames, type Hz } from '../units';
import { Transform } from './transform';

/** Points of the field, evenly spaced by pitch from 20 Hz to 20 kHz. */
export const SPECTRUM_POINTS = 160;
export const SPECTRUM_LOW: Hz = 20;
export const SPECTRUM_HIGH: Hz = 20000;
/** 85 ms at 48 kHz: fine enough to tell two low drums apart on the field, which is looked at and not ridden. */
export const SPECTRUM_FRAMES: Frames = 4096;

/** Frequency of a place on the field: 0 is 20 Hz, 1 is 20 kHz. */
export function fieldToHz(place: number): Hz {
  return SPECTRUM_LOW * (SPECTRUM_HIGH / SPECTRUM_LOW) ** place;
}
/** Place on the field of a frequency. */
export function hzToField(hz: Hz): number {
  return Math.log(hz / SPECTRUM_LOW) / Math.log(SPECTRUM_HIGH / SPECTRUM_LOW);
}

/**
 * Magnitude spectrum of the last 4,096 frames (Hann) on a pitch axis, in dBFS of a sine's peak.
 * Both channels go through one complex transform, so a sound in antiphase is still seen.
 */
export class Spectrum {
  readonly #transform = new Transform(SPECTRUM_FRAMES);
  readonly #window = new Float64Array(SPECTRUM_FRAMES);
  readonly #ring = new Float64Array(SPECTRUM_FRAMES * 2);
  readonly #power = new Float64Array(SPECTRUM_FRAMES / 2 + 1);
  readonly #from = new Float64Array(SPECTRUM_POINTS);
  readonly #to = new Float64Array(SPECTRUM_POINTS);
  #at = 0;

  constructor(sampleRate: Hz) {
    let sum = 0;
    for (let i = 0; i < SPECTRUM_FRAMES; i++)
      sum += this.#window[i] = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / SPECTRUM_FRAMES);
    // A full-scale sine then reads 1 at its bin.
    for (let i = 0; i < SPECTRUM_FRAMES; i++) this.#window[i]! *= 2 / sum;
    const perBin = sampleRate / SPECTRUM_FRAMES;
    for (let i = 0; i < SPECTRUM_POINTS; i++) {
      this.#from[i] = fieldToHz((i - 0.5) / (SPECTRUM_POINTS - 1)) / perBin;
      this.#to[i] = fieldToHz((i + 0.5) / (SPECTRUM_POINTS - 1)) / perBin;
    }
  }

  /** Takes sound in. Allocates nothing. */
  push(left: Float32Array, right: Float32Array, frames: Frames): void {
    let at = this.#at;
    const ring = this.#ring;
    for (let i = 0; i < frames; i++) {
      const l = left[i]!,
        r = right[i]!;
      ring[at * 2] = l - l === 0 ? l : 0;
      ring[at * 2 + 1] = r - r === 0 ? r : 0;
      at = (at + 1) % SPECTRUM_FRAMES;
    }
    this.#at = at;
  }

  /** @param out - receives {@link SPECTRUM_POINTS} levels in dBFS from `offset` on */
  read(out: Float32Array, offset = 0): void {
    const n = SPECTRUM_FRAMES,
      { memory, input } = this.#transform,
      power = this.#power;
    for (let i = 0; i < n; i++) {
      const from = ((this.#at + i) % n) * 2;
      const w = this.#window[i]!;
      memory[input + i * 2] = this.#ring[from]! * w;
      memory[input + i * 2 + 1] = this.#ring[from + 1]! * w;
    }
    const bins = this.#transform.run();
    for (let k = 0; k <= n / 2; k++) {
      const i = bins + 2 * k,
        j = bins + 2 * ((n - k) % n);
      // |L|² + |R|² of the two real spectra packed into one complex transform, halved: their mean.
      power[k] = (memory[i]! ** 2 + memory[i + 1]! ** 2 + memory[j]! ** 2 + memory[j + 1]! ** 2) / 4;
    }
    for (let i = 0; i < SPECTRUM_POINTS; i++) {
      const a = this.#from[i]!,
        b = this.#to[i]!;
      let best = between(power, (a + b) / 2);
      for (let k = Math.ceil(a); k <= b && k <= n / 2; k++) if (power[k]! > best) best = power[k]!;
      out[offset + i] = best > 1e-14 ? 10 * Math.log10(best) : SILENCE_DB;
    }
  }
}

function between(power: Float64Array, k: number): number {
  const i = Math.floor(k);
  if (i >= power.length - 1) return 0;
  return power[i]! + (power[i + 1]! - power[i]!) * (k - i);
}
