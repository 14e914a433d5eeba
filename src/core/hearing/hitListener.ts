import type { Hz, Seconds } from '../units';
import { BAND_COUNT, COMMON_COUNT, FINE_COUNT, FLAT_COUNT, MOMENT_COUNT, type BandFrame } from './bandFrame';
import { hopFrames } from '../audio/hop';
import { Gru, type GruWeights } from './gru';
import { LoopMemory } from './loopMemory';
import { DEVIATIONS, Outstanding } from './outstanding';
import music from './weights/strokesMusic.json';
import patterns from './weights/strokesPatterns.json';
import patternsThird from './weights/strokesPatternsThird.json';
import patternsToo from './weights/strokesPatternsToo.json';

/** What a stroke is taken for, in the order of the network's outputs. */
export const STROKES = ['any', 'kick', 'snare', 'hat'] as const;
export type Stroke = (typeof STROKES)[number];

/** Two strokes of a kind are at least so far apart: a roll of thirty-second notes at 180 beats a minute. */
export const HOLD_OFF: Seconds = 0.036;
/** Probability at which a stroke is believed, at middling sensitivity: where, on pieces of known kinds that were kept apart, misses and false alarms weighed about least together. */
const BELIEVED: Readonly<Record<Stroke, number>> = { any: 0.65, kick: 0.56, snare: 0.51, hat: 0.42 };
/** How long after a stroke's onset the hop ends in which it is usually believed: when exactly it was is told by the network. */
const LAG: Readonly<Record<Stroke, Seconds>> = { any: 0.009, kick: 0.02, snare: 0.02, hat: 0.02 };
/** Bands whose level is a stroke's strength. */
const VOICE: Readonly<Record<Stroke, readonly [number, number]>> = {
  any: [0, BAND_COUNT - 2],
  kick: [0, 6],
  snare: [11, 20],
  hat: [18, 23],
};
/** A stroke this far below the loudest of its kind of late has a strength of a tenth. */
const LOUDEST_FALL_DB_PER_S = 1.5;
/** How long ago an onset is told to be at most. */
const AGO_MOST: Seconds = 0.048;
/** How much of what is believed of each stroke the networks of wide bands say. */
const WIDE_SHARE: Readonly<Record<Stroke, number>> = { any: 0.5, kick: 0.45, snare: 0.5, hat: 0.4 };
/** How far a loop that is remembered moves what is believed of each, in log odds, and where it does neither way. Snares gain nothing by it. */
const LOOP_MOVES: Readonly<Record<Stroke, number>> = { any: 0, kick: 3, snare: 0, hat: 1 },
  LOOP_EVEN = 0.4;
/** What just stands out of steady noise is as likely a stroke as what is believed at middling sensitivity; each deviation more adds so much, in log odds. */
const OUTSTANDING_ODDS = 0.7;
/** Hops whose moments are looked at, and before now, whose bands are. */
const HOPS_OF_MOMENTS = 4,
  HOPS_BEFORE = 4;
/** Nothing is believed before the sound has been heard for so long: what is already on at the start is no stroke. */
const WARM_UP: Seconds = 0.045;

/** One kind of stroke: when a probability becomes an event. Several ears may read it, each at its own sensitivity. */
export class StrokeTrigger {
  #armed = true;
  #top = 0;
  #since: Seconds = Infinity;
  constructor(
    readonly stroke: Stroke,
    readonly threshold: number,
    readonly holdOff: Seconds,
  ) {}

  /** @param p - probability now @returns whether a stroke begins with this hop */
  step(p: number, dt: Seconds): boolean {
    this.#since += dt;
    if (p > this.#top) this.#top = p;
    // It falls between two strokes, though in a fast roll not all the way.
    if (p < this.threshold * 0.6 || p < this.#top * 0.55) this.#armed = true;
    if (!this.#armed || p < this.threshold || this.#since < this.holdOff) return false;
    this.#armed = false;
    this.#top = p;
    this.#since = 0;
    return true;
  }
}

/** @param sensitivity - 0 (only what is sure) to 1 (everything); ½ is even */
export function strokeThreshold(stroke: Stroke, sensitivity: number): number {
  const odds =
    Math.log(BELIEVED[stroke] / (1 - BELIEVED[stroke])) + (0.5 - Math.min(1, Math.max(0, sensitivity))) * 5;
  return 1 / (1 + Math.exp(-odds));
}

/**
 * How likely it is that a stroke of each kind has just begun, and how long ago. Three networks look at the wide bands and know patterns
 * of drums; one of two layers looks at the narrow ones, at both sides and at moments, and knows music of many kinds (see
 * docs/decisions.md). They err in different places, and both are believed in part. What a loop had here
 * before moves it further; a click in steady noise is told by a rule of its own. Computed once an input and channel, whoever asks.
 */
export class HitListener {
  /** Probability of each of {@link STROKES}. */
  readonly probability = new Float32Array(STROKES.length);
  /** How long before the hop's end a stroke of each began, if one did. */
  readonly ago = new Float32Array(STROKES.length);
  readonly #narrow = new Gru(music as GruWeights);
  readonly #wide: readonly Gru[] = [patterns, patternsToo, patternsThird].map(
    (w) => new Gru(w as GruWeights),
  );
  readonly #loop: LoopMemory;
  readonly #outstanding: Outstanding;
  /** What is believed by what is heard alone: what a loop is remembered from. */
  readonly #alone = new Float32Array(STROKES.length);
  readonly #wideInput = new Float32Array(BAND_COUNT * 3 + FLAT_COUNT);
  readonly #widePast = new Float32Array(BAND_COUNT * HOPS_BEFORE);
  readonly #input = new Float32Array(
    FINE_COUNT * 3 + FLAT_COUNT + COMMON_COUNT + MOMENT_COUNT * HOPS_OF_MOMENTS,
  );
  readonly #past = new Float32Array(FINE_COUNT * HOPS_BEFORE);
  readonly #moments = new Float32Array(MOMENT_COUNT * HOPS_OF_MOMENTS);
  readonly #loudest = new Float64Array(STROKES.length).fill(-3.5);
  readonly #rate: Hz;
  #heard: Seconds = 0;
  #first = true;

  constructor(sampleRate: Hz) {
    this.#rate = sampleRate;
    const hop = hopFrames(sampleRate);
    this.#loop = new LoopMemory(sampleRate, hop);
    this.#outstanding = new Outstanding(sampleRate, hop);
  }

  /** Takes one frame. Allocates nothing. @param frames - of its hop */
  process(frame: BandFrame, frames: number): void {
    this.#look(frame);
    const dt = frames / this.#rate;
    this.#heard += dt;
    const { ago } = this,
      alone = this.#alone,
      y = this.#narrow.step(this.#input),
      count = this.#wide.length,
      warm = this.#heard >= WARM_UP;
    for (let i = 0; i < STROKES.length; i++) {
      alone[i] = warm ? (1 - WIDE_SHARE[STROKES[i]!]) * y[i]! : 0;
      ago[i] = y[STROKES.length + i]! * AGO_MOST;
    }
    for (let k = 0; k < count; k++) {
      const w = this.#wide[k]!.step(this.#wideInput);
      if (warm)
        for (let i = 0; i < STROKES.length; i++) alone[i]! += (WIDE_SHARE[STROKES[i]!] / count) * w[i]!;
    }
    this.#expect();
    this.#loop.take(alone, 1);
    this.#clicks(frame);
  }
  /** A click in steady noise is a stroke of no kind. */
  #clicks(frame: BandFrame): void {
    this.#outstanding.take(frame);
    const { deviations, ago } = this.#outstanding;
    if (deviations === 0) return;
    const even = BELIEVED.any / (1 - BELIEVED.any),
      odds = even * Math.exp(OUTSTANDING_ODDS * (deviations - DEVIATIONS)),
      p = odds / (1 + odds);
    if (p <= this.probability[0]!) return;
    this.probability[0] = p;
    this.ago[0] = ago;
  }
  /** What was struck a round ago is likelier now, what was not less likely: as far as it is known what repeats. */
  #expect(): void {
    const alone = this.#alone,
      { probability } = this,
      sure = this.#loop.confidence;
    probability.set(alone);
    if (sure === 0) return;
    for (let i = 1; i < STROKES.length; i++) {
      const p = alone[i]!,
        most = LOOP_MOVES[STROKES[i]!];
      if (most === 0 || p === 0) continue;
      const moves = most * sure * (this.#loop.before(i - 1) - LOOP_EVEN);
      // Log odds, moved.
      probability[i] = p / (p + (1 - p) * Math.exp(-moves));
    }
  }

  /** What goes in: each band now, its leap over the hop before and over the quietest of the three before that; noise, sides; moments. */
  #look({ bands, fine, flatness, common, moments }: BandFrame): void {
    const n = FINE_COUNT,
      input = this.#input;
    if (this.#first) {
      for (let k = 0; k < HOPS_BEFORE; k++) this.#past.set(fine, k * n);
      for (let k = 0; k < HOPS_BEFORE; k++) this.#widePast.set(bands, k * BAND_COUNT);
      for (let k = 0; k < HOPS_OF_MOMENTS; k++) this.#moments.set(moments, k * MOMENT_COUNT);
      this.#first = false;
    }
    leaps(fine, this.#past, input);
    leaps(bands, this.#widePast, this.#wideInput);
    this.#wideInput.set(flatness, 3 * BAND_COUNT);
    input.set(flatness, 3 * n);
    input.set(common, 3 * n + FLAT_COUNT);
    this.#moments.copyWithin(MOMENT_COUNT, 0);
    this.#moments.set(moments);
    input.set(this.#moments, 3 * n + FLAT_COUNT + COMMON_COUNT);
  }

  /** Strength of a stroke that begins now, 0.05 to 1: its amplitude against the loudest of its kind of late. */
  strength(frame: BandFrame, stroke: Stroke): number {
    const [from, to] = VOICE[stroke];
    let level = -3.5;
    for (let b = from; b < to; b++) if (frame.bands[b]! > level) level = frame.bands[b]!;
    const i = STROKES.indexOf(stroke);
    if (level > this.#loudest[i]!) this.#loudest[i] = level;
    return Math.min(1, Math.max(0.05, 10 ** (level - this.#loudest[i]!)));
  }

  /** Lets the loudest strokes fade from memory; once a hop, after the ears. */
  fade(frames: number): void {
    const fall = (LOUDEST_FALL_DB_PER_S / 20) * (frames / this.#rate);
    for (let i = 0; i < this.#loudest.length; i++) if (this.#loudest[i]! > -3.5) this.#loudest[i]! -= fall;
  }
}

/** Each band now, its leap over the hop before and over the quietest of the three before that; the newest goes to the front of the past. */
function leaps(bands: Float32Array, past: Float32Array, into: Float32Array): void {
  const n = bands.length;
  for (let b = 0; b < n; b++) {
    const x = bands[b]!,
      two = past[n + b]!,
      three = past[2 * n + b]!,
      four = past[3 * n + b]!;
    let base = two < three ? two : three;
    if (four < base) base = four;
    into[b] = x;
    into[n + b] = x - past[b]!;
    into[2 * n + b] = x - base;
  }
  past.copyWithin(n, 0, (HOPS_BEFORE - 1) * n);
  past.set(bands);
}

export function strokeLag(stroke: Stroke): Seconds {
  return LAG[stroke];
}
