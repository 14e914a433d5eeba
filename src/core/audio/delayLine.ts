import type { Hop } from './hop';
import type { Frames } from '../units';

/** Hands a sound on later. Both channels; what is asked for before anything came is silence. */
export class DelayLine {
  readonly #left: Float32Array;
  readonly #right: Float32Array;
  #at = 0;
  /** @param frames - how late, at least 1 */
  constructor(readonly frames: Frames) {
    this.#left = new Float32Array(frames);
    this.#right = new Float32Array(frames);
  }
  /** Exchanges a hop's sound for that of `frames` before. Allocates nothing. */
  process(hop: Hop): void {
    const { left, right, frames } = hop;
    let at = this.#at;
    for (let i = 0; i < frames; i++) {
      const l = left[i]!,
        r = right[i]!;
      left[i] = this.#left[at]!;
      right[i] = this.#right[at]!;
      this.#left[at] = l;
      this.#right[at] = r;
      if (++at === this.frames) at = 0;
    }
    this.#at = at;
  }
}
