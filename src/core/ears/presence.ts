import type { Hop } from '../audio/hop';
import type { Hearing } from '../hearing/hearing';
import { powerToDb, type DbFs, type Seconds } from '../units';
import type { EarRunner } from './runner';

/** Sound is there when it stands this far above the room's own noise, and gone when it has not for the hold. */
const ABOVE_DB = 10,
  BELOW_DB = 6;
const HOLD: Seconds = 0.3;
/** The room's noise: the quietest of late, rising slowly towards what is there. Never taken to be above this. */
const ROOM_RISE_DB_PER_S = 1;
const ROOM_MOST: DbFs = -46,
  ROOM_LEAST: DbFs = -90;

/** On (1) or off (0): whether anything sounds, or whether somebody speaks. */
export class PresenceEar implements EarRunner {
  value = 0;
  readonly delay: Seconds;
  readonly #hearing: Hearing;
  readonly #speech: boolean;
  #room: DbFs = NaN;
  #level: DbFs = -120;
  #quiet: Seconds = 0;

  constructor(what: 'sound' | 'speech', hearing: Hearing) {
    this.#hearing = hearing;
    this.#speech = what === 'speech';
    if (this.#speech) void hearing.speech;
    this.delay = this.#speech ? 0.15 : 0.02;
  }

  process(hop: Hop): void {
    if (this.#speech) {
      this.value = this.#hearing.speech.speaking ? 1 : 0;
      return;
    }
    const { left, right, frames } = hop;
    let sum = 0;
    for (let i = 0; i < frames; i++) {
      const p = left[i]! * left[i]! + right[i]! * right[i]!;
      if (p < 1e6) sum += p;
    }
    const dt = frames / this.#hearing.sampleRate;
    const db = powerToDb(sum / (2 * frames));
    this.#level += (db - this.#level) * (db > this.#level ? 0.6 : 0.12);
    // At first the room is what is heard, unless that is too loud to be a room.
    if (this.#room !== this.#room) {
      this.#level = db;
      this.#room = db;
    }
    this.#room = Math.max(
      ROOM_LEAST,
      Math.min(ROOM_MOST, Math.min(this.#level, this.#room + ROOM_RISE_DB_PER_S * dt)),
    );
    if (this.#level > this.#room + ABOVE_DB) {
      this.value = 1;
      this.#quiet = 0;
    } else if (this.#level < this.#room + BELOW_DB) {
      this.#quiet += dt;
      if (this.#quiet > HOLD) this.value = 0;
    } else this.#quiet = 0;
  }
}
