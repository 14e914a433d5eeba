import type { Seconds } from '../units';

/** What of a beat clock is counted by. */
export interface Beats {
  readonly beat: number;
  readonly bpm: number;
  readonly beatsPerBar: number;
  readonly beatAgo: Seconds;
  readonly isBar: boolean;
  readonly fromBar: number;
}

/** Beats a minute by which bars are counted while no tempo was ever known. */
const UNKNOWN_BPM = 120;

/**
 * Counts the show's beats for whatever waits for one or lasts so many bars. Where none go on (nothing plays, none were found) it counts on
 * at the last tempo: a fade over four bars ends, whatever becomes of the music. A leap of the position is no beat. Allocates nothing.
 */
export class Pulse {
  /** Bars that went by in this tick. */
  bars = 0;
  /** How long before the tick's end a beat or a bar fell in it; NaN: none did. */
  beatAgo: Seconds = NaN;
  barAgo: Seconds = NaN;
  #last = NaN;
  #bpm = UNKNOWN_BPM;
  /** Beats since a bar's first. */
  #inBar = 0;

  step(dt: Seconds, clock: Beats): void {
    const moved = clock.beat - this.#last,
      { beatsPerBar } = clock;
    this.#last = clock.beat;
    if (clock.bpm > 0) this.#bpm = clock.bpm;
    if (moved > 0 && moved < 1) {
      this.bars = moved / beatsPerBar;
      this.beatAgo = clock.beatAgo;
      this.barAgo = clock.isBar ? clock.beatAgo : NaN;
      this.#inBar = clock.fromBar % beatsPerBar;
      return;
    }
    const beats = (dt * this.#bpm) / 60,
      before = Math.floor(this.#inBar);
    this.bars = beats / beatsPerBar;
    this.#inBar += beats;
    const fell = Math.floor(this.#inBar) > before;
    this.beatAgo = fell ? Math.min(dt, ((this.#inBar % 1) * 60) / this.#bpm) : NaN;
    this.barAgo = NaN;
    if (this.#inBar >= beatsPerBar) {
      this.#inBar -= beatsPerBar;
      this.barAgo = this.beatAgo;
    }
  }
}
