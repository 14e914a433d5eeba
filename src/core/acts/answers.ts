import type { Deed, Grip } from '../show/types';
import type { Milliseconds } from '../units';
import { isOnPage, type Moved } from './grips';
import { SIMULATED_MIDI_ID } from './mapping';

/** A controller is told no more often than this, and not while a hand is on it. */
const TELL_EVERY_MS: Milliseconds = 33,
  HAND_MS: Milliseconds = 400;
const NOTE_ON = 0x90,
  CONTROLLER = 0xb0,
  BEND = 0xe0;
const BEND_MOST = 16383;

/** What one controller is told: the device that it is part of, and the message (MIDI 1.0). */
export type Answer = (device: string, bytes: readonly [number, number, number]) => void;

interface Told {
  readonly grip: Grip;
  /** What it was told, or said itself, last; −1: nothing yet. */
  code: number;
  /** When it was last moved by hand. */
  handAt: Milliseconds;
}

/**
 * Tells controllers where that stands which they move: a light is on while what it is for is on, a motor goes where the value went.
 * Only grips that answer are told. Conductor; allocates only where something is told.
 */
export class AnswerBoard {
  #told: Told[] = [];
  #page = 1;
  #at: Milliseconds = -Infinity;

  set(grips: readonly Grip[]): void {
    const before = new Map(this.#told.map((t) => [t.grip, t]));
    this.#told = grips
      .filter(({ answers, touch }) => answers && touch.by === 'midi' && touch.message !== 'pressure')
      .map((grip) => before.get(grip) ?? { grip, code: -1, handAt: -Infinity });
  }
  /** Controllers were plugged in, or turned to another page: they know nothing of how things stand. */
  again(): void {
    for (const told of this.#told) told.code = -1;
  }
  /** A hand moved something: where that is, nobody need tell it. */
  moved(moved: Moved, now: Milliseconds): void {
    if (moved.by !== 'midi') return;
    for (const told of this.#told) {
      const { touch } = told.grip;
      if (
        touch.by === 'midi' &&
        touch.message === moved.message &&
        touch.channel === moved.channel + 1 &&
        (touch.message === 'bend' || touch.number === moved.number) &&
        (touch.device === SIMULATED_MIDI_ID) === moved.simulated
      ) {
        told.handAt = now;
        // A button's light is what it is told, whatever its own finger says.
        told.code = touch.message === 'note' ? -1 : codeOf(touch.message, moved.value);
      }
    }
  }
  /** @param stands - where what a deed moves stands, 0 to 1, and 1 for what is on; NaN for what stands nowhere */
  tell(stands: (deed: Deed) => number, page: number, now: Milliseconds, answer: Answer): void {
    if (this.#told.length === 0 || now - this.#at < TELL_EVERY_MS) return;
    this.#at = now;
    if (page !== this.#page) {
      this.#page = page;
      this.again();
    }
    for (let i = 0; i < this.#told.length; i++) {
      const told = this.#told[i]!,
        { touch, deed } = told.grip;
      if (touch.by !== 'midi' || !isOnPage(told.grip, page) || now - told.handAt < HAND_MS) continue;
      const code = codeOf(touch.message, stands(deed));
      if (code === told.code) continue;
      told.code = code;
      answer(touch.device, bytesOf(touch, code));
    }
  }
}

/** Seven bits, or fourteen of a bend; what stands nowhere is at its least. */
function codeOf(message: string, share: number): number {
  const most = message === 'bend' ? BEND_MOST : 127;
  return share > 0 ? Math.round(most * Math.min(1, share)) : 0;
}
function bytesOf(
  { message, channel, number }: Extract<Grip['touch'], { by: 'midi' }>,
  code: number,
): [number, number, number] {
  const at = channel - 1;
  if (message === 'bend') return [BEND | at, code & 127, code >> 7];
  return [(message === 'note' ? NOTE_ON : CONTROLLER) | at, number, code];
}
