import type { Seconds } from '../units';

/** More flashes than this in any second are known to bring on seizures (WCAG 2.2, three flashes). */
export const FLASHES_A_SECOND = 3;
/** Above this the eye sees a steady light. */
export const FUSED_A_SECOND = 30;
/** A flash is a rise by a tenth after a fall by a tenth. */
const STEP = 0.1;
const KEPT = 32;

/** Counts flashes of one light: rises by a tenth or more, each after a fall of as much. Allocates nothing. */
export class FlashCount {
  readonly #at = new Float64Array(KEPT).fill(-Infinity);
  #next = 0;
  #time = 0;
  #low = 0;
  #high = 0;
  #fell = true;

  /** @param light - 0 to 1 @returns whether a flash began */
  step(light: number, dt: Seconds): boolean {
    this.#time += dt > 0 ? dt : 0;
    if (!this.#fell) {
      if (light > this.#high) this.#high = light;
      if (light <= this.#high - STEP) {
        this.#fell = true;
        this.#low = light;
      }
      return false;
    }
    if (light < this.#low) this.#low = light;
    if (light < this.#low + STEP) return false;
    this.#fell = false;
    this.#high = light;
    this.#at[this.#next] = this.#time;
    this.#next = (this.#next + 1) % KEPT;
    return true;
  }
  /** Would this light begin a flash? */
  begins(light: number): boolean {
    return this.#fell && light >= Math.min(this.#low, light) + STEP;
  }
  get low(): number {
    return this.#low;
  }
  /** Flashes that began in the last second, `ahead` seconds from now. At most 32 are known. */
  lately(ahead: Seconds = 0): number {
    let n = 0;
    for (let i = 0; i < KEPT; i++) if (this.#at[i]! > this.#time + ahead - 1) n++;
    return n;
  }
}

/** Lets so many flashes through in any one second; a rise that would be one more is held just below what counts as one. */
export class FlashGuard {
  readonly #count = new FlashCount();

  /** @param light - 0 to 1 @returns what may be shown of it */
  step(light: number, dt: Seconds): number {
    const wanted = light > 0 ? Math.min(1, light) : 0,
      count = this.#count;
    const shown =
      count.begins(wanted) && count.lately(dt > 0 ? dt : 0) >= FLASHES_A_SECOND
        ? Math.min(wanted, count.low + STEP * 0.99)
        : wanted;
    count.step(shown, dt);
    return shown;
  }
}
