import { kernels, type Address, type Kernels } from '../kernels/kernels';
import type { Frames, Hz } from '../units';
import { kaiser, sinc } from './kaiser';

/** What is kept is at most a quarter of the thinned rate, so that a short filter will do. */
const ROOM = 4;
/** What would fold onto what is kept is 90 dB down: Kaiser's β for it, and his estimate of the taps it takes, `(90 − 7.95) / 14.36` by share of the rate. */
const BETA = 8.96,
  TAPS_BY_WIDTH = 5.714;

/**
 * A stretch of sound at a fraction of its rate, for those who only want its low end. The filter is symmetric and works on
 * the whole stretch at once: it takes no time and turns no phase.
 */
export class Thinned {
  /** Every how many frames one is kept: a power of 2. */
  readonly every: number;
  /** Frames of quiet that must stand before and after the stretch. */
  readonly margin: Frames;
  /** One half of the taps, from outermost to middle. */
  readonly #half: Float64Array;
  readonly #frames: Frames;
  readonly #kernels: Kernels;

  /** @param frames - of the stretch @param highest - up to there nothing is lost */
  constructor(frames: Frames, sampleRate: Hz, highest: Hz) {
    let every = 1;
    while (sampleRate / (2 * every) >= ROOM * highest) every *= 2;
    this.every = every;
    this.#kernels = kernels();
    this.#frames = frames;
    const width = (sampleRate / every - 2 * highest) / sampleRate;
    const middle = every === 1 ? 0 : Math.ceil(TAPS_BY_WIDTH / width / 2);
    this.margin = 2 * middle + every;
    this.#half = Float64Array.from(
      { length: middle + 1 },
      (_, i) => sinc((i - middle) / every) * kaiser((i - middle) / (middle + 1), BETA),
    );
    const sum = 2 * this.#half.reduce((a, b) => a + b, 0) - this.#half[middle]!;
    // What is left stands for what is left out.
    for (let i = 0; i <= middle; i++) this.#half[i]! *= every / sum;
  }

  /** How much of a frequency's amplitude is left. */
  gainAt(turnsPerFrame: number): number {
    const middle = this.#half.length - 1;
    let gain = this.#half[middle]!;
    for (let i = 0; i < middle; i++)
      gain += 2 * this.#half[i]! * Math.cos(2 * Math.PI * turnsPerFrame * (middle - i));
    return gain / this.every;
  }

  /**
   * Adds the stretch of two channels, thinned, to a ring of `size` pairs. Allocates nothing.
   * @param x - in the kernels' memory: {@link margin} pairs of quiet, the stretch, as many again; behind it is room for the taps @param out - the ring
   */
  process(x: Address, out: Address, size: number): void {
    const middle = this.#half.length - 1,
      { every, margin } = this,
      half = x + 16 * (this.#frames + 2 * margin);
    this.#kernels.f64.set(this.#half, half / 8);
    this.#kernels.call.thin(
      x,
      margin,
      half,
      middle,
      every,
      -Math.floor(middle / every),
      Math.floor((this.#frames - 1 + middle) / every),
      out,
      size,
    );
  }
}
