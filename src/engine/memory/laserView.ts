import { POINT, POINTS_MOST } from '../../core/laser';
import { SEEN_HEAD, SEEN_POINT } from '../../core/protocols';

/**
 * What the laser is to draw, and what its mirrors drew of late, between the outlet worker and whoever shows it. One writer; a reader
 * that is overtaken looks again.
 */
const enum Word {
  Sequence,
  Count,
  Seen,
  LeftOut,
  Length = 4,
}
const enum Num {
  Spacing,
  Repeats,
  LitWay,
  DarkWay,
  Length = 4,
}
/** Points that mirrors drew, as many as an eye keeps and a good deal more. */
export const SEEN_KEPT = 8192;
const NUMS_AT = 16,
  WANTED_AT = NUMS_AT + 8 * Num.Length,
  SEEN_AT = WANTED_AT + 4 * POINT * POINTS_MOST,
  BYTES = SEEN_AT + 4 * POINT * SEEN_KEPT;
/** Of the field, whose half is 1: how a seen place is written. */
const SEEN_SCALE = 1 / 27000;

/** Shared where a page may share memory between threads; a page that only shows it needs no other thread. */
export const makeLaserView = (): SharedArrayBuffer =>
  typeof SharedArrayBuffer === 'undefined'
    ? (new ArrayBuffer(BYTES) as unknown as SharedArrayBuffer)
    : new SharedArrayBuffer(BYTES);

/** What it took to keep to the rate. */
export interface WantedCost {
  readonly spacing: number;
  readonly repeats: number;
  readonly leftOut: number;
}

export class LaserViewWriter {
  readonly #words: Int32Array;
  readonly #nums: Float64Array;
  readonly #wanted: Float32Array;
  readonly #seen: Float32Array;
  constructor(memory: SharedArrayBuffer) {
    this.#words = new Int32Array(memory, 0, Word.Length);
    this.#nums = new Float64Array(memory, NUMS_AT, Num.Length);
    this.#wanted = new Float32Array(memory, WANTED_AT, POINT * POINTS_MOST);
    this.#seen = new Float32Array(memory, SEEN_AT, POINT * SEEN_KEPT);
  }
  want(points: Float32Array, count: number, cost: WantedCost, litWay: number, darkWay: number): void {
    Atomics.add(this.#words, Word.Sequence, 1);
    this.#wanted.set(points.subarray(0, count * POINT));
    this.#words[Word.Count] = count;
    this.#words[Word.LeftOut] = cost.leftOut;
    this.#nums[Num.Spacing] = cost.spacing;
    this.#nums[Num.Repeats] = cost.repeats;
    this.#nums[Num.LitWay] = litWay;
    this.#nums[Num.DarkWay] = darkWay;
    Atomics.add(this.#words, Word.Sequence, 1);
  }
  /** @param frame - as the bridge tells what mirrors drew */
  see(frame: Uint8Array): void {
    const view = new DataView(frame.buffer, frame.byteOffset, frame.byteLength),
      n = Math.min(view.getUint16(2, true), Math.floor((frame.length - SEEN_HEAD) / SEEN_POINT));
    const total = this.#words[Word.Seen]!;
    for (let i = 0, at = SEEN_HEAD; i < n; i++, at += SEEN_POINT) {
      const to = ((total + i) % SEEN_KEPT) * POINT,
        s = this.#seen;
      s[to] = view.getInt16(at, true) * SEEN_SCALE;
      s[to + 1] = view.getInt16(at + 2, true) * SEEN_SCALE;
      for (let c = 0; c < 3; c++) s[to + 2 + c] = frame[at + 4 + c]! / 255;
    }
    Atomics.store(this.#words, Word.Seen, (total + n) & 0x3fffffff);
  }
}

export class LaserViewReader {
  readonly wanted = new Float32Array(POINT * POINTS_MOST);
  count = 0;
  cost: WantedCost = { spacing: 1, repeats: 1, leftOut: 0 };
  litWay = 0;
  darkWay = 0;
  /** What mirrors drew: a ring of {@link SEEN_KEPT} points, read where it is. */
  readonly seen: Float32Array;
  readonly #words: Int32Array;
  readonly #nums: Float64Array;
  readonly #wanted: Float32Array;
  #read = 0;
  constructor(memory: SharedArrayBuffer) {
    this.#words = new Int32Array(memory, 0, Word.Length);
    this.#nums = new Float64Array(memory, NUMS_AT, Num.Length);
    this.#wanted = new Float32Array(memory, WANTED_AT, POINT * POINTS_MOST);
    this.seen = new Float32Array(memory, SEEN_AT, POINT * SEEN_KEPT);
  }
  /** How many points mirrors drew so far. */
  get seenCount(): number {
    return Atomics.load(this.#words, Word.Seen);
  }
  /** How many frames were wanted so far. */
  get frames(): number {
    return Atomics.load(this.#words, Word.Sequence) >> 1;
  }
  /** Brings what is wanted up to the newest frame. @returns whether there was a newer one */
  read(): boolean {
    for (let attempt = 0; attempt < 4; attempt++) {
      const before = Atomics.load(this.#words, Word.Sequence);
      if (before === this.#read) return false;
      if (before & 1) continue;
      const n = this.#words[Word.Count]!;
      this.wanted.set(this.#wanted.subarray(0, n * POINT));
      const spacing = this.#nums[Num.Spacing]!,
        repeats = this.#nums[Num.Repeats]!,
        leftOut = this.#words[Word.LeftOut]!;
      if (Atomics.load(this.#words, Word.Sequence) !== before) continue;
      this.count = n;
      if (spacing !== this.cost.spacing || repeats !== this.cost.repeats || leftOut !== this.cost.leftOut)
        this.cost = { spacing, repeats, leftOut };
      this.litWay = this.#nums[Num.LitWay]!;
      this.darkWay = this.#nums[Num.DarkWay]!;
      this.#read = before;
      return true;
    }
    return false;
  }
}
