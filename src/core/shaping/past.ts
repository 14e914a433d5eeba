import type { Seconds } from '../units';

/**
 * The recent past of one number, for steps that look back: its value, and its mean, a stretch of time ago. The stretch need
 * not be a whole number of ticks. Makes its room when the stretch or the tick's length changes; a tick itself allocates nothing.
 */
export class Past {
  #ring = new Float64Array(0);
  #at = 0;
  #sum = 0;
  #whole = 0;
  #part = 0;
  #filled = 0;
  #dt: Seconds = NaN;
  #span: Seconds = NaN;

  /** @param span - how far it looks back. What is already known stays known. */
  setUp(span: Seconds, dt: Seconds): void {
    if (span === this.#span && dt === this.#dt) return;
    const ticks = dt > 0 ? span / dt : 0;
    const whole = Math.floor(ticks + 1e-9), ring = new Float64Array(whole + 2);
    const keep = this.#dt === dt ? Math.min(this.#filled, ring.length) : 0;
    for (let k = 0; k < keep; k++) ring[(ring.length - keep + k) % ring.length] = this.#back(keep - 1 - k);
    this.#ring = ring;
    this.#at = 0;
    this.#filled = keep;
    this.#whole = whole;
    this.#part = ticks - whole;
    this.#span = span;
    this.#dt = dt;
    this.#sum = 0;
    for (let k = 0; k < Math.min(keep, whole); k++) this.#sum += this.#back(k);
  }

  /** The value k ticks before the last that was put. */
  #back(k: number): number { const i = this.#at - 1 - k; return this.#ring[i < 0 ? i + this.#ring.length : i]!; }

  reset(): void { this.#ring.fill(0); this.#at = 0; this.#sum = 0; this.#filled = 0; }

  /** Takes the value of this tick. */
  put(x: number): void { one[0] = x; this.#take(one, 0); }
  /** The value a span ago, on the straight line between the two ticks about it; what was before the first counts as 0. */
  delayed(): number { this.#delayed(one, 0); return one[0]!; }
  /** The mean over the span; what was before the first counts as the first. */
  mean(): number { this.#mean(one, 0); return one[0]!; }

  /** Takes `y[row]`, and puts the mean of the span in its place. */
  average(y: Float64Array, row: number): void { this.#take(y, row); this.#mean(y, row); }
  /** Takes `y[row]`, and puts the value of a span ago in its place. */
  delay(y: Float64Array, row: number): void { this.#take(y, row); this.#delayed(y, row); }

  // Numbers pass through arrays here: handed over by themselves each might be an object of its own, at every tick of every row.
  #take(y: Float64Array, row: number): void {
    const ring = this.#ring, n = ring.length, whole = this.#whole, x = y[row]!;
    if (whole > 0) {
      let gone = 0;
      if (this.#filled >= whole) { const i = this.#at - whole; gone = ring[i < 0 ? i + n : i]!; }
      this.#sum += x - gone;
    }
    ring[this.#at] = x;
    this.#at = this.#at + 1 === n ? 0 : this.#at + 1;
    if (this.#filled < n) this.#filled++;
    // Rounding must not add up over a night.
    if (this.#at === 0 && whole > 0) {
      let sum = 0;
      for (let k = 0, m = Math.min(this.#filled, whole); k < m; k++) sum += ring[n - 1 - k]!;
      this.#sum = sum;
    }
  }
  #delayed(y: Float64Array, row: number): void {
    const ring = this.#ring, n = ring.length, whole = this.#whole;
    let a = 0, b = 0;
    if (this.#filled > whole) { const i = this.#at - 1 - whole; a = ring[i < 0 ? i + n : i]!; }
    if (this.#filled > whole + 1) { const i = this.#at - 2 - whole; b = ring[i < 0 ? i + n : i]!; }
    y[row] = a + (b - a) * this.#part;
  }
  #mean(y: Float64Array, row: number): void {
    const ring = this.#ring, n = ring.length, whole = this.#whole;
    if (this.#filled === 0) { y[row] = 0; return; }
    if (this.#filled <= whole) { y[row] = this.#sum / this.#filled; return; }
    const length = whole + this.#part, i = this.#at - 1 - whole;
    const last = this.#at === 0 ? ring[n - 1]! : ring[this.#at - 1]!;
    y[row] = length > 0 ? (this.#sum + this.#part * ring[i < 0 ? i + n : i]!) / length : last;
  }
}

/** For those who take one number at a time. */
const one = new Float64Array(1);
