import type { Seconds } from '../units';
import type { NoteState } from './noteState';

/** A tune's notes in flat arrays, as they travel between threads. */
export interface FlatTune {
  readonly times: Float64Array;
  /** track, channel, key, velocity of each */ readonly notes: Uint8Array;
  readonly seconds: Seconds;
  readonly loop: boolean;
}

/** Plays a tune by the show's position, hop by hop. After a leap or a pause nothing hangs. */
export class NotePlayer {
  #at = 0;
  #expected = NaN;
  constructor(readonly tune: FlatTune) {}

  /**
   * Hands over what falls into a hop. Allocates nothing.
   * @param from - the show's position at the hop's start, and `length` of the hop, in seconds
   * @param time - show time at the hop's start
   */
  play(from: Seconds, length: Seconds, playing: boolean, time: Seconds, into: NoteState): void {
    const { seconds, loop } = this.tune;
    if (!playing) {
      if (this.#expected === this.#expected) into.silence();
      this.#expected = NaN;
      return;
    }
    const place = loop && seconds > 0 ? from % seconds : from;
    if (!(Math.abs(place - this.#expected) < 1e-3)) {
      if (this.#expected === this.#expected) into.silence();
      this.#seek(place);
    }
    this.#sound(Math.min(place + length, loop ? seconds : Infinity), time - place, into);
    const over = place + length - seconds;
    if (loop && over >= 0) {
      into.release();
      this.#at = 0;
      this.#sound(over, time - place + seconds, into);
      this.#expected = over;
    } else this.#expected = place + length;
  }

  #seek(place: Seconds): void {
    const { times } = this.tune;
    let low = 0,
      high = times.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (times[middle]! < place) low = middle + 1;
      else high = middle;
    }
    this.#at = low;
  }

  #sound(to: Seconds, offset: Seconds, into: NoteState): void {
    const { times, notes } = this.tune;
    for (; this.#at < times.length && times[this.#at]! < to; this.#at++) {
      const k = this.#at * 4;
      into.take(notes[k]!, notes[k + 1]!, notes[k + 2]!, notes[k + 3]!, times[this.#at]! + offset);
    }
  }
}
