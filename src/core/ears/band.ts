import { BandFilter, usableRange } from '../audio/bandFilter';
import type { Hop } from '../audio/hop';
import type { Hz, Seconds } from '../units';
import type { EarRunner } from './ear';

/** Most steps that one hop can be cut into, at any sample rate. */
export const STEPS_PER_HOP = 8;

/** Both channels of one range: the mean of their powers, step by step. */
export class RangePower {
  readonly delay: Seconds;
  readonly stepFrames: number;
  readonly power = new Float64Array(STEPS_PER_HOP);
  readonly #left: BandFilter;
  readonly #right: BandFilter;
  #stereo = false;

  constructor(low: Hz, high: Hz, sampleRate: Hz) {
    const range = usableRange(low, high, sampleRate);
    this.#left = new BandFilter(range.low, range.high, sampleRate);
    this.#right = new BandFilter(range.low, range.high, sampleRate);
    this.delay = this.#left.delay;
    this.stepFrames = this.#left.stepFrames;
  }

  /** @returns the number of steps now in `power`, each the mean square of the range */
  process(hop: Hop): number {
    const power = this.power;
    power.fill(0);
    const steps = this.#left.process(hop.left, hop.frames, power);
    // Once a sound has been stereo the second filter stays on: its tail belongs to what was heard.
    if (!hop.mono) this.#stereo = true;
    if (this.#stereo) {
      this.#right.process(hop.right, hop.frames, power);
      for (let i = 0; i < steps; i++) power[i]! *= 0.5;
    }
    return steps;
  }
}

/** RMS amplitude of what lies in a range: a full-scale sine in it reads 0.707, which is −3.01 dBFS. */
export class BandEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #range: RangePower;

  constructor(low: Hz, high: Hz, sampleRate: Hz) {
    this.#range = new RangePower(low, high, sampleRate);
    this.delay = this.#range.delay;
  }

  process(hop: Hop): void {
    const steps = this.#range.process(hop);
    let sum = 0;
    for (let i = 0; i < steps; i++) sum += this.#range.power[i]!;
    this.value = steps > 0 ? Math.sqrt(sum / steps) : this.value;
  }
}
