import type { Frames, Hz, Seconds } from '../units';
import { Thinned } from './thinned';
import { Transform } from './transform';

/**
 * Power spectrum of the last moments of both channels, through a window that lets go of the present quickly.
 *
 * The window rises over most of its length and falls within its last part (`fall`): what has just begun weighs in at once,
 * where a symmetric window would wait for half its length. Each half is a raised cosine, so its side lobes fall at
 * 18 dB per octave as a Hann window's do. One complex transform serves both channels: of two real spectra packed into
 * one, `(|X(k)|² + |X(N−k)|²) / 2` is the sum of their powers, and the imaginary part of `X(k) X(N−k) / 2` the real part of their product.
 */
export class ShortSpectrum {
  /** Mean power of the two channels by bin, 0 to half the sample rate; a full-scale sine in both reads 1 at its bin. */
  readonly power: Float64Array;
  /** What both channels have in common, by bin, in the same unit: `power` where they are one sound, 0 where they share nothing, below it in antiphase. */
  readonly common: Float64Array;
  readonly size: Frames;
  readonly perBin: Hz;
  readonly #window: Float64Array;
  readonly #transform: Transform;
  /** Both channels in turn, the oldest at `#at`. */
  readonly #ring: Float64Array;
  readonly #thinned: Thinned;
  /** By bin, what makes up for the thinning, in power. */
  readonly #regain: Float64Array;
  #at = 0;

  /**
   * @param length - of the window @param fall - of its newest part that falls, at most half of it @param spacing - its bins are no further apart
   * @param highest - bins above it are not computed and read 0
   */
  constructor(
    length: Seconds,
    fall: Seconds,
    sampleRate: Hz,
    spacing: Hz = Infinity,
    highest: Hz = sampleRate / 2,
  ) {
    const frames = Math.max(16, Math.round(length * sampleRate));
    this.size = 2 ** Math.ceil(Math.log2(Math.max(frames, sampleRate / spacing)));
    this.perBin = sampleRate / this.size;
    this.#window = new Float64Array(frames);
    const down = Math.max(4, Math.round(fall * sampleRate)),
      up = frames - down;
    let sum = 0;
    for (let i = 0; i < frames; i++)
      sum += this.#window[i] =
        i < up
          ? 0.5 - 0.5 * Math.cos((Math.PI * (i + 0.5)) / up)
          : 0.5 + 0.5 * Math.cos((Math.PI * (i - up + 0.5)) / down);
    for (let i = 0; i < frames; i++) this.#window[i]! *= 2 / sum;
    this.#ring = new Float64Array(2 * frames);
    this.#thinned = new Thinned(frames, sampleRate, highest);
    this.#transform = new Transform(this.size / this.#thinned.every);
    this.power = new Float64Array(this.size / 2 + 1);
    this.common = new Float64Array(this.size / 2 + 1);
    this.#regain = Float64Array.from(
      { length: Math.min(this.size / 2, Math.ceil(highest / this.perBin)) + 1 },
      (_, k) => 1 / this.#thinned.gainAt(k / this.size) ** 2,
    );
  }

  /** Takes sound in. Allocates nothing. */
  push(left: Float32Array, right: Float32Array, frames: Frames): void {
    const ring = this.#ring,
      n = ring.length;
    let at = 2 * this.#at;
    for (let i = 0; i < frames; i++) {
      const a = left[i]!,
        b = right[i]!;
      ring[at] = a < 1e6 && a > -1e6 ? a : 0; // NaN, infinity and nonsense count as silence
      ring[at + 1] = b < 1e6 && b > -1e6 ? b : 0;
      if ((at += 2) === n) at = 0;
    }
    this.#at = at / 2;
  }

  /** Computes `power` of what was pushed. Allocates nothing. */
  update(): void {
    const { memory, input, size, free } = this.#transform,
      { every, margin } = this.#thinned,
      power = this.power,
      common = this.common,
      regain = this.#regain,
      n = this.#window.length;
    if (every === 1) {
      this.#take(memory, input);
      memory.fill(0, input + 2 * n, input + 2 * size);
    } else {
      const stretch = free / 8,
        from = stretch + 2 * margin;
      memory.fill(0, stretch, from);
      this.#take(memory, from);
      memory.fill(0, from + 2 * n, from + 2 * n + 2 * margin);
      memory.fill(0, input, input + 2 * size);
      this.#thinned.process(free, 8 * input, size);
    }
    const bins = this.#transform.run();
    for (let k = 0; k < regain.length; k++) {
      const i = bins + 2 * k,
        j = k === 0 ? bins : bins + 2 * (size - k),
        a = memory[i]!,
        b = memory[i + 1]!,
        c = memory[j]!,
        d = memory[j + 1]!;
      power[k] = (regain[k]! * (a * a + b * b + c * c + d * d)) / 4;
      common[k] = (regain[k]! * (a * d + b * c)) / 2;
    }
  }

  /** The newest stretch of both channels, through the window. */
  #take(into: Float64Array, from: number): void {
    const w = this.#window,
      ring = this.#ring,
      n = w.length,
      old = n - this.#at;
    // The older part of the ring lies behind the newer one.
    for (let i = 0, k = 2 * this.#at, at = from; i < old; i++, k += 2, at += 2) {
      const h = w[i]!;
      into[at] = ring[k]! * h;
      into[at + 1] = ring[k + 1]! * h;
    }
    for (let i = old, k = 0, at = from + 2 * old; i < n; i++, k += 2, at += 2) {
      const h = w[i]!;
      into[at] = ring[k]! * h;
      into[at + 1] = ring[k + 1]! * h;
    }
  }
}
