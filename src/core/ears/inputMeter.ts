import type { Hop } from '../audio/hop';
import { gainToDb, type Seconds } from '../units';

/** How an input is doing, in the order of its code in shared memory. */
export const HEALTH = ['off', 'silent', 'quiet', 'good', 'clipping'] as const;
export type Health = (typeof HEALTH)[number];

const CLIP_LEVEL = 0.998;
/** Samples at full scale in a row that make a clip: one may be a true peak, three are a flat top. */
const CLIP_RUN = 3;
const CLIP_SHOWN: Seconds = 2;
const JUDGED_OVER: Seconds = 3;
/** A peak is told for as long as a display shows a picture, and up to twice that: none falls between two pictures. */
const PEAK_TOLD: Seconds = 1 / 60;
const SILENT_DB = -66;
const QUIET_DB = -40;

/** Meter and health of one input: always on, cheap, and the same whether anybody looks. */
export class InputMeter {
  peak = 0;
  rms = 0;
  health = 0;
  #before = 0;
  #beforeFrames = 0;
  #newPeak = 0;
  #beforePeak = 0;
  #peakAge: Seconds = 0;
  /** Loudest peak of the last seconds: two buckets, so that it forgets without keeping a list. */
  #bucket = 0;
  #lastBucket = 0;
  #bucketAge: Seconds = 0;
  #heard: Seconds = 0;
  #sinceClip: Seconds = Infinity;
  #run = 0;

  /** @param gain - the input's trim, already in `hop`; clipping is judged on what the device gave, before it */
  process(hop: Hop, dt: Seconds, gain: number): void {
    const { left, right, frames } = hop;
    let top = 0,
      sum = 0,
      run = this.#run,
      clipped = false;
    const full = CLIP_LEVEL * gain;
    for (let i = 0; i < frames; i++) {
      const l = left[i]!,
        r = right[i]!;
      const al = l < 0 ? -l : l,
        ar = r < 0 ? -r : r;
      const a = al > ar ? al : ar;
      if (a > top) top = a;
      sum += (l * l + r * r) / 2;
      run = a >= full ? run + 1 : 0;
      if (run >= CLIP_RUN) clipped = true;
    }
    this.#run = run;
    this.#newPeak = Math.max(top, this.#newPeak);
    this.peak = Math.max(this.#newPeak, this.#beforePeak);
    this.#peakAge += dt;
    if (this.#peakAge > PEAK_TOLD) {
      this.#beforePeak = this.#newPeak;
      this.#newPeak = 0;
      this.#peakAge = 0;
    }
    this.rms = Math.sqrt((sum + this.#before) / Math.max(1, frames + this.#beforeFrames));
    this.#before = sum;
    this.#beforeFrames = frames;

    this.#heard += dt;
    this.#bucketAge += dt;
    if (top > this.#bucket) this.#bucket = top;
    if (this.#bucketAge > JUDGED_OVER) {
      this.#lastBucket = this.#bucket;
      this.#bucket = 0;
      this.#bucketAge = 0;
    }
    this.#sinceClip = clipped ? 0 : this.#sinceClip + dt;
    this.health = HEALTH.indexOf(this.#judge());
  }

  #judge(): Health {
    if (this.#sinceClip < CLIP_SHOWN) return 'clipping';
    const loudest = gainToDb(Math.max(this.#bucket, this.#lastBucket));
    // A new input is not called silent before it had a moment to speak.
    if (loudest < SILENT_DB) return this.#heard < 1 ? 'good' : 'silent';
    if (loudest < QUIET_DB) return this.#heard < 1 ? 'good' : 'quiet';
    return 'good';
  }
}
