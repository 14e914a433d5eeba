import type { Loudness } from '../audio/loudness';
import type { TruePeak } from '../audio/truePeak';
import type { Hearing } from '../hearing/hearing';
import type { Seconds } from '../units';
import type { EarRunner } from './runner';

/** Loudness by EBU R 128, as the amplitude that stands for it: −20 LUFS reads 0.1. */
export class LoudnessEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #loudness: Loudness;
  readonly #reading: 'momentary' | 'shortTerm' | 'integrated';
  #steps = 0;

  constructor(reading: 'momentary' | 'shortTerm' | 'integrated', hearing: Hearing) {
    this.#loudness = hearing.loudness;
    this.#reading = reading;
    this.delay = reading === 'momentary' ? 0.2 : 1.5;
  }

  process(): void {
    const l = this.#loudness;
    if (this.#reading === 'integrated') {
      // A new block comes every 100 ms; between two there is nothing to add up.
      if (l.steps - this.#steps < 10) return;
      this.#steps = l.steps;
      this.value = 10 ** (l.integrated() / 20);
      return;
    }
    this.value = 10 ** ((this.#reading === 'momentary' ? l.momentary : l.shortTerm) / 20);
  }
}

/** Peak between the samples; may exceed 1. */
export class TruePeakEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #peak: TruePeak;
  constructor(hearing: Hearing) {
    this.#peak = hearing.truePeak;
    this.delay = hearing.truePeak.delayFrames / hearing.sampleRate;
  }
  process(): void {
    this.value = this.#peak.peak;
  }
}
