import type { Milliseconds } from '../units';

/** Values that are kept on the way: more than a second of them, as often as the conductor turns. */
const KEPT = 256;

/** Values that go out later than they came, for an output that is quicker than the others. After it is made nothing is allocated. */
export class DelayedBytes {
  readonly #bytes: Uint8Array;
  readonly #at = new Float64Array(KEPT).fill(Infinity);
  readonly #size: number;
  #next = 0;
  #count = 0;

  /** @param size - bytes of one value */
  constructor(size: number) {
    this.#size = size;
    this.#bytes = new Uint8Array(size * KEPT);
  }

  /** A value as of this time; times only grow. Where more come than are kept, the oldest are forgotten. */
  put(now: Milliseconds, value: Uint8Array): void {
    this.#bytes.set(value, this.#next * this.#size);
    this.#at[this.#next] = now;
    this.#next = (this.#next + 1) % KEPT;
    if (this.#count < KEPT) this.#count++;
  }
  /** Copies the newest value that is no newer than this time. @returns whether there is one; if not, `out` stays as it is */
  read(until: Milliseconds, out: Uint8Array): boolean {
    for (let k = 1; k <= this.#count; k++) {
      const i = (this.#next - k + KEPT) % KEPT;
      if (this.#at[i]! > until) continue;
      const from = i * this.#size;
      for (let b = 0; b < this.#size; b++) out[b] = this.#bytes[from + b]!;
      return true;
    }
    return false;
  }
}
