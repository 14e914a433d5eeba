import { keyName } from '../notes/keys';
import type { Octaves } from '../audio/octaves';
import type { Hop } from '../audio/hop';
import { Transform } from '../audio/transform';
import { clamp, type Hz, type Seconds } from '../units';

/** Lowest and highest pitch that is listened for. */
export const PITCH_LOW: Hz = 38,
  PITCH_HIGH: Hz = 5500;
/**
 * Three windows: the short one is quick and serves from 78 Hz, the long one hears two and a half waves of 40 Hz, and the third one hears
 * whistles, at a rate that has enough samples in one of their waves.
 */
const SHORT: Seconds = 0.036,
  LONG: Seconds = 0.07,
  WHISTLE: Seconds = 0.016;
const SHORT_LOWEST: Hz = 78,
  WHISTLE_LOWEST: Hz = 1000,
  WHISTLE_FROM: Hz = 1250;
/** What the longer windows may find at most; above it they have too few samples in a wave. */
const TOP: Hz = 1700;
/** A whistle's period is believed from this likeness on, and no less than so much below that of a longer one. */
const WHISTLE_LIKE = 0.85,
  WHISTLE_LESS = 0.03;
/** The first peak this near to the highest one is the period: later ones are its multiples. */
const NEAR_BEST = 0.87;
/** Likeness of one period to the next that counts as no pitch at all, and as a sure one. */
const NOISE = 0.62,
  SURE = 0.97;
/** Quieter than this nothing has a pitch. */
const GATE_POWER = 10 ** (-74 / 10);
/** Lags beyond this share of a window have too little of it left to compare. */
const REACH = 0.62;
/** The sound is analysed at about this rate: enough for the harmonics that tell a period. */
const WORK_RATE: Hz = 12000,
  WHISTLE_RATE: Hz = 44000;
const TAPER: readonly [from: Hz, to: Hz] = [1400, 3000],
  WHISTLE_TAPER: readonly [from: Hz, to: Hz] = [7000, 14000];

/** One window: how many frames, up to which lag, and a transform as long as both together, so that the correlation does not wrap. */
interface Look {
  readonly frames: number;
  readonly most: number;
  readonly transform: Transform;
  readonly size: number;
  readonly taper: Float64Array;
  readonly ring: Ring;
  /** Pitches that it may find. */
  readonly lowest: Hz;
  readonly highest: Hz;
}

/** The newest stretch of both channels at a rate. */
class Ring {
  readonly left: Float64Array;
  readonly right: Float64Array;
  readonly length: number;
  at = 0;
  constructor(
    length: Seconds,
    readonly depth: number,
    readonly rate: Hz,
  ) {
    this.length = Math.round(length * rate);
    this.left = new Float64Array(this.length);
    this.right = new Float64Array(this.length);
  }
  take(octaves: Octaves, hop: Hop): void {
    const l = octaves.leftAt(this.depth, hop),
      r = octaves.rightAt(this.depth, hop),
      frames = octaves.framesAt(this.depth, hop);
    for (let i = 0; i < frames; i++) {
      const a = l[i]!,
        b = r[i]!;
      this.left[this.at] = a < 1e6 && a > -1e6 ? a : 0;
      this.right[this.at] = b < 1e6 && b > -1e6 ? b : 0;
      if (++this.at === this.length) this.at = 0;
    }
  }
}

/**
 * Pitch of one input by its likeness to itself (normalised square difference, McLeod & Wyvill 2005): for each lag
 * `n(τ) = 2 r(τ) / m(τ)`, where r is the autocorrelation and m the power of the two stretches compared; 1 when the sound
 * repeats exactly. Both channels are correlated apart and summed, so a voice in antiphase has its pitch too.
 */
export class Pitch {
  /** 0 while there is none. */
  hz: Hz = 0;
  /** 0 (noise) to 1 (sure). */
  confidence = 0;
  /** How often it was looked for; on when `hz` and `confidence` are new. */
  looks = 0;
  /** From a note's start to its pitch, for notes that the short window serves. */
  readonly delay: Seconds = SHORT;
  readonly #ring: Ring;
  readonly #fast: Ring;
  readonly #short: Look;
  readonly #long: Look;
  readonly #whistle: Look;
  readonly #likeness: Float64Array;
  readonly #found = { hz: 0, like: 0 };
  #before = 0;
  #turn = 0;

  constructor(octaves: Octaves) {
    const ringOf = (least: Hz, length: Seconds): Ring => {
      let depth = 0;
      while (octaves.rateAt(depth) / 2 >= least * 0.9) depth++;
      octaves.need(depth);
      return new Ring(length, depth, octaves.rateAt(depth));
    };
    this.#ring = ringOf(WORK_RATE, LONG);
    this.#fast = ringOf(WHISTLE_RATE, WHISTLE);
    this.#short = lookOf(this.#ring, SHORT, SHORT_LOWEST, TAPER, PITCH_LOW, TOP);
    this.#long = lookOf(this.#ring, LONG, PITCH_LOW, TAPER, PITCH_LOW, TOP);
    this.#whistle = lookOf(this.#fast, WHISTLE, WHISTLE_LOWEST, WHISTLE_TAPER, WHISTLE_FROM, PITCH_HIGH);
    this.#likeness = new Float64Array(Math.max(this.#short.most, this.#long.most, this.#whistle.most) + 1);
  }

  /** Takes one hop, already halved; looks anew every second hop. Allocates nothing, never throws. */
  process(octaves: Octaves, hop: Hop): void {
    this.#ring.take(octaves, hop);
    this.#fast.take(octaves, hop);
    if ((this.#turn ^= 1) === 0) this.#look();
  }

  #look(): void {
    this.#period(this.#short);
    let { hz, like } = this.#found;
    // A wave longer than the short window's reach looks like half a wave there, or like none.
    if (like < 0.93 || hz < 2 * SHORT_LOWEST) {
      this.#period(this.#long);
      if (this.#found.like > like + 0.02 || (this.#found.like > 0.8 && this.#found.hz < SHORT_LOWEST)) {
        hz = this.#found.hz;
        like = this.#found.like;
      }
    }
    this.#period(this.#whistle);
    const found = this.#found;
    // A lower note has a fundamental that this window would be unlike itself for; what is as like itself after one short wave has none.
    if (found.hz > 0 && found.like > WHISTLE_LIKE && found.like > like - WHISTLE_LESS) {
      hz = found.hz;
      like = Math.max(like, found.like);
    }
    let confidence = clamp((like - NOISE) / (SURE - NOISE), 0, 1);
    // What leaps about from look to look is no pitch.
    if (this.#before > 0 && hz > 0 && Math.abs(Math.log2(hz / this.#before)) > 0.08) confidence *= 0.6;
    this.#before = hz;
    this.looks++;
    this.hz = confidence > 0 ? hz : 0;
    this.confidence = confidence;
  }

  /** Finds the period in the newest stretch of sound, into `#found`. */
  #period(look: Look): void {
    const { frames: n, most, size } = look,
      { memory, input } = look.transform,
      { left, right, at, length: ring } = look.ring;
    const found = this.#found;
    found.hz = found.like = 0;
    let from = (at - n + ring) % ring,
      power = 0,
      meanL = 0,
      meanR = 0;
    for (let i = 0, k = from; i < n; i++) {
      meanL += left[k]!;
      meanR += right[k]!;
      if (++k === ring) k = 0;
    }
    meanL /= n;
    meanR /= n;
    for (let i = 0; i < n; i++) {
      const a = left[from]! - meanL,
        b = right[from]! - meanR;
      memory[input + 2 * i] = a;
      memory[input + 2 * i + 1] = b;
      power += a * a + b * b;
      if (++from === ring) from = 0;
    }
    if (power / (2 * n) < GATE_POWER) return;
    memory.fill(0, input + 2 * n, input + 2 * size);
    const bins = look.transform.run();
    // Of the two channels packed into one, the spectrum of x* times x is that of both correlations together, as its real part.
    for (let k = 0; k < size; k++) {
      const re = memory[bins + 2 * k]!,
        im = memory[bins + 2 * k + 1]!;
      memory[input + 2 * k] = (re * re + im * im) * look.taper[k]!;
      memory[input + 2 * k + 1] = 0;
    }
    const out = this.#like(look, power, meanL, meanR);
    let best = 0,
      crossed = false;
    for (let t = 2; t < most; t++) {
      if (out[t]! < 0) crossed = true;
      if (crossed && out[t]! > best && out[t]! >= out[t - 1]! && out[t]! >= out[t + 1]!) best = out[t]!;
    }
    if (best <= 0) return;
    crossed = false;
    for (let t = 2; t < most; t++) {
      if (out[t]! < 0) crossed = true;
      if (!crossed || out[t]! < NEAR_BEST * best || out[t]! < out[t - 1]! || out[t]! < out[t + 1]!) continue;
      this.#refine(look, t);
      return;
    }
  }

  /** Turns the power spectrum in the transform's input into likeness by lag. */
  #like(
    { frames: n, most, transform, size, ring: heard }: Look,
    power: number,
    meanL: number,
    meanR: number,
  ): Float64Array {
    // The power spectrum is real and, for two real channels, its transform's real part is their summed correlation.
    const at = transform.run(),
      r = transform.memory,
      out = this.#likeness,
      { left, right, length: ring } = heard;
    let m = 2 * power;
    let head = (heard.at - n + ring) % ring,
      tail = (heard.at - 1 + ring) % ring;
    // What the taper took away is missing from the correlation, so it is left out of the power too.
    const kept = r[at]! / (size * power);
    out[0] = 1;
    for (let t = 1; t <= most; t++) {
      const a = left[head]! - meanL,
        b = right[head]! - meanR,
        c = left[tail]! - meanL,
        d = right[tail]! - meanR;
      m -= a * a + b * b + c * c + d * d;
      if (++head === ring) head = 0;
      if (--tail < 0) tail = ring - 1;
      out[t] = m > 1e-9 * power ? (2 * r[at + 2 * t]!) / (size * m * kept) : 0;
    }
    return out;
  }

  /** Places a peak between lags by a parabola; then by its furthest multiple that is still in view, which is as much finer. */
  #refine({ most, ring, lowest, highest }: Look, peak: number): void {
    const out = this.#likeness;
    const at = (t: number): number => {
      const a = out[t - 1]!,
        b = out[t]!,
        c = out[t + 1]!,
        bend = a - 2 * b + c;
      return bend < 0 ? t + (0.5 * (a - c)) / bend : t;
    };
    let lag = at(peak);
    const like = out[peak]!;
    for (let k = 2; (k + 0.5) * lag < most - 1; k++) {
      let t = Math.round(k * lag);
      for (let step = 0; step < 2; step++) {
        if (out[t + 1]! > out[t]!) t++;
        else if (out[t - 1]! > out[t]!) t--;
      }
      if (out[t]! < out[t - 1]! || out[t]! < out[t + 1]! || out[t]! < 0.8 * like) break;
      lag = at(t) / k;
    }
    const hz = ring.rate / lag;
    if (hz < lowest || hz > highest) return;
    this.#found.hz = hz;
    this.#found.like = like;
  }
}

function lookOf(
  ring: Ring,
  length: Seconds,
  longest: Hz,
  [from, to]: readonly [Hz, Hz],
  lowest: Hz,
  highest: Hz,
): Look {
  const { rate } = ring,
    frames = Math.round(length * rate),
    most = Math.min(Math.floor(frames * REACH), Math.ceil(rate / longest)),
    size = 2 ** Math.ceil(Math.log2(frames + most));
  // Treble is let go before the comparison: with it a period that lies between two samples would look unlike itself, and twice that period better.
  const taper = Float64Array.from({ length: size }, (_, k) => {
    const hz = (Math.min(k, size - k) * rate) / size;
    return hz <= from ? 1 : hz >= to ? 0 : 0.5 + 0.5 * Math.cos((Math.PI * (hz - from)) / (to - from));
  });
  return { frames, most, transform: new Transform(size), size, taper, ring, lowest, highest };
}

/** Number of a note, 69 for A4 at 440 Hz; in between for what is out of tune. */
export function noteOf(hz: Hz): number {
  return 69 + 12 * Math.log2(hz / 440);
}

/** A pitch as musicians read it: "A4 +3 c". */
export function noteName(hz: Hz): string {
  const note = noteOf(hz),
    near = Math.round(note),
    cents = Math.round((note - near) * 100);
  return `${keyName(near)}${cents ? ` ${cents > 0 ? '+' : '−'}${Math.abs(cents)} c` : ''}`;
}
