import type { BeatTracker } from '../hearing/beatTracker';
import type { Tempo } from '../show/types';
import type { Seconds } from '../units';

/**
 * The show's one tempo: whoever owns it (found, tapped, typed, known, MIDI clock), everybody reads beats here.
 *
 * It counts beats as a number that rises evenly. A found tempo follows the tracker of one input; a known one lies on the
 * show's position, as the files do; a typed or tapped one runs by itself from the moment that was tapped.
 */
export class BeatClock {
  /** Beats a minute; 0 while none was found. */
  bpm = 0;
  /** Beats, rising; the bar begins where `(beat − barStart) mod beatsPerBar` is 0. */
  beat = 0;
  beatsPerBar = 4;
  /** 0 to 1; what is typed, tapped or known is sure. */
  confidence = 0;
  /** Set in the tick in which a beat falls: how long before the tick's end, and whether it begins a bar. NaN otherwise. */
  beatAgo: Seconds = NaN;
  isBar = false;
  #barStart = 0;
  #source = '';
  #byHand = false;
  #tapped = NaN;
  #midiBeat = NaN;
  #midiBpm = 0;

  /** By hand: the nearest beat begins a bar, until `barFound`. */
  barNow(): void {
    this.#barStart = Math.round(this.beat);
    this.#byHand = true;
  }
  /** Bars are found by themselves again. */
  barFound(): void {
    this.#byHand = false;
  }
  /** A typed or tapped clock is set to a whole beat now. */
  beatNow(): void {
    this.#tapped = 0;
  }
  /** MIDI clock: beats since its start, and its tempo; from the thread that hears it, at its own pace. */
  midi(beat: number, bpm: number): void {
    this.#midiBeat = beat;
    this.#midiBpm = bpm;
  }

  /** Place in the bar, 0 to 1. */
  get bar(): number {
    const x = (this.beat - this.#barStart) / this.beatsPerBar;
    return x - Math.floor(x);
  }
  /** Beats, rising, from some bar's first: the same bars begin at whole multiples of `beatsPerBar` from there. */
  get fromBar(): number {
    const late = this.#barStart % this.beatsPerBar;
    return this.beat - (late < 0 ? late + this.beatsPerBar : late);
  }
  /** Which beat of the bar it is, from 0. */
  get beatOfBar(): number {
    return Math.floor(this.bar * this.beatsPerBar);
  }

  /**
   * One tick. Allocates nothing.
   * @param position - the show's position in seconds @param playing - whether it moves
   * @param tracker - of the input that the tempo is found on, if there is one
   */
  step(tempo: Tempo, dt: Seconds, position: Seconds, playing: boolean, tracker: BeatTracker | null): void {
    const was = this.beat;
    const jumped = tempo.source !== this.#source;
    this.#source = tempo.source;
    if (jumped) this.#byHand = false;
    this.beatsPerBar = tempo.beatsPerBar;
    this.beatAgo = NaN;
    this.isBar = false;
    switch (tempo.source) {
      case 'known':
        this.bpm = tempo.bpm;
        this.confidence = 1;
        if (!this.#byHand) this.#barStart = 0;
        if (playing || jumped) this.beat = ((position - tempo.anchor) * tempo.bpm) / 60;
        break;
      case 'typed':
      case 'tapped':
        this.bpm = tempo.bpm;
        this.confidence = 1;
        this.beat += (dt * tempo.bpm) / 60;
        if (this.#tapped === 0) {
          this.beat = Math.round(this.beat);
          this.#tapped = NaN;
        }
        break;
      case 'midi':
        this.bpm = this.#midiBpm;
        this.confidence = this.#midiBpm > 0 ? 1 : 0;
        if (!this.#byHand) this.#barStart = 0;
        if (this.#midiBeat === this.#midiBeat) {
          // Between two clock messages it runs on; what has drifted apart is drawn together.
          const free = this.beat + (dt * this.#midiBpm) / 60,
            gap = this.#midiBeat - free;
          this.beat = Math.abs(gap) > 0.5 ? this.#midiBeat : free + gap * 0.1;
          this.#midiBeat += (dt * this.#midiBpm) / 60;
        }
        break;
      case 'found': {
        if (!tracker) {
          this.confidence = 0;
          this.beat += (dt * this.bpm) / 60;
          break;
        }
        const { multiple } = tempo;
        this.bpm = tracker.bpm * multiple;
        this.confidence = tracker.confidence;
        this.beat = tracker.position * multiple;
        if (!this.#byHand && tracker.barBeat >= 0) {
          this.beatsPerBar = tracker.beatsPerBar;
          this.#barStart = (Math.floor(tracker.position) - tracker.barBeat) * multiple;
        }
        break;
      }
    }
    const whole = Math.floor(this.beat);
    // A leap of the position is no beat.
    if (whole === Math.floor(was) + 1 && this.bpm > 0) {
      this.beatAgo = Math.min(dt, ((this.beat - whole) * 60) / this.bpm);
      this.isBar = this.beatOfBar === 0;
    }
  }
}
