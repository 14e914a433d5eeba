import type { Hop } from '../audio/hop';
import type { Hearing } from '../hearing/hearing';
import type { Seconds } from '../units';
import { RangePower } from './band';
import { bandGain, bandsOf } from './bandSet';
import type { EarRunner } from './runner';
import type { Listening } from './listening';

/** A set of bands at once: a vector of RMS amplitudes, lowest band first. Its value is the strongest of them. */
export class BandSetEar implements EarRunner {
  value = 0;
  readonly vector: Float32Array;
  /** Of the slowest band, the lowest. */
  readonly delay: Seconds;
  readonly #ranges: readonly RangePower[];
  readonly #gains: Float64Array;

  constructor(
    { set, crossovers, weighting, gainsDb }: Extract<Listening, { kind: 'bands' }>,
    hearing: Hearing,
  ) {
    const bands = bandsOf(set, crossovers);
    // A band above what this sample rate carries stays silent.
    this.#ranges = bands
      .filter((b) => b.low < hearing.sampleRate * 0.45)
      .map((b) => new RangePower(b.low, b.high, hearing));
    this.#gains = Float64Array.from(bands, (b, i) => bandGain(weighting, b.centre, gainsDb[i] ?? 0));
    this.vector = new Float32Array(bands.length);
    this.delay = Math.max(...this.#ranges.map((r) => r.delay));
  }

  process(hop: Hop): void {
    let top = 0;
    for (let i = 0; i < this.#ranges.length; i++) {
      const x = this.#ranges[i]!.rms(hop) * this.#gains[i]!;
      this.vector[i] = x;
      if (x > top) top = x;
    }
    this.value = top;
  }
}
