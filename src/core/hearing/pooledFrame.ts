/** Two rows of band levels taken together, for what needs no finer time: the louder of each band, and how far it rose over the two before. */
export class PooledFrame {
  /** The louder of each band, then the rises. */
  readonly input: Float32Array;
  readonly #pool: Float32Array;
  readonly #before: Float32Array;
  #half = false;
  #first = true;

  /** @param count - of bands */
  constructor(count: number) {
    this.input = new Float32Array(2 * count);
    this.#pool = new Float32Array(count);
    this.#before = new Float32Array(count);
  }

  /** Takes a row. Allocates nothing. @returns whether it was the second of its two: `input` is new then */
  take(x: Float32Array): boolean {
    const n = this.#pool.length;
    this.#half = !this.#half;
    if (this.#half) {
      this.#pool.set(x);
      return false;
    }
    for (let b = 0; b < n; b++) {
      const m = x[b]! > this.#pool[b]! ? x[b]! : this.#pool[b]!;
      const rise = this.#first ? 0 : m - this.#before[b]!;
      this.input[b] = m;
      this.input[n + b] = rise > 0 ? rise : 0;
      this.#before[b] = m;
    }
    this.#first = false;
    return true;
  }
}
