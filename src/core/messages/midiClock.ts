import type { Milliseconds } from '../units';

/** Pulses of a quarter note (MIDI 1.0, timing clock). */
export const PULSES = 24;
/** Pulses are told so long before they are due, so that whoever passes them on can do it punctually. */
const AHEAD_MS = 60;
/** A beat that stands still for so long has stopped. */
const STOPPED_MS = 400;
/** More beats than this from one step to the next are a leap. */
const LEAP = 0.25;
/** Less than this is the rounding of a beat that stands. */
const STILL = 1e-6;
const CLOCK = 0xf8,
  START = 0xfa,
  STOP = 0xfc;

/**
 * The show's beat as MIDI clock: a start just before a bar's first, 24 pulses a quarter note from then on, and a stop when the
 * beat stands still or leaps. Each is told a little early, with the time at which it is due. Steps allocate nothing.
 */
export class MidiClock {
  /** The message, and when it is due. */
  byte = 0;
  at: Milliseconds = 0;
  /** Whether a start went out, and no stop since. */
  running = false;
  #bpm = 0;
  #perBar = 4;
  /** Beats of the bar, unwound; 0 lies on a bar's first. */
  #beat = NaN;
  #now: Milliseconds = 0;
  #movedAt: Milliseconds = -Infinity;
  /** The last pulse that was told, counted like the beat. */
  #pulse = NaN;
  #stop = false;

  /**
   * @param bpm - of the show; 0: there is no beat @param bar - place in the bar, 0 to 1 @param perBar - beats to a bar
   * @param now - in ms, of any clock that runs evenly
   */
  step(bpm: number, bar: number, perBar: number, now: Milliseconds): void {
    const beat = bar * perBar,
      before = this.#beat - Math.floor(this.#beat / perBar) * perBar;
    let moved = beat - before;
    if (moved > perBar / 2) moved -= perBar;
    if (moved < -perBar / 2) moved += perBar;
    this.#now = now;
    if (!(bpm > 0) || perBar !== this.#perBar || !(Math.abs(moved) < LEAP)) {
      this.#perBar = perBar;
      this.#begin(bpm > 0 && beat === beat ? beat : NaN, now);
    } else {
      this.#beat += moved;
      if (moved > STILL) this.#movedAt = now;
      if (now - this.#movedAt > STOPPED_MS) this.#begin(this.#beat, -Infinity);
    }
    this.#bpm = bpm;
  }
  #begin(beat: number, movedAt: Milliseconds): void {
    this.#beat = beat;
    this.#movedAt = movedAt;
    this.#pulse = Math.ceil(beat * PULSES) - 1;
    if (this.running) this.#stop = true;
    this.running = false;
  }

  /** The next message that is due soon; it stands in {@link byte}. @returns whether there is one */
  next(): boolean {
    if (this.#stop) {
      this.#stop = false;
      return this.#say(STOP, this.#now);
    }
    if (!(this.#bpm > 0) || this.#beat !== this.#beat || this.#now - this.#movedAt > STOPPED_MS) return false;
    const next = this.#pulse + 1,
      at = this.#now + ((next / PULSES - this.#beat) * 60000) / this.#bpm;
    if (at > this.#now + AHEAD_MS) return false;
    if (!this.running && next % (this.#perBar * PULSES) === 0) {
      this.running = true;
      return this.#say(START, at - 1);
    }
    this.#pulse = next;
    return this.#say(CLOCK, at);
  }
  /** Nothing more is said. @returns whether there is a message for that */
  end(): boolean {
    const { running } = this;
    this.running = this.#stop = false;
    return running && this.#say(STOP, this.#now);
  }
  #say(byte: number, at: Milliseconds): true {
    this.byte = byte;
    this.at = Math.max(this.#now, at);
    return true;
  }
}
