import FFT from 'fft.js';
import type { Frames, Hz, Seconds } from '../units';
import { Thinned } from './thinned';

/**
 * Power spectrum of the last moments of both channels, through a window that lets go of the present quickly.
 *
 * The window rises over most of its length and falls within its last part (`fall`): what has just begun weighs in at once,
 * where a symmetric window would wait for half its length. Each half is a raised cosine, so its side lobes fall at
 * 18 dB per octave as a Hann window's do. One complex transform serves both channels: of two real spectra packed into
 * one, `(|X(k)|² + |X(N−k)|²) / 2` is the sum of their powers.
 */
export class ShortSpectrum {
  /** Mean power of the two channels by bin, 0 to half the sample rate; a full-scale sine in both reads 1 at its bin. */
  readonly power: Float64Array;
  readonly size: Frames;
  readonly perBin: Hz;
  readonly #window: Float64Array;
  readonly #fft: FFT;
  readonly #ringL: Float64Array;
  readonly #ringR: Float64Array;
  readonly #input: Float64Array;
  readonly #bins: Float64Array;
  readonly #thinned: Thinned;
  /** Of each channel the windowed stretch, with the quiet around it that thinning wants. */
  readonly #stretch: readonly [Float64Array, Float64Array];
  /** By bin, what makes up for the thinning, in power. */
  readonly #regain: Float64Array;
  #at = 0;
  #stereoLeft = 0;

  /**
   * @param length - of the window @param fall - of its newest part that falls, at most half of it @param spacing - its bins are no further apart
   * @param highest - bins above it are not computed and read 0
   */
  constructor(length: Seconds, fall: Seconds, sampleRate: Hz, spacing: Hz = Infinity, highest: Hz = sampleRate / 2) {
    const frames = Math.max(16, Math.round(length * sampleRate));
    this.size = 2 ** Math.ceil(Math.log2(Math.max(frames, sampleRate / spacing)));
    this.perBin = sampleRate / this.size;
    this.#window = new Float64Array(frames);
    const down = Math.max(4, Math.round(fall * sampleRate)), up = frames - down;
    let sum = 0;
    for (let i = 0; i < frames; i++) sum += this.#window[i] = i < up ? 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / up) : 0.5 + 0.5 * Math.cos((Math.PI * (i - up + 0.5)) / down);
    for (let i = 0; i < frames; i++) this.#window[i]! *= 2 / sum;
    this.#ringL = new Float64Array(frames);
    this.#ringR = new Float64Array(frames);
    this.#thinned = new Thinned(frames, sampleRate, highest);
    const size = this.size / this.#thinned.every;
    this.#fft = new FFT(size);
    this.#stretch = [new Float64Array(frames + 2 * this.#thinned.margin), new Float64Array(frames + 2 * this.#thinned.margin)];
    this.#input = new Float64Array(size * 2);
    this.#bins = new Float64Array(size * 2);
    this.power = new Float64Array(this.size / 2 + 1);
    this.#regain = Float64Array.from({ length: Math.min(this.size / 2, Math.ceil(highest / this.perBin)) + 1 }, (_, k) => 1 / this.#thinned.gainAt(k / this.size) ** 2);
  }

  /** Takes sound in. Allocates nothing. @param mono - both channels are the same: half the work */
  push(left: Float32Array, right: Float32Array, frames: Frames, mono: boolean): void {
    const n = this.#window.length, l = this.#ringL, r = this.#ringR;
    let at = this.#at;
    for (let i = 0; i < frames; i++) {
      const a = left[i]!, b = right[i]!;
      l[at] = a < 1e6 && a > -1e6 ? a : 0; // NaN, infinity and nonsense count as silence
      r[at] = b < 1e6 && b > -1e6 ? b : 0;
      if (++at === n) at = 0;
    }
    this.#at = at;
    this.#stereoLeft = mono ? Math.max(0, this.#stereoLeft - frames) : n;
  }

  /** Computes `power` of what was pushed. */
  update(): void {
    const mono = this.#stereoLeft === 0, input = this.#input, bins = this.#bins, power = this.power, regain = this.#regain, size = this.#fft.size;
    input.fill(0);
    this.#take(this.#ringL, 0, mono ? 1 : 2);
    if (mono) {
      this.#fft.realTransform(bins as unknown as number[], input as unknown as number[]);
      for (let k = 0; k < regain.length; k++) power[k] = regain[k]! * (bins[2 * k]! * bins[2 * k]! + bins[2 * k + 1]! * bins[2 * k + 1]!);
      return;
    }
    this.#take(this.#ringR, 1, 2);
    this.#fft.transform(bins as unknown as number[], input as unknown as number[]);
    for (let k = 0; k < regain.length; k++) {
      const j = k === 0 ? 0 : size - k;
      const a = bins[2 * k]!, b = bins[2 * k + 1]!, c = bins[2 * j]!, d = bins[2 * j + 1]!;
      power[k] = (regain[k]! * (a * a + b * b + c * c + d * d)) / 4;
    }
  }

  /** The newest stretch of a channel, through the window, thinned, into every `stride`th number of the transform's input. */
  #take(ring: Float64Array, channel: 0 | 1, stride: 1 | 2): void {
    const w = this.#window, n = w.length, { every, margin } = this.#thinned, stretch = this.#stretch[channel], old = n - this.#at;
    const into = every === 1 ? this.#input : stretch, by = every === 1 ? stride : 1, from = every === 1 ? channel : margin;
    // The older part of the ring lies behind the newer one.
    for (let i = 0, k = this.#at, at = from; i < old; i++, k++, at += by) into[at] = ring[k]! * w[i]!;
    for (let i = old, k = 0, at = from + old * by; i < n; i++, k++, at += by) into[at] = ring[k]! * w[i]!;
    if (every > 1) this.#thinned.process(stretch, this.#input, this.#fft.size, stride, channel);
  }
}
