import type { Seconds } from '../units';

// What is kept of one number, beside each other: where its ring is and how far it is, and its sums.
const RING = 0,
  ROOM = 1,
  NEXT = 2,
  WHOLE = 3,
  FILLED = 4,
  WIDE = 8;
const SUM = 0,
  PART = 1,
  SPAN = 2,
  DT = 3,
  SUMS = 4;

/**
 * The recent past of many numbers, for steps that look back: a number's value, and its mean, a stretch of time ago. The stretch
 * need not be a whole number of ticks. All rings stand in one array, and so does what is kept of each: ten thousand little
 * objects would be looked for all over the memory at every tick. Room is made when a stretch or the tick's length changes;
 * a tick itself allocates nothing.
 */
export class Pasts {
  #places = new Int32Array(0);
  #sums = new Float64Array(0);
  #rings = new Float64Array(256);
  #end = 0;
  readonly #spare = new Map<number, number[]>();

  /** @param span - how far number `id` looks back. What is already known stays known. */
  setUp(id: number, span: Seconds, dt: Seconds): void {
    this.#reach(id);
    const p = this.#places,
      f = this.#sums,
      at = id * WIDE,
      of = id * SUMS,
      had = p[at + ROOM]! > 0;
    if (had && span === f[of + SPAN] && dt === f[of + DT]) return;
    const ticks = dt > 0 ? span / dt : 0,
      whole = Math.floor(ticks + 1e-9),
      room = whole + 2;
    const keep = had && dt === f[of + DT] ? Math.min(p[at + FILLED]!, room) : 0;
    const known = Float64Array.from({ length: keep }, (_, k) => this.#back(at, keep - 1 - k));
    if (had) this.#giveBack(at);
    const ring = this.#take(room);
    this.#rings.set(known, ring + room - keep);
    let sum = 0;
    for (let k = 0; k < Math.min(keep, whole); k++) sum += known[keep - 1 - k]!;
    p.set([ring, room, 0, whole, keep], at);
    f.set([sum, ticks - whole, span, dt], of);
  }
  /** Forgets a number, and frees its room. */
  drop(id: number): void {
    const at = id * WIDE;
    if (at >= this.#places.length || this.#places[at + ROOM] === 0) return;
    this.#giveBack(at);
    this.#places.fill(0, at, at + WIDE);
  }

  /** Takes the value of this tick. */
  put(id: number, x: number): void {
    one[0] = x;
    this.average(id, one, 0);
  }
  /** The value a span ago, on the straight line between the two ticks about it; what was before the first counts as 0. */
  delayed(id: number): number {
    this.#delayed(id, one, 0);
    return one[0]!;
  }
  /** The mean over the span; what was before the first counts as the first. */
  mean(id: number): number {
    this.#mean(id, one, 0);
    return one[0]!;
  }

  /** Takes `y[i]`, and puts the mean of the span in its place. */
  average(id: number, y: Float64Array, i: number): void {
    const p = this.#places,
      f = this.#sums,
      rings = this.#rings,
      at = id * WIDE,
      of = id * SUMS,
      ring = p[at + RING]!,
      n = p[at + ROOM]!,
      whole = p[at + WHOLE]!,
      now = p[at + NEXT]!,
      filled = p[at + FILLED]!,
      x = y[i]!;
    // What leaves the sum now is also what the part of a tick is taken of.
    const from = now - whole,
      gone = filled >= whole && whole > 0 ? rings[ring + (from < 0 ? from + n : from)]! : 0;
    let sum = whole > 0 ? f[of + SUM]! + x - gone : 0;
    this.#step(id, y, i);
    // Rounding must not add up over a night.
    if (now + 1 === n && whole > 0) {
      sum = 0;
      for (let k = 1; k <= whole; k++) sum += rings[ring + n - k]!;
    }
    f[of + SUM] = sum;
    y[i] =
      whole === 0
        ? x
        : filled < whole
          ? sum / (filled + 1)
          : (sum + f[of + PART]! * gone) / (whole + f[of + PART]!);
  }
  /** Takes `y[i]`, and puts the value of a span ago in its place. */
  delay(id: number, y: Float64Array, i: number): void {
    this.#step(id, y, i);
    this.#delayed(id, y, i);
  }

  #reach(id: number): void {
    const n = this.#places.length / WIDE;
    if (id < n) return;
    const more = Math.max(id + 1, n * 2),
      places = new Int32Array(more * WIDE),
      sums = new Float64Array(more * SUMS);
    places.set(this.#places);
    sums.set(this.#sums);
    this.#places = places;
    this.#sums = sums;
  }
  #take(room: number): number {
    const spare = this.#spare.get(room)?.pop();
    if (spare !== undefined) return spare;
    const ring = this.#end;
    this.#end += room;
    if (this.#end > this.#rings.length) {
      const rings = new Float64Array(Math.max(this.#end, this.#rings.length * 2));
      rings.set(this.#rings);
      this.#rings = rings;
    }
    return ring;
  }
  #giveBack(at: number): void {
    const ring = this.#places[at + RING]!,
      room = this.#places[at + ROOM]!;
    this.#rings.fill(0, ring, ring + room);
    const spare = this.#spare.get(room);
    if (spare) spare.push(ring);
    else this.#spare.set(room, [ring]);
  }
  /** The value k ticks before the last that was put. */
  #back(at: number, k: number): number {
    const p = this.#places,
      i = p[at + NEXT]! - 1 - k;
    return this.#rings[p[at + RING]! + (i < 0 ? i + p[at + ROOM]! : i)]!;
  }

  // Numbers pass through arrays here: handed over by themselves each might be an object of its own, at every tick of every row.
  /** The value into the ring, and one place on. */
  #step(id: number, y: Float64Array, i: number): void {
    const p = this.#places,
      at = id * WIDE,
      n = p[at + ROOM]!,
      now = p[at + NEXT]!,
      filled = p[at + FILLED]!;
    this.#rings[p[at + RING]! + now] = y[i]!;
    p[at + NEXT] = now + 1 === n ? 0 : now + 1;
    if (filled < n) p[at + FILLED] = filled + 1;
  }
  #delayed(id: number, y: Float64Array, i: number): void {
    const p = this.#places,
      rings = this.#rings,
      at = id * WIDE,
      ring = p[at + RING]!,
      n = p[at + ROOM]!,
      whole = p[at + WHOLE]!,
      now = p[at + NEXT]!,
      filled = p[at + FILLED]!;
    let a = 0,
      b = 0;
    if (filled > whole) {
      const k = now - 1 - whole;
      a = rings[ring + (k < 0 ? k + n : k)]!;
    }
    if (filled > whole + 1) {
      const k = now - 2 - whole;
      b = rings[ring + (k < 0 ? k + n : k)]!;
    }
    y[i] = a + (b - a) * this.#sums[id * SUMS + PART]!;
  }
  #mean(id: number, y: Float64Array, i: number): void {
    const p = this.#places,
      f = this.#sums,
      rings = this.#rings,
      at = id * WIDE,
      of = id * SUMS,
      ring = p[at + RING]!,
      n = p[at + ROOM]!,
      whole = p[at + WHOLE]!,
      filled = p[at + FILLED]!,
      now = p[at + NEXT]!;
    if (filled === 0) {
      y[i] = 0;
      return;
    }
    if (filled <= whole) {
      y[i] = f[of + SUM]! / filled;
      return;
    }
    const length = whole + f[of + PART]!,
      k = now - 1 - whole;
    y[i] =
      length > 0
        ? (f[of + SUM]! + f[of + PART]! * rings[ring + (k < 0 ? k + n : k)]!) / length
        : rings[ring + (now === 0 ? n : now) - 1]!;
  }
}

/** For those who take one number at a time. */
const one = new Float64Array(1);
