import { BAND_COUNT, type BandFrame } from './bandFrame';

/** Two band frames taken together, for what needs no finer time: the louder of each band, and how far it rose over the two before. */
export class PooledFrame {
  /** The louder of each band, then the rises. */
  readonly input = new Float32Array(BAND_COUNT * 2);
  readonly #pool = new Float32Array(BAND_COUNT);
  readonly #before = new Float32Array(BAND_COUNT);
  #half = false;
  #first = true;

  /** Takes a frame. Allocates nothing. @returns whether it was the second of its two: `input` is new then */
  take(frame: BandFrame): boolean {
    const x = frame.bands;
    this.#half = !this.#half;
    if (this.#half) {
      this.#pool.set(x);
      return false;
    }
    for (let b = 0; b < BAND_COUNT; b++) {
      const m = x[b]! > this.#pool[b]! ? x[b]! : this.#pool[b]!;
      const rise = this.#first ? 0 : m - this.#before[b]!;
      this.input[b] = m;
      this.input[BAND_COUNT + b] = rise > 0 ? rise : 0;
      this.#before[b] = m;
    }
    this.#first = false;
    return true;
  }
}
