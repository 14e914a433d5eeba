import { COLUMN_SECONDS, TRACE_COLUMNS } from '../../core/plan';
import { RouteBank, type Shaping, type Tap, TAP_INDEX, TAPS } from '../../core/shaping';

/**
 * The last twelve seconds of a signal, taken through every step of a shaping: what the bench draws, before and after an edit,
 * even while the sound is silent. The very steps that run live, at the trace's own pace.
 */
export class Replay {
  readonly #bank = new RouteBank(1);
  readonly #steps = TAPS.map(() => new Float32Array(TRACE_COLUMNS).fill(NaN));

  constructor() {
    this.#bank.tapped = 0;
  }

  /** @param trace - oldest first, NaN where nothing is known @param usual - what the signal usually reads when loud */
  run(
    trace: Float32Array,
    shaping: Shaping,
    event: boolean,
    usual: number,
    rest: number,
    reach: number,
  ): void {
    const bank = this.#bank;
    bank.reset(0);
    bank.set(0, shaping, usual);
    for (let i = 0; i < trace.length; i++) {
      const x = trace[i]! >= 0 ? trace[i]! : 0;
      bank.begin(COLUMN_SECONDS, 1);
      const y = bank.step(0, x, event ? x : 0);
      for (let k = 0; k < TAPS.length; k++) this.#steps[k]![i] = bank.taps[k]!;
      this.#steps[TAP_INDEX.reach]![i] = this.#steps[TAP_INDEX.together]![i] = rest + y * (reach - rest);
    }
  }
  of(tap: Tap): Float32Array {
    return this.#steps[TAP_INDEX[tap]]!;
  }
}
