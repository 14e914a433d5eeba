import type { Hop } from './hop';
import { kaiser, sinc } from './kaiser';
import type { Frames, Hz, Seconds } from '../units';

/** One half of a half-band low-pass around its middle tap of ½: odd taps of a Kaiser-windowed sinc (β 8, 31 taps). */
const SIDE: Float64Array = (() => {
  const side = Float64Array.from({ length: 8 }, (_, i) => {
    const n = 2 * i + 1;
    return sinc(n / 2) * kaiser(n / 16, 8);
  });
  const sum = side.reduce((a, b) => a + b, 0);
  return side.map((x) => (x * 0.25) / sum); // the sides sum to ½: unity at DC
})();
const LENGTH = 31,
  MIDDLE = 15;

/** Halves the rate of one channel. What lies under a third of the new rate passes within 0.01 dB; what would fold onto it is 80 dB down. */
class Halver {
  readonly out: Float32Array;
  count = 0;
  readonly #ring = new Float64Array(32);
  #at = 0;
  #odd = false;
  constructor(most: Frames) {
    this.out = new Float32Array(Math.ceil(most / 2) + 1);
  }
  process(x: Float32Array, frames: Frames): void {
    const ring = this.#ring;
    let n = 0;
    for (let i = 0; i < frames; i++) {
      const v = x[i]!;
      ring[this.#at & 31] = v < 1e6 && v > -1e6 ? v : 0;
      this.#at = (this.#at + 1) & 31;
      this.#odd = !this.#odd;
      if (this.#odd) continue;
      const middle = this.#at + 32 - 1 - MIDDLE;
      let y = 0.5 * ring[middle & 31]!;
      for (let k = 0; k < 8; k++)
        y += SIDE[k]! * (ring[(middle - 2 * k - 1) & 31]! + ring[(middle + 2 * k + 1) & 31]!);
      this.out[n++] = y < 1e-30 && y > -1e-30 ? 0 : y;
    }
    this.count = n;
  }
}

/** Of the new rate, what passes within 0.05 dB however often it is halved. */
const PASSES = 0.3125;
/** Frames by which one halving is late, at its own input's rate. */
export const HALVING_DELAY: Frames = (LENGTH - 1) / 2;

interface Level {
  readonly left: Halver;
  readonly right: Halver;
}

/**
 * The sound of one input at half its rate, a quarter, an eighth …, made once for all who want low bands: a filter at a
 * sixteenth of the rate does a sixteenth of the work.
 */
export class Octaves {
  readonly #levels: Level[] = [];
  readonly #hopFrames: Frames;
  #stereo = false;
  constructor(
    readonly sampleRate: Hz,
    hopFrames: Frames,
  ) {
    this.#hopFrames = hopFrames;
  }

  /** How often a rate can be halved so that everything up to `high` still passes untouched, and is late by `patience` at most. */
  depthFor(high: Hz, patience: Seconds): number {
    let depth = 0;
    while (depth < 8 && high <= PASSES * this.rateAt(depth + 1) && this.delayAt(depth + 1) <= patience)
      depth++;
    return depth;
  }
  /** Makes sure that a depth is there. Set-up only: allocates. */
  need(depth: number): void {
    while (this.#levels.length < depth) {
      const most = Math.ceil(this.#hopFrames / 2 ** this.#levels.length) + 2;
      this.#levels.push({ left: new Halver(most), right: new Halver(most) });
    }
  }
  rateAt(depth: number): Hz {
    return this.sampleRate / 2 ** depth;
  }
  /** Seconds by which a depth is late. */
  delayAt(depth: number): Seconds {
    let delay = 0;
    for (let k = 0; k < depth; k++) delay += HALVING_DELAY / this.rateAt(k);
    return delay;
  }

  /** Takes one hop down all levels. Allocates nothing. */
  process(hop: Hop): void {
    if (!hop.mono) this.#stereo = true;
    let left = hop.left,
      right = hop.right,
      frames = hop.frames;
    for (let k = 0; k < this.#levels.length; k++) {
      const level = this.#levels[k]!;
      level.left.process(left, frames);
      if (this.#stereo) level.right.process(right, frames);
      left = level.left.out;
      right = this.#stereo ? level.right.out : left;
      frames = level.left.count;
    }
  }
  leftAt(depth: number, hop: Hop): Float32Array {
    return depth === 0 ? hop.left : this.#levels[depth - 1]!.left.out;
  }
  rightAt(depth: number, hop: Hop): Float32Array {
    return depth === 0
      ? hop.right
      : this.#stereo
        ? this.#levels[depth - 1]!.right.out
        : this.#levels[depth - 1]!.left.out;
  }
  framesAt(depth: number, hop: Hop): Frames {
    return depth === 0 ? hop.frames : this.#levels[depth - 1]!.left.count;
  }
}
