import type { Hop } from '../audio/hop';
import type { ShortSpectrum } from '../audio/shortSpectrum';
import type { Hearing } from '../hearing/hearing';
import type { Seconds } from '../units';
import { hzToMel, melToHz } from './bandSet';
import type { EarRunner } from './runner';
import type { Listening } from './listening';

export const POINTS_LEAST = 2,
  POINTS_MOST = 2048;
const LOW = 30,
  HIGH = 16000;
/** A waveform shows this much sound. */
const WAVE: Seconds = 0.0427;

/**
 * The spectrum or the waveform as a row of points. Spectrum: amplitudes from 30 Hz (linear scale: 0) to 16 kHz, each point the
 * strongest of its stretch. Waveform: the last 43 ms, from a rising crossing of zero, so that a steady tone stands still.
 */
export class VectorEar implements EarRunner {
  value = 0;
  readonly vector: Float32Array;
  readonly delay: Seconds;
  readonly #fine: ShortSpectrum | null;
  readonly #edges: Float64Array;
  readonly #wave: Float32Array;
  #at = 0;

  constructor({ of, scale, points }: Extract<Listening, { kind: 'vector' }>, hearing: Hearing) {
    const n = Math.max(POINTS_LEAST, Math.min(POINTS_MOST, Math.round(points)));
    this.vector = new Float32Array(n);
    this.#fine = of === 'spectrum' ? hearing.fine : null;
    this.delay = of === 'spectrum' ? 0.043 : WAVE / 2;
    const frames = Math.round(WAVE * hearing.sampleRate);
    this.#wave = new Float32Array(of === 'waveform' ? frames * 2 : 0);
    const top = Math.min(HIGH, hearing.sampleRate * 0.48);
    this.#edges = Float64Array.from({ length: n + 1 }, (_, i) => {
      const s = i / n;
      const hz =
        scale === 'linear'
          ? s * top
          : scale === 'log'
            ? LOW * (top / LOW) ** s
            : melToHz(hzToMel(LOW) + (hzToMel(top) - hzToMel(LOW)) * s);
      return this.#fine ? hz / this.#fine.perBin : 0;
    });
  }

  process(hop: Hop): void {
    if (this.#fine) this.#spectrum(this.#fine.power);
    else this.#waveform(hop);
    let top = 0;
    for (let i = 0; i < this.vector.length; i++) {
      const a = Math.abs(this.vector[i]!);
      if (a > top) top = a;
    }
    this.value = top;
  }

  #spectrum(power: Float64Array): void {
    const edges = this.#edges,
      last = power.length - 1;
    for (let i = 0; i < this.vector.length; i++) {
      const a = edges[i]!,
        b = edges[i + 1]!,
        middle = (a + b) / 2,
        k = Math.min(last - 1, Math.floor(middle));
      let best = power[k]! + (power[k + 1]! - power[k]!) * (middle - k);
      for (let j = Math.ceil(a); j < b && j <= last; j++) if (power[j]! > best) best = power[j]!;
      this.vector[i] = Math.sqrt(Math.max(0, best));
    }
  }

  #waveform(hop: Hop): void {
    const wave = this.#wave,
      size = wave.length,
      shown = size / 2;
    for (let i = 0; i < hop.frames; i++) {
      const x = (hop.left[i]! + hop.right[i]!) / 2;
      wave[this.#at] = x < 1e6 && x > -1e6 ? x : 0;
      if (++this.#at === size) this.#at = 0;
    }
    // The newest crossing that still leaves a whole window after it.
    let back = shown;
    for (let i = shown; i < size - 1; i++) {
      const a = wave[(this.#at - i - 1 + size) % size]!,
        b = wave[(this.#at - i + size) % size]!;
      if (a < 0 && b >= 0) {
        back = i;
        break;
      }
    }
    const n = this.vector.length;
    for (let i = 0; i < n; i++) {
      const place = (i * (shown - 1)) / Math.max(1, n - 1),
        k = Math.floor(place),
        f = place - k;
      const a = wave[(this.#at - back + k + 2 * size) % size]!,
        b = wave[(this.#at - back + k + 1 + 2 * size) % size]!;
      this.vector[i] = a + (b - a) * f;
    }
  }
}
