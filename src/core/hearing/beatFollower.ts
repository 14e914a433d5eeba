import type { Seconds } from '../units';
import { BarPointer, EVERY, FIRST_OF_THREE, PLACES } from './barPointer';

/** Beats without anything heard that make a break. */
const BREAK_BEATS = 1.2;
/** The rate that a break goes on with is averaged over so long before it. */
const EVEN: Seconds = 4;
/** A beat clock that is off by less is steered; by more, for several looks, it is set anew. */
const STEER = 0.22;
/** The clock may be at odds with what is heard for so long before it is set anew; meanwhile it is less and less sure of itself. */
const AT_ODDS: Seconds = 0.7,
  AT_ODDS_IN_DOUBT: Seconds = 0.4;
/** Within this of the place that is found, the clock is right about it, and its own drift tells its rate. */
const ON_IT = 0.05;
/** How far an error moves the rate, by step: as a rule, and while those of late lean to one side, as they do in a tempo that slides. */
const DRIFT = 0.012,
  DRIFT_MOST = 0.05,
  /** So much of a beat is a leaning; and the share of each error in it: half a second. */
  LEANS = 0.01,
  LEAN = 0.02;
/**
 * A clock whose beats were borne out at least so well, and of late only by less than so much of that, is in doubt: fully so, where it is
 * {@link DOUBT_SPAN} less. How far each beat counts in it, and for how long it is remembered how well they were.
 */
const WAS_SURE = 0.7,
  DOUBT = 0.85,
  DOUBT_SPAN = 0.25,
  DOUBT_BEAT = 0.4,
  SURE_FOR: Seconds = 8;
/** How likely a beat of the bar must be, for it to be told. */
const BAR_KNOWN = 0.4;

/**
 * Finds tempo and beat in how likely each moment is a beat.
 *
 * A {@link BarPointer} keeps the probability of every tempo and place. A clock follows the likeliest and tells beats as they
 * come, through pauses too.
 */
export class BeatFollower {
  /** Beats a minute; 0 until one is found. */
  bpm = 0;
  /** 0 to 1: how much of all probability lies at this tempo and phase. */
  confidence = 0;
  /** Beats since the start, rising evenly; its whole part changes at each beat. */
  position = 0;
  /** Set in the step in which a beat falls: the beat's time before the step's end. NaN otherwise. */
  beatAgo: Seconds = NaN;
  /** Which beat of the bar the next is likeliest to be, counted from 0; −1 while unknown. */
  barBeat = -1;
  beatsPerBar = 4;

  readonly #step: Seconds;
  readonly #lag: Seconds;
  readonly #pointer: BarPointer;
  #active = 0;
  #rate = 0;
  #off = 0;
  /** Where the errors of late lie, in beats. */
  #lean = 0;
  /** How well the last beats were borne out, and the best of that; and how likely another tempo has begun: 0 to 1. */
  #borneOf = 0;
  #sure = 0;
  #doubt = 0;
  #frames = 0;
  /** How sure the beat of the bar is, and what leads from the clock's beats to it. */
  #barSure = 0;
  #barAt = 0;
  /** How long nothing that could be a beat was heard, and whether that is a break. */
  #quiet: Seconds = 0;
  /** How long it was, when something is heard again. */
  #lull: Seconds = 0;
  #inBreak = false;
  #wasBreak = false;
  /** The clock when something was last heard, and its mean rate of the last seconds: what a break goes on with. */
  #heardAt = 0;
  #evenRate = 0;
  /** Likelihoods at the clock's beats and halfway between them: the loudest of this beat, and their running means. */
  #topOn = 0;
  #topOff = 0;
  /** Of even and of odd beats: at double the tempo, those of one kind are not heard. */
  readonly #meanOn = new Float64Array(2).fill(0.3);
  #meanOff = 0;

  /** @param step - from one likelihood to the next @param lag - by which they are late */
  constructor(step: Seconds, lag: Seconds) {
    this.#step = step;
    this.#lag = lag;
    this.#pointer = new BarPointer(step);
  }

  /** Moves on by a step. Allocates nothing. @param beat - likelihood of a beat now, 0 to 1 @param down - of a bar's first */
  follow(beat: number, down: number): void {
    this.beatAgo = NaN;
    this.#hear(beat, down);
    this.#tell(beat);
  }

  #hear(raw: number, down: number): void {
    // While nothing that could be a beat is heard, nothing is learnt: the pointer runs on.
    this.#active = Math.max(raw, this.#active * (1 - this.#step / 1.6));
    const faint = 0.25 * Math.max(0.3, (this.#meanOn[0]! + this.#meanOn[1]!) / 2);
    this.#quiet += this.#step;
    if (raw > faint) {
      this.#lull = this.#quiet;
      this.#quiet = 0;
    }
    // A beat and more in which nothing stirs is a break, not a slower tempo.
    this.#inBreak = this.#rate > 0 && this.#quiet > BREAK_BEATS / this.#rate;
    const trust = this.#inBreak ? 0 : Math.min(1, Math.max(0, (this.#active - 0.08) / 0.3));
    this.#pointer.step(raw, down, trust, this.#doubt);
    this.#pointer.read();
    this.#frames++;
  }

  /** Lets the clock follow the likeliest tempo and place. */
  #tell(heard: number): void {
    const step = this.#step,
      { period, sharp } = this.#pointer;
    const found = 60 / (period * step);
    const agreed = 1 - Math.min(1, this.#off / AT_ODDS);
    this.confidence += (sharp * this.#borneOut() * agreed * (1 - this.#doubt) - this.confidence) * 0.08;
    const phase = (this.#pointer.phase + this.#lag / (period * step)) % 1;

    const was = this.position;
    if (this.#rate === 0) {
      if (sharp < 0.25 || this.#frames * step < 1.2) return;
      this.#rate = this.#evenRate = found / 60;
      this.position = phase;
      // What was heard last may lie back already: a break that begins at once goes on from here.
      this.#heardAt = phase - this.#rate * this.#quiet;
      this.bpm = found;
      return;
    }
    let next = was + this.#rate * step;
    if (this.#inBreak && !this.#wasBreak) {
      // What the clock did since the last beat that was heard was led by nothing.
      this.#rate = this.#evenRate;
      next = Math.max(was, this.#heardAt + this.#evenRate * this.#quiet);
    }
    this.#wasBreak = this.#inBreak;
    let error = phase - (next - Math.floor(next));
    error -= Math.round(error);
    const other = Math.abs(found / 60 / this.#rate - 1) > 0.06;
    this.#off =
      (other || Math.abs(error) > STEER) && sharp > 0.3 && !this.#inBreak
        ? this.#off + step
        : Math.max(0, this.#off - 2 * step);
    const trust = this.#inBreak ? 0 : Math.min(1, sharp * 1.4);
    if (this.#off > AT_ODDS + (AT_ODDS_IN_DOUBT - AT_ODDS) * this.#doubt) {
      // The clock has been at odds with what is heard: it is set anew.
      this.#rate = found / 60;
      next += error;
      if (next < was) next += 1;
      this.#off = 0;
    } else if (!other) {
      next += error * 0.06 * trust;
      // Far off, the rate goes to what is found; near it, only the drift of the phase says how far: the rows of the model are 2 % apart,
      // and while a tempo slides they come late.
      const gap = found / 60 / this.#rate - 1,
        isFar = Math.abs(gap) > 0.025 && Math.abs(error) > ON_IT;
      this.#rate *= 1 + gap * (isFar ? 0.06 : 0.006) * trust;
      this.#lean += (error - this.#lean) * LEAN;
      const leans = Math.min(1, (this.#lean / LEANS) ** 2);
      this.#rate += error * (DRIFT + (DRIFT_MOST - DRIFT) * leans) * trust;
      if (next < was) next = was;
    }
    this.bpm = this.#rate * 60;
    this.position = next;
    if (this.#quiet === 0) {
      this.#heardAt = next;
      this.#evenRate =
        Math.abs(this.#evenRate / this.#rate - 1) > 0.03
          ? this.#rate
          : this.#evenRate + (this.#rate - this.#evenRate) * Math.min(1, this.#lull / EVEN);
    }
    this.#check(heard, was, next);
    if (Math.floor(next) > Math.floor(was))
      this.beatAgo = Math.min(step, (next - Math.floor(next)) / this.#rate);
    this.#bar(next);
    this.#askWhetherItChanged();
  }

  /** How far what is heard at the clock's beats stands above what is heard between them: 0 to 1. A wrong tempo has beats where none are heard. */
  #borneOut(): number {
    return standsOut(Math.min(this.#meanOn[0]!, this.#meanOn[1]!), this.#meanOff);
  }
  /** Beats that were borne out, and are no longer: another tempo may have begun. A beat that was never sure is in no doubt. */
  #askWhetherItChanged(): void {
    this.#sure = Math.max(this.#borneOf, this.#sure * (1 - this.#step / SURE_FOR));
    this.#doubt =
      this.#sure > WAS_SURE && !this.#inBreak && this.#active > 0.2
        ? Math.min(1, Math.max(0, (DOUBT - this.#borneOf / this.#sure) / DOUBT_SPAN))
        : 0;
  }
  #check(a: number, was: number, next: number): void {
    const place = next - Math.floor(next);
    if (place < 0.2 || place > 0.86) {
      if (a > this.#topOn) this.#topOn = a;
    } else if (place > 0.35 && place < 0.7 && a > this.#topOff) this.#topOff = a;
    // The network is late: a beat's own likelihood is complete a fifth of a beat after it.
    if (place < 0.2 || was - Math.floor(was) >= 0.2) return;
    // In a break nothing is borne out, and nothing is refuted.
    if (this.#active > 0.2) {
      const odd = Math.floor(next) & 1;
      this.#meanOn[odd]! += 0.16 * (this.#topOn - this.#meanOn[odd]!);
      this.#meanOff += 0.16 * (this.#topOff - this.#meanOff);
      this.#borneOf += DOUBT_BEAT * (standsOut(this.#topOn, this.#topOff) - this.#borneOf);
    }
    this.#topOn = this.#topOff = 0;
  }

  /** Finds which beat of the bar it is, in the middle of a beat, when the clock and the pointer mean the same one. */
  #bar(position: number): void {
    const beat = Math.floor(position),
      place = position - beat;
    if (place > 0.35 && place < 0.75) {
      const { places } = this.#pointer;
      let four = 0,
        three = 0,
        sum = 0;
      for (let j = 0; j < PLACES; j++) {
        sum += places[j]!;
        if (j < FIRST_OF_THREE) four += places[j]!;
        else if (j < EVERY) three += places[j]!;
      }
      const from = three > four ? FIRST_OF_THREE : 0,
        count = three > four ? 3 : 4;
      let best = from;
      for (let j = from; j < from + count; j++) if (places[j]! > places[best]!) best = j;
      this.#barSure += ((sum > 0 ? places[best]! / sum : 0) - this.#barSure) * 0.05;
      this.beatsPerBar = count;
      this.#barAt = best - from - beat;
    }
    const n = this.beatsPerBar;
    this.barBeat = this.#barSure < BAR_KNOWN ? -1 : (((beat + this.#barAt) % n) + n) % n;
  }
}

const standsOut = (on: number, off: number): number =>
  Math.max(0, Math.min(1, (on - 0.6 * off - 0.08) / 0.34));
