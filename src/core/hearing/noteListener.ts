import type { Frames, Hz, Seconds } from '../units';
import { HOLD_OFF, strokeThreshold, StrokeTrigger, type HitListener } from './hitListener';
import { noteOf, type Pitch } from './pitch';

/** A pitch is believed from this confidence on. */
const BELIEVED = 0.45;
/** Looks that must agree, within so many semitones, before there is a note; and those that are remembered to say since when. */
const AGREE = 3,
  WITHIN: number = 0.6,
  REMEMBERED = 16;
/** So far from the note that is held, in semitones, it is another one: more than a vibrato, less than a semitone. */
const OTHER = 0.62;
/** After a note began by its pitch, the glide into it is no further one. */
const GLIDE: Seconds = 0.07;
/** A stroke waits so long for its pitch, and is the beginning of a note whose pitch changes so shortly after it. */
const WAIT: Seconds = 0.11;
/** And so long after half of its window is full, looks agree. */
const AGREED: Seconds = 0.02;
/** Two beginnings are at least so far apart. */
const APART: Seconds = 0.05;
/** Without a pitch for so long, the next one is a new note. */
const SILENT: Seconds = 0.05;
/** The held note follows the one that sounds within about this: a slow drift is no other note. */
const FOLLOW: Seconds = 0.12;
/** How long after it begins a note is first the nearer one: about half of what its pitch is read from, which is shorter for whistles. */
const HALF_WINDOW: Seconds = 0.03,
  HALF_WHISTLE: Seconds = 0.019,
  WHISTLED = 87;

/**
 * When a note begins, and which: where its pitch leaves the one before, though nothing rises, and where it is struck anew. Strictly
 * causal: it is known some hundredths of a second later, when looks at the pitch agree.
 */
export class NoteListener {
  /** A note began: is known in this hop. */
  begun = false;
  /** How long before the hop's end it began. */
  ago: Seconds = 0;
  /** Its number, 69 for A4, in between for what is out of tune; 0 before the first. */
  note = 0;
  readonly #trigger = new StrokeTrigger('any', strokeThreshold('any', 0.5), HOLD_OFF);
  readonly #rate: Hz;
  /** Notes of the last looks, NaN where there was none, and when each was. */
  readonly #notes = new Float64Array(REMEMBERED).fill(NaN);
  readonly #times = new Float64Array(REMEMBERED);
  #now: Seconds = 0;
  #looks = 0;
  #held = NaN;
  #heldAt: Seconds = -1;
  #soundAt: Seconds = -1;
  #struckAt: Seconds = -1;
  #lastAt: Seconds = -1;

  constructor(sampleRate: Hz) {
    this.#rate = sampleRate;
  }

  /** After pitch and strokes of the same hop. Allocates nothing. @param frames - of the hop */
  process(pitch: Pitch, hits: HitListener, frames: Frames): void {
    const dt = frames / this.#rate;
    this.#now += dt;
    this.begun = false;
    if (this.#trigger.step(hits.probability[0]!, dt)) this.#struckAt = this.#now - hits.ago[0]!;
    if (pitch.looks === this.#looks) return;
    this.#looks = pitch.looks;
    this.#remember(pitch.hz > 0 && pitch.confidence >= BELIEVED ? noteOf(pitch.hz) : NaN);
    const sounds = this.#agreed();
    if (!(sounds > 0)) {
      if (this.#now - this.#soundAt > SILENT) this.#held = NaN;
      return;
    }
    this.#soundAt = this.#now;
    const struck = this.#struckAt > 0 && this.#now - this.#struckAt < WAIT ? this.#struckAt : -1;
    if (!(this.#held > 0)) this.#begin(sounds, struck > 0 ? struck : this.#since(sounds, NaN));
    else if (Math.abs(sounds - this.#held) > OTHER && this.#now - this.#heldAt > GLIDE)
      this.#begin(sounds, struck > 0 ? struck : this.#since(sounds, this.#held));
    // Struck anew: what sounds now must have sounded after the stroke.
    else if (struck > 0 && this.#now - struck > HALF_WINDOW + AGREED) this.#begin(sounds, struck);
    else {
      const near = this.#now - this.#heldAt < GLIDE ? 0.5 : (dt * 2) / FOLLOW;
      this.#held += near * (sounds - this.#held);
      if (this.#now - this.#heldAt < GLIDE) this.note = this.#held;
    }
  }

  #remember(note: number): void {
    this.#notes.copyWithin(1, 0);
    this.#times.copyWithin(1, 0);
    this.#notes[0] = note;
    this.#times[0] = this.#now;
  }
  /** The note that the last looks agree on, or NaN. */
  #agreed(): number {
    let low = Infinity,
      high = -Infinity,
      sum = 0;
    for (let i = 0; i < AGREE; i++) {
      const n = this.#notes[i]!;
      if (!(n > 0)) return NaN;
      if (n < low) low = n;
      if (n > high) high = n;
      sum += n;
    }
    return high - low <= WITHIN ? sum / AGREE : NaN;
  }
  /** Since when it is nearer to this note than to the one before. */
  #since(note: number, before: number): Seconds {
    let at = this.#now;
    for (let i = 0; i < REMEMBERED; i++) {
      const n = this.#notes[i]!,
        near = n > 0 && (before > 0 ? Math.abs(n - note) < Math.abs(n - before) : Math.abs(n - note) < 1.5);
      if (!near) {
        // One look that found nothing is no gap.
        if (i > 0 && i + 1 < REMEMBERED && Math.abs(this.#notes[i + 1]! - note) < 0.8) continue;
        break;
      }
      at = this.#times[i]!;
    }
    return at - (note > WHISTLED ? HALF_WHISTLE : HALF_WINDOW);
  }
  #begin(note: number, at: Seconds): void {
    this.#held = note;
    this.#heldAt = this.#now;
    this.#struckAt = -1;
    if (at - this.#lastAt < APART) return;
    this.#lastAt = at;
    this.note = note;
    this.begun = true;
    this.ago = this.#now - at;
  }
}
