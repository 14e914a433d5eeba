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
  put(x: number): void {
    const n = this.#ring.length;
    this.#sum += x - (this.#filled >= this.#whole && this.#whole > 0 ? this.#back(this.#whole - 1) : 0);
    if (this.#whole === 0) this.#sum = 0;
    this.#ring[this.#at] = x;
    this.#at = this.#at + 1 === n ? 0 : this.#at + 1;
    if (this.#filled < n) this.#filled++;
    // Rounding must not add up over a night.
    if (this.#at === 0) { this.#sum = 0; const m = Math.min(this.#filled, this.#whole); for (let k = 0; k < m; k++) this.#sum += this.#back(k); }
  }

  /** Takes `y[row]`, and puts the mean of the span in its place. */
  average(y: Float64Array, row: number): void { this.put(y[row]!); y[row] = this.mean(); }
  /** Takes `y[row]`, and puts the value of a span ago in its place. */
  delay(y: Float64Array, row: number): void { this.put(y[row]!); y[row] = this.delayed(); }

  /** The value a span ago, on the straight line between the two ticks about it; what was before the first counts as 0. */
  delayed(): number {
    const a = this.#filled > this.#whole ? this.#back(this.#whole) : 0, b = this.#filled > this.#whole + 1 ? this.#back(this.#whole + 1) : 0;
    return a + (b - a) * this.#part;
  }

  /** The mean over the span; what was before the first counts as the first. */
  mean(): number {
    const known = Math.min(this.#filled, this.#whole);
    if (this.#filled === 0) return 0;
    if (this.#filled <= this.#whole) return this.#sum / known;
    const length = this.#whole + this.#part;
    return length > 0 ? (this.#sum + this.#part * this.#back(this.#whole)) / length : this.#back(0);
  }
}
