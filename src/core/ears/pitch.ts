import { noteOf, type Pitch } from '../hearing/pitch';
import type { Hearing } from '../hearing/hearing';
import type { Seconds } from '../units';
import type { EarRunner } from './runner';

/** A pitch is believed from this confidence on; below it the last one stands. */
const BELIEVED = 0.4;

/** The note that sounds, as its number (69 is A4, in between is out of tune), or how sure that is. */
export class PitchEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #pitch: Pitch;
  readonly #note: boolean;
  constructor(reading: 'note' | 'confidence', hearing: Hearing) {
    this.#pitch = hearing.pitch;
    this.#note = reading === 'note';
    this.delay = this.#pitch.delay;
  }
  process(): void {
    if (!this.#note) this.value = this.#pitch.confidence;
    else if (this.#pitch.hz > 0 && this.#pitch.confidence >= BELIEVED) this.value = noteOf(this.#pitch.hz);
  }
}
