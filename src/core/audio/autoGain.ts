import { powerToDb, type DbFs, type Seconds } from '../units';
import type { Hop } from './hop';

/** Where automatic gain brings the loud parts of a sound to, as RMS. */
const GOAL: DbFs = -20;
export const AUTO_GAIN_MOST = 24,
  AUTO_GAIN_LEAST = -12;
/** It falls quickly, and rises gently once it has arrived, which takes two seconds at most; not at all on what is only the room. */
const RISE_DB_PER_S = 3,
  FIRST_RISE_DB_PER_S = 12,
  FALL_DB_PER_S = 18;
/** After so long a silence somebody else may be at the microphone. */
const FORGET: Seconds = 20;
const GATE: DbFs = -58;
/** The loudest of late counts, not the pauses between. */
const LOUDEST_FALL_DB_PER_S = 4;

/** Finds the gain that makes an input easy to use. Applied evenly over a hop, so that it never clicks. */
export class AutoGain {
  /** Gain in dB now. */
  db = 0;
  #loudest: DbFs = GOAL;
  #heard = false;
  #arrived = false;
  #silent: Seconds = 0;

  /** Measures a hop and turns it up or down in place. Allocates nothing. */
  process(hop: Hop, dt: Seconds): void {
    const { left, right, frames } = hop;
    let sum = 0;
    for (let i = 0; i < frames; i++) {
      const p = left[i]! * left[i]! + right[i]! * right[i]!;
      if (p < 1e6) sum += p;
    }
    const level = powerToDb(sum / (2 * frames));
    const before = this.db;
    if (level > GATE) {
      if (!this.#heard) {
        this.#heard = true;
        this.#loudest = level;
      }
      this.#loudest = Math.max(level, this.#loudest - LOUDEST_FALL_DB_PER_S * dt);
      const goal = Math.min(AUTO_GAIN_MOST, Math.max(AUTO_GAIN_LEAST, GOAL - this.#loudest));
      const rise = this.#arrived ? RISE_DB_PER_S : FIRST_RISE_DB_PER_S;
      this.db += Math.max(-FALL_DB_PER_S * dt, Math.min(rise * dt, goal - this.db));
      if (Math.abs(goal - this.db) < 0.5) this.#arrived = true;
      this.#silent = 0;
    } else if ((this.#silent += dt) > FORGET) this.#heard = this.#arrived = false;
    let gain = 10 ** (before / 20);
    const step = (10 ** (this.db / 20) - gain) / frames;
    for (let i = 0; i < frames; i++) {
      gain += step;
      left[i]! *= gain;
      right[i]! *= gain;
    }
  }
}
