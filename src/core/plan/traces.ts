import type { Seconds } from '../units';
import { HOP, SAMPLE_RATE } from '../units';

/** Ticks in one column of a trace: 21.3 ms. */
export const TICKS_PER_COLUMN = 4;
/** Columns kept: 12.29 s, a little more than the twelve seconds that are shown. */
export const TRACE_COLUMNS = 576;
export const COLUMN_SECONDS: Seconds = (TICKS_PER_COLUMN * HOP) / SAMPLE_RATE;

export function columnOfTick(tick: number): number {
  return Math.floor(tick / TICKS_PER_COLUMN);
}

/**
 * Recent history of many rows: one number per column, the greatest of its ticks; NaN where nothing is known.
 * The memory is the caller's, so that it may be shared. One writer; readers may see the newest column half done.
 */
export class Traces {
  readonly rows: number;
  readonly #data: Float32Array;
  readonly #head: Int32Array;

  /** @param data - rows × {@link TRACE_COLUMNS} @param head - one element: the newest column's number, −1 for none */
  constructor(data: Float32Array, head: Int32Array) {
    this.#data = data;
    this.#head = head;
    this.rows = Math.floor(data.length / TRACE_COLUMNS);
  }

  static make(rows: number): Traces {
    return new Traces(new Float32Array(rows * TRACE_COLUMNS).fill(NaN), Int32Array.of(-1));
  }

  get newest(): number {
    return Atomics.load(this.#head, 0);
  }

  /** Opens the columns up to this one; skipped ones are unknown. */
  advance(column: number): void {
    const from = this.newest;
    if (column <= from) return;
    for (let c = Math.max(from + 1, column - TRACE_COLUMNS + 1); c <= column; c++) {
      const at = c % TRACE_COLUMNS;
      for (let row = 0; row < this.rows; row++) this.#data[row * TRACE_COLUMNS + at] = NaN;
    }
    Atomics.store(this.#head, 0, column);
  }

  /** Takes a number into the newest column. */
  put(row: number, x: number): void {
    const at = row * TRACE_COLUMNS + (this.newest % TRACE_COLUMNS);
    const old = this.#data[at]!;
    if (!(x <= old)) this.#data[at] = x;
  }

  /** Writes one column of the past, where nothing is known yet. */
  fill(row: number, column: number, x: number): void {
    const newest = this.newest;
    if (column > newest || column <= newest - TRACE_COLUMNS || column < 0) return;
    const at = row * TRACE_COLUMNS + (column % TRACE_COLUMNS);
    if (Number.isNaN(this.#data[at]!)) this.#data[at] = x;
  }

  clear(row: number): void {
    this.#data.fill(NaN, row * TRACE_COLUMNS, (row + 1) * TRACE_COLUMNS);
  }

  /** Takes everything over from a smaller store. */
  copyFrom(other: Traces): void {
    this.#data.set(
      other.#data.length > this.#data.length ? other.#data.subarray(0, this.#data.length) : other.#data,
    );
    Atomics.store(this.#head, 0, other.newest);
  }

  /**
   * Reads a row, oldest first.
   * @param out - receives the last `out.length` columns, at most {@link TRACE_COLUMNS}
   * @returns the number of the newest column, which stands last
   */
  read(row: number, out: Float32Array): number {
    const newest = this.newest;
    const n = out.length;
    for (let i = 0; i < n; i++) {
      const c = newest - n + 1 + i;
      out[i] = c < 0 || row >= this.rows ? NaN : this.#data[row * TRACE_COLUMNS + (c % TRACE_COLUMNS)]!;
    }
    return newest;
  }

  /** The greatest number of the last `columns`; 0 when nothing is known. */
  recent(row: number, columns: number): number {
    const newest = this.newest;
    let top = 0;
    for (let i = 0; i < columns && newest - i >= 0; i++) {
      const x = this.#data[row * TRACE_COLUMNS + ((newest - i) % TRACE_COLUMNS)]!;
      if (x > top) top = x;
    }
    return top;
  }
}
