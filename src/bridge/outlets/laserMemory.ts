import { POINT, POINTS_MOST } from '../../core/laser';

/**
 * From this thread's clock to the one that all threads of the machine share, in ms: both are monotonic, so it stays the same.
 */
export const STEADY = Number(process.hrtime.bigint()) / 1e6 - performance.now();

const WORDS = 4,
  WORD = { sequence: 0, count: 1, marks: 2 } as const;
const REALS_AT = 16,
  POINTS_AT = 32;
export const makeLaserMemory = (): SharedArrayBuffer =>
  new SharedArrayBuffer(POINTS_AT + 4 * POINT * POINTS_MOST);

/** The newest frame of the laser, between the thread that hears it and the one that sends. One writer, one reader. */
export class LaserWriter {
  readonly #words: Int32Array;
  readonly #reals: Float64Array;
  readonly #bytes: Uint8Array;
  constructor(memory: SharedArrayBuffer) {
    this.#words = new Int32Array(memory, 0, WORDS);
    this.#reals = new Float64Array(memory, REALS_AT, 1);
    this.#bytes = new Uint8Array(memory, POINTS_AT);
  }
  /** @param points - as they came: {@link POINT} numbers of 32 bits each @param madeAt - by the clock that both threads share */
  write(points: Uint8Array, madeAt: number, marks: number): void {
    Atomics.add(this.#words, WORD.sequence, 1);
    const n = Math.min(POINTS_MOST, Math.floor(points.length / (4 * POINT)));
    this.#bytes.set(points.subarray(0, n * 4 * POINT));
    this.#reals[0] = madeAt;
    this.#words[WORD.count] = n;
    this.#words[WORD.marks] = marks;
    Atomics.add(this.#words, WORD.sequence, 1);
  }
}
export class LaserReader {
  readonly points = new Float32Array(POINT * POINTS_MOST);
  count = 0;
  marks = 0;
  madeAt = -Infinity;
  readonly #words: Int32Array;
  readonly #reals: Float64Array;
  readonly #points: Float32Array;
  #seen = 0;
  constructor(memory: SharedArrayBuffer) {
    this.#words = new Int32Array(memory, 0, WORDS);
    this.#reals = new Float64Array(memory, REALS_AT, 1);
    this.#points = new Float32Array(memory, POINTS_AT);
  }
  /** @returns whether there is a newer frame than the last that was read */
  read(): boolean {
    for (let attempt = 0; attempt < 5; attempt++) {
      const before = Atomics.load(this.#words, WORD.sequence);
      if (before === this.#seen) return false;
      if (before & 1) continue;
      const n = this.#words[WORD.count]!;
      this.points.set(this.#points.subarray(0, n * POINT));
      const madeAt = this.#reals[0]!,
        marks = this.#words[WORD.marks]!;
      if (Atomics.load(this.#words, WORD.sequence) !== before) continue;
      this.#seen = before;
      this.count = n;
      this.madeAt = madeAt;
      this.marks = marks;
      return true;
    }
    return false;
  }
}
