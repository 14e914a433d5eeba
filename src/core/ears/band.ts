import { bandDelay, BandFilter, usableRange } from '../audio/bandFilter';
import type { Hop } from '../audio/hop';
import type { Octaves } from '../audio/octaves';
import type { ShortSpectrum } from '../audio/shortSpectrum';
import type { Hearing } from '../hearing/hearing';
import type { Hz, Seconds } from '../units';
import { bandGain } from './bandSet';
import type { EarRunner } from './runner';
import type { Listening } from './listening';

/** Most steps that one hop can be cut into, at any sample rate. */
export const STEPS_PER_HOP = 12;

/** A low range is filtered at a rate whose halving costs at most a quarter of the filter's own delay, or a millisecond. */
const PATIENCE = 0.25,
  LEAST_PATIENCE: Seconds = 0.001;

/** Both channels of one range: the mean of their powers, step by step. Low ranges are filtered at a lower rate. */
export class RangePower {
  readonly delay: Seconds;
  /** Frames of one step, at the rate of the hop. */
  readonly stepFrames: number;
  readonly power = new Float64Array(STEPS_PER_HOP);
  readonly #octaves: Octaves;
  readonly #depth: number;
  readonly #filter: BandFilter;

  constructor(low: Hz, high: Hz, hearing: Hearing) {
    const range = usableRange(low, high, hearing.sampleRate);
    this.#octaves = hearing.octaves;
    this.#depth = this.#octaves.depthFor(
      range.high,
      Math.max(LEAST_PATIENCE, PATIENCE * bandDelay(range.low, range.high)),
    );
    this.#octaves.need(this.#depth);
    const rate = this.#octaves.rateAt(this.#depth);
    this.#filter = new BandFilter(range.low, range.high, rate);
    this.delay = this.#filter.delay + this.#octaves.delayAt(this.#depth);
    this.stepFrames = this.#filter.stepFrames * 2 ** this.#depth;
  }

  /** @returns the number of steps now in `power`, each the mean square of the range */
  process(hop: Hop): number {
    const power = this.power,
      octaves = this.#octaves,
      depth = this.#depth;
    power.fill(0);
    return this.#filter.process(
      octaves.leftAt(depth, hop),
      octaves.rightAt(depth, hop),
      octaves.framesAt(depth, hop),
      power,
    );
  }

  /** RMS amplitude of the range over the hop. Where a lower rate has no frame in this hop, the last value stands. */
  rms(hop: Hop): number {
    const steps = this.process(hop);
    if (steps === 0) return this.#last;
    let sum = 0;
    for (let i = 0; i < steps; i++) sum += this.power[i]!;
    return (this.#last = Math.sqrt(sum / steps));
  }
  #last = 0;
}

type BandListening = Extract<Listening, { kind: 'band' }>;

/** RMS amplitude of what lies in a range: a full-scale sine in it reads 0.707, which is −3.01 dBFS. */
export class BandEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #range: RangePower;
  readonly #gain: number;

  constructor({ low, high, weighting, gainDb }: BandListening, hearing: Hearing) {
    this.#range = new RangePower(low, high, hearing);
    this.#gain = bandGain(weighting, Math.sqrt(low * high), gainDb);
    this.delay = this.#range.delay;
  }

  process(hop: Hop): void {
    this.value = this.#range.rms(hop) * this.#gain;
  }
}

/** The strongest bin of a range in the fine spectrum: its amplitude, or its frequency between the bins. */
export class StrongestEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0.043;
  readonly #fine: ShortSpectrum;
  readonly #from: number;
  readonly #to: number;
  readonly #frequency: boolean;
  readonly #gain: number;

  constructor({ low, high, reading, weighting, gainDb }: BandListening, hearing: Hearing) {
    this.#fine = hearing.fine;
    const top = this.#fine.size / 2 - 1;
    this.#from = Math.min(top, Math.max(1, Math.round(low / this.#fine.perBin)));
    this.#to = Math.min(top, Math.max(this.#from, Math.round(high / this.#fine.perBin)));
    this.#frequency = reading === 'frequency';
    this.#gain = bandGain(weighting, Math.sqrt(low * high), gainDb);
  }

  process(): void {
    const power = this.#fine.power;
    let best = this.#from;
    for (let k = this.#from + 1; k <= this.#to; k++) if (power[k]! > power[best]!) best = k;
    const a = Math.log(power[best - 1]! + 1e-20),
      b = Math.log(power[best]! + 1e-20),
      c = Math.log(power[best + 1]! + 1e-20);
    const bend = a - 2 * b + c;
    const shift = bend < 0 ? Math.max(-0.5, Math.min(0.5, (0.5 * (a - c)) / bend)) : 0;
    if (!this.#frequency) {
      this.value = Math.exp((b - 0.25 * (a - c) * shift) / 2) * this.#gain;
      return;
    }
    // In silence the last frequency stands: it would leap about in what is only rounding.
    if (power[best]! > 1e-9) this.value = (best + shift) * this.#fine.perBin;
  }
}
