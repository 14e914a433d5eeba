import { Pace } from '../outlets/pace';
import type { Milliseconds } from '../units';
import { MESSAGE_RATE, type MidiForm } from './kinds';

/** Strikes that may wait to be sent. */
const WAITING_MOST = 64;
const NOTE_OFF = 0x80,
  NOTE_ON = 0x90,
  CONTROLLER = 0xb0;

/** Seven bits of a share from 0 to 1; what is no number is 0. */
const seven = (share: number): number => (share > 0 ? Math.round(127 * Math.min(1, share)) : 0);

/**
 * What a device is told over MIDI (MIDI 1.0): a controller at each change of its seven bits, or a note for each strike, which ends
 * after its time, or before the next one. Ticks allocate nothing.
 */
export class MidiSpeaker {
  /** The message that is sent: status and two data bytes. */
  readonly bytes = new Uint8Array(3);
  readonly #form: MidiForm;
  readonly #pace = new Pace(MESSAGE_RATE, null);
  readonly #waiting = new Float64Array(WAITING_MOST);
  #count = 0;
  #last = -1;
  #endAt: Milliseconds = Infinity;

  constructor(form: MidiForm) {
    this.#form = form;
  }

  /** @param strength - 0 to 1 */
  strike(strength: number): void {
    if (this.#count < WAITING_MOST) this.#waiting[this.#count++] = strength;
  }
  /** The next message that is due. @param value - 0 to 1 @returns whether there is one */
  next(value: number, now: Milliseconds): boolean {
    return this.#form.says === 'note' ? this.#note(now) : this.#controller(value, now);
  }
  /** Nothing more is said: a note that sounds ends. @returns whether there is a message for that */
  end(): boolean {
    if (this.#endAt === Infinity) return false;
    this.#endAt = Infinity;
    this.#say(NOTE_OFF, 0);
    return true;
  }

  #note(now: Milliseconds): boolean {
    if (this.#endAt !== Infinity && (this.#count > 0 || now >= this.#endAt)) return this.end();
    if (this.#count === 0) return false;
    const strength = this.#waiting[0]!;
    this.#waiting.copyWithin(0, 1, this.#count--);
    this.#endAt = now + this.#form.holdMs;
    // A velocity of 0 would be an end.
    this.#say(NOTE_ON, Math.max(1, seven(strength)));
    return true;
  }
  #controller(value: number, now: Milliseconds): boolean {
    if (this.#count > 0) {
      const strength = this.#waiting[0]!;
      this.#waiting.copyWithin(0, 1, this.#count--);
      this.#say(CONTROLLER, seven(strength));
      return true;
    }
    const code = seven(value);
    if (code !== this.#last) {
      this.#last = code;
      this.#pace.change();
    }
    if (this.#pace.wait(now) > 0) return false;
    this.#pace.sent(now);
    this.#say(CONTROLLER, code);
    return true;
  }
  #say(status: number, data: number): void {
    this.bytes[0] = status | (this.#form.channel - 1);
    this.bytes[1] = this.#form.number;
    this.bytes[2] = data;
  }
}
