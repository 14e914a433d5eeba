import type { Hz, Seconds } from '../units';
import type { BandFrame } from './bandFrame';
import { Gru, type GruWeights } from './gru';
import { PooledFrame } from './pooledFrame';
import trained from './weights/beat.json';

/** Tempi that are considered, in beats a minute. Of two that fit, one beyond these ends is not meant; half and double are on a key. */
export const SLOWEST = 66, FASTEST = 216;
/** Share of a beat, from its start, in which it is expected to be heard: 1/16. */
const BEAT_PART = 16;
/** How much a beat may be longer or shorter than the one before: `exp(−TIGHT |P′/P − 1|)`. */
const TIGHT = 90;
const REACH = 7;
/** Beats are first expected around this tempo, within a factor of two or so: people tap there. */
const USUAL_BPM = 118, USUAL_OCTAVES = 0.75;
/** The network says so long after a beat that it was one. */
const LAG: Seconds = 0.019;
/** Beats without anything heard that make a break. */
const BREAK_BEATS = 1.2;
/** A beat clock that is off by less is steered; by more, for several looks, it is set anew. */
const STEER = 0.22;

/**
 * Tempo and beat of one input, by itself.
 *
 * A network gives the likelihood of a beat every 10.7 ms. A bar-pointer model (Whiteley, Cemgil & Godsill 2006) with one row
 * of states per period keeps the probability of every pair of tempo and phase and moves it on in time (forward filtering, so
 * it is strictly causal). A clock follows the likeliest pair and tells beats as they come, through pauses too.
 */
export class BeatTracker {
  /** Beats a minute; 0 until one is found. */
  bpm = 0;
  /** 0 to 1: how much of all probability lies at this tempo and phase. */
  confidence = 0;
  /** Beats since the start, rising evenly; its whole part changes at each beat. */
  position = 0;
  /** Set in the frame in which a beat falls: the beat's time before the frame's end. NaN otherwise. */
  beatAgo: Seconds = NaN;
  /** Likelihoods of beat and bar start as the network hears them. */
  readonly heard: Float32Array;
  /** Which beat of the bar the next is likeliest to be, counted from 0; −1 while unknown. */
  barBeat = -1;
  beatsPerBar = 4;

  readonly #gru = new Gru(trained as GruWeights);
  readonly #pooled = new PooledFrame();
  readonly #step: Seconds;
  readonly #periods: number;
  readonly #shortest: number;
  /** First state of each period's row, and one beyond the last. */
  readonly #row: Int32Array;
  readonly #p: Float64Array;
  readonly #next: Float64Array;
  readonly #arrive: Float64Array;
  readonly #spread: Float64Array;
  readonly #mass: Float64Array;
  readonly #scores = new Float64Array(12);
  #active = 0;
  #rate = 0;
  #off = 0;
  #frames = 0;
  #beats = 0;
  #barHeard = 0;
  /** How long nothing that could be a beat was heard, and whether that is a break. */
  #quiet: Seconds = 0;
  #inBreak = false;
  /** Likelihoods at the clock's beats and halfway between them: the loudest of this beat, and their running means. */
  #topOn = 0;
  #topOff = 0;
  #meanOn = 0.3;
  #meanOff = 0;

  constructor(sampleRate: Hz, hopFrames: number) {
    this.heard = this.#gru.out;
    this.#step = (2 * hopFrames) / sampleRate;
    this.#shortest = Math.round(60 / FASTEST / this.#step);
    const longest = Math.round(60 / SLOWEST / this.#step);
    this.#periods = longest - this.#shortest + 1;
    this.#row = new Int32Array(this.#periods + 1);
    for (let i = 0; i < this.#periods; i++) this.#row[i + 1] = this.#row[i]! + this.#shortest + i;
    const states = this.#row[this.#periods]!;
    this.#p = new Float64Array(states);
    this.#next = new Float64Array(states);
    this.#arrive = new Float64Array(this.#periods);
    this.#mass = new Float64Array(this.#periods);
    this.#spread = new Float64Array(this.#periods * (2 * REACH + 1));
    let total = 0;
    for (let i = 0; i < this.#periods; i++) {
      const period = this.#shortest + i;
      let sum = 0;
      for (let d = -REACH; d <= REACH; d++) { const w = i + d < 0 || i + d >= this.#periods ? 0 : Math.exp(-TIGHT * Math.abs((period + d) / period - 1)); this.#spread[i * (2 * REACH + 1) + d + REACH] = w; sum += w; }
      for (let d = 0; d <= 2 * REACH; d++) this.#spread[i * (2 * REACH + 1) + d]! /= sum;
      const octaves = Math.log2(60 / (period * this.#step) / USUAL_BPM);
      const prior = Math.exp(-0.5 * (octaves / USUAL_OCTAVES) ** 2);
      for (let k = this.#row[i]!; k < this.#row[i + 1]!; k++) { this.#p[k] = prior / period; total += prior / period; }
    }
    for (let k = 0; k < states; k++) this.#p[k]! /= total;
  }

  /** Takes a frame; works on every second. Allocates nothing. @returns whether it did */
  process(frame: BandFrame): boolean {
    this.beatAgo = NaN;
    if (!this.#pooled.take(frame)) return false;
    this.#gru.step(this.#pooled.input);
    this.#filter(this.heard[0]!);
    this.#follow();
    return true;
  }

  #filter(raw: number): void {
    // While nothing that could be a beat is heard, nothing is learnt: the pointer runs on.
    this.#active = Math.max(raw, this.#active * (1 - this.#step / 1.6));
    const faint = 0.25 * Math.max(0.3, this.#meanOn);
    this.#quiet = raw > faint ? 0 : this.#quiet + this.#step;
    // A beat and more in which nothing stirs is a break, not a slower tempo.
    this.#inBreak = this.#rate > 0 && this.#quiet > BREAK_BEATS / this.#rate;
    const trust = this.#inBreak ? 0 : Math.min(1, Math.max(0, (this.#active - 0.08) / 0.3));
    const a = trust * Math.min(0.98, Math.max(0.012, raw)) + (1 - trust) / BEAT_PART;
    const off = (1 - a) / (BEAT_PART - 1);
    const p = this.#p, next = this.#next, row = this.#row, n = this.#periods, width = 2 * REACH + 1, arrive = this.#arrive;
    arrive.fill(0);
    for (let i = 0; i < n; i++) {
      const last = p[row[i + 1]! - 1]!;
      const from = i - REACH < 0 ? REACH - i : 0, to = i + REACH >= n ? n - 1 - i + REACH : width - 1;
      for (let d = from; d <= to; d++) arrive[i + d - REACH]! += last * this.#spread[i * width + d]!;
    }
    let total = 0;
    for (let i = 0; i < n; i++) {
      const first = row[i]!, end = row[i + 1]!, part = Math.max(2, (end - first) / BEAT_PART);
      let mass = 0;
      const lead = arrive[i]! * a;
      next[first] = lead;
      mass += lead;
      for (let k = first + 1; k < end; k++) { const v = p[k - 1]! * (k - first < part ? a : off); next[k] = v; mass += v; }
      this.#mass[i] = mass;
      total += mass;
    }
    const scale = total > 0 ? 1 / total : 0;
    for (let k = 0; k < next.length; k++) p[k] = next[k]! * scale + 1e-12;
    for (let i = 0; i < n; i++) this.#mass[i]! *= scale;
    this.#frames++;
  }

  /** Reads the likeliest tempo and phase, and lets the clock follow. */
  #follow(): void {
    const n = this.#periods, row = this.#row, p = this.#p, step = this.#step;
    let best = 0, top = -1;
    for (let i = 0; i < n; i++) { const m = (this.#mass[i - 1] ?? 0) + this.#mass[i]! + (this.#mass[i + 1] ?? 0); if (m > top) { top = m; best = i; } }
    // Tempo: the mean of what lies within 4 % of the likeliest; phase: the direction of its mean on the circle.
    let mass = 0, period = 0, re = 0, im = 0;
    const near = Math.max(2, Math.round((this.#shortest + best) * 0.04));
    for (let i = Math.max(0, best - near); i <= Math.min(n - 1, best + near); i++) {
      const length = this.#shortest + i, first = row[i]!, turn = (2 * Math.PI) / length;
      mass += this.#mass[i]!;
      period += this.#mass[i]! * length;
      const c = Math.cos(turn), s = Math.sin(turn);
      let x = 1, y = 0;
      for (let k = 0; k < length; k++) { const w = p[first + k]!; re += w * x; im += w * y; const t = x * c - y * s; y = x * s + y * c; x = t; }
    }
    period /= mass;
    const sharp = Math.sqrt(re * re + im * im);
    const found = 60 / (period * step);
    this.confidence += (Math.max(0, Math.min(1, sharp)) * this.#borneOut() - this.confidence) * 0.08;
    const phase = (((Math.atan2(im, re) / (2 * Math.PI) + LAG / (period * step)) % 1) + 1) % 1;

    const was = this.position;
    if (this.#rate === 0) {
      if (sharp < 0.25 || this.#frames * step < 1.2) return;
      this.#rate = found / 60;
      this.position = phase;
      this.bpm = found;
      return;
    }
    let next = was + this.#rate * step;
    let error = phase - (next - Math.floor(next));
    error -= Math.round(error);
    const other = Math.abs(found / 60 / this.#rate - 1) > 0.06;
    this.#off = (other || Math.abs(error) > STEER) && sharp > 0.3 && !this.#inBreak ? this.#off + step : Math.max(0, this.#off - 2 * step);
    const trust = this.#inBreak ? 0 : Math.min(1, sharp * 1.4);
    if (this.#off > 0.7) {
      // The clock has been at odds with what is heard: it is set anew.
      this.#rate = found / 60;
      next += error;
      if (next < was) next += 1;
      this.#off = 0;
      this.#scores.fill(0);
    } else if (!other) {
      next += error * 0.06 * trust;
      // Far off, the rate goes to what is found; near it, only the drift of the phase says how far: the rows of the model are 2 % apart.
      const gap = found / 60 / this.#rate - 1;
      this.#rate *= 1 + gap * (Math.abs(gap) > 0.025 ? 0.06 : 0.006) * trust;
      this.#rate += error * 0.012 * trust;
      if (next < was) next = was;
    }
    this.bpm = this.#rate * 60;
    this.position = next;
    this.#check(was, next);
    this.#barHeard = Math.max(this.#barHeard * 0.9, this.heard[1]!);
    if (Math.floor(next) > Math.floor(was)) {
      this.beatAgo = Math.min(step, (next - Math.floor(next)) / this.#rate);
      this.#beats++;
    }
    this.#bar(next);
  }

  /** How far what is heard at the clock's beats stands above what is heard between them: 0 to 1. A wrong tempo has beats where none are heard. */
  #borneOut(): number { return Math.max(0, Math.min(1, (this.#meanOn - 0.6 * this.#meanOff - 0.08) / 0.34)); }
  #check(was: number, next: number): void {
    const a = this.heard[0]!, place = next - Math.floor(next);
    if (place < 0.2 || place > 0.86) { if (a > this.#topOn) this.#topOn = a; } else if (place > 0.35 && place < 0.7 && a > this.#topOff) this.#topOff = a;
    // The network is late: a beat's own likelihood is complete a fifth of a beat after it.
    if (place < 0.2 || was - Math.floor(was) >= 0.2) return;
    // In a break nothing is borne out, and nothing is refuted.
    if (this.#active > 0.2) { this.#meanOn += 0.16 * (this.#topOn - this.#meanOn); this.#meanOff += 0.16 * (this.#topOff - this.#meanOff); }
    this.#topOn = this.#topOff = 0;
  }

  /** Finds which beat begins the bar: where bar starts were heard, beat by beat of four and of three. */
  #bar(position: number): void {
    const beat = Math.round(position), near = Math.abs(position - beat) < 0.14;
    for (let k = 0; k < this.#scores.length; k++) this.#scores[k]! *= 1 - this.#step / 14;
    if (near) {
      this.#scores[((beat % 4) + 4) % 4]! += this.heard[1]!;
      this.#scores[4 + ((beat % 3) + 3) % 3]! += this.heard[1]!;
    }
    const four = this.#strongest(0, 4), three = this.#strongest(4, 3);
    const sum4 = this.#scores[0]! + this.#scores[1]! + this.#scores[2]! + this.#scores[3]!;
    if (sum4 < 0.5) { this.barBeat = -1; return; }
    const isThree = this.#scores[4 + three]! / sum4 > this.#scores[four]! / sum4 + 0.12;
    this.beatsPerBar = isThree ? 3 : 4;
    this.barBeat = isThree ? ((((Math.floor(position) - three) % 3) + 3) % 3) : (((Math.floor(position) - four) % 4) + 4) % 4;
  }

  #strongest(from: number, count: number): number {
    let at = 0;
    for (let k = 1; k < count; k++) if (this.#scores[from + k]! > this.#scores[from + at]!) at = k;
    return at;
  }
}
