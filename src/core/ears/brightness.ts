import type { ShortSpectrum } from '../audio/shortSpectrum';
import type { Hearing } from '../hearing/hearing';
import type { Seconds } from '../units';
import type { EarRunner } from './runner';

/** Under this mean power (−66 dBFS) the last brightness stands: silence is neither bright nor dark. */
const GATE = 10 ** (-66 / 10);

/** Brightness in Hz: the spectral centroid `Σ f a / Σ a` over amplitudes, in the middle of which the sound lies. */
export class BrightnessEar implements EarRunner {
  value = 0;
  readonly delay: Seconds = 0.043;
  readonly #fine: ShortSpectrum;
  constructor(hearing: Hearing) {
    this.#fine = hearing.fine;
  }
  process(): void {
    const power = this.#fine.power,
      n = this.#fine.size / 2;
    let sum = 0,
      moment = 0,
      total = 0;
    for (let k = 1; k < n; k++) {
      const p = power[k]!;
      total += p;
      const a = Math.sqrt(p);
      sum += a;
      moment += a * k;
    }
    if (total > GATE && sum > 0) this.value = (moment / sum) * this.#fine.perBin;
  }
}
