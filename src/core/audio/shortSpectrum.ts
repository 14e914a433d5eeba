import FFT from 'fft.js';
import type { Frames, Hz, Seconds } from '../units';

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
  #at = 0;
  #stereoLeft = 0;

  /** @param length - of the window @param fall - of its newest part that falls, at most half of it @param spacing - its bins are no further apart */
  constructor(length: Seconds, fall: Seconds, sampleRate: Hz, spacing: Hz = Infinity) {
    const frames = Math.max(16, Math.round(length * sampleRate));
    this.size = 2 ** Math.ceil(Math.log2(Math.max(frames, sampleRate / spacing)));
    this.perBin = sampleRate / this.size;
    this.#fft = new FFT(this.size);
    this.#window = new Float64Array(frames);
    const down = Math.max(4, Math.round(fall * sampleRate)), up = frames - down;
    let sum = 0;
    for (let i = 0; i < frames; i++) sum += this.#window[i] = i < up ? 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / up) : 0.5 + 0.5 * Math.cos((Math.PI * (i - up + 0.5)) / down);
    for (let i = 0; i < frames; i++) this.#window[i]! *= 2 / sum;
    this.#ringL = new Float64Array(frames);
    this.#ringR = new Float64Array(frames);
    this.#input = new Float64Array(this.size * 2);
    this.#bins = new Float64Array(this.size * 2);
    this.power = new Float64Array(this.size / 2 + 1);
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
    const n = this.#window.length, w = this.#window, l = this.#ringL, r = this.#ringR, input = this.#input, bins = this.#bins, power = this.power;
    const half = this.size / 2;
    let from = this.#at;
    if (this.#stereoLeft === 0) {
      for (let i = 0; i < n; i++) { input[i] = l[from]! * w[i]!; if (++from === n) from = 0; }
      for (let i = n; i < this.size; i++) input[i] = 0; // the other way of packing leaves its numbers here
      this.#fft.realTransform(bins as unknown as number[], input as unknown as number[]);
      for (let k = 0; k <= half; k++) power[k] = bins[2 * k]! * bins[2 * k]! + bins[2 * k + 1]! * bins[2 * k + 1]!;
      return;
    }
    for (let i = 0; i < n; i++) { input[2 * i] = l[from]! * w[i]!; input[2 * i + 1] = r[from]! * w[i]!; if (++from === n) from = 0; }
    for (let i = 2 * n; i < 2 * this.size; i++) input[i] = 0;
    this.#fft.transform(bins as unknown as number[], input as unknown as number[]);
    for (let k = 0; k <= half; k++) {
      const j = k === 0 ? 0 : this.size - k;
      const a = bins[2 * k]!, b = bins[2 * k + 1]!, c = bins[2 * j]!, d = bins[2 * j + 1]!;
      power[k] = (a * a + b * b + c * c + d * d) / 4;
    }
  }
}
