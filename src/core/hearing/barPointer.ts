import type { Seconds } from '../units';

/** Tempi that are considered, in beats a minute. Of two that fit, one beyond these ends is not meant; half and double are on a key. */
const SLOWEST = 66,
  FASTEST = 192;
/** Share of a beat, from its start, in which it is expected to be heard: 1/16. */
const BEAT_PART = 16;
/** How much a beat may be longer or shorter than the one before: `exp(−TIGHT |P′/P − 1|)`. */
const TIGHT = 90;
const REACH = 7;
/** Beats are first expected around this tempo, within a factor of two or so: people tap there. */
const USUAL_BPM = 118,
  USUAL_OCTAVES = 0.6;
/**
 * How much one frame's likelihood counts, as a power of it. Neighbouring frames say the same thing again, and a network that is
 * sure of itself would settle upon half or double before a bar is over. In doubt, what is heard now counts for more than what was.
 */
const TEMPER = 0.2,
  TEMPER_IN_DOUBT = 0.3;
/** The same for whether a beat is a bar's first. */
const BAR_TEMPER = 0.5;
const LEAST = 0.012,
  MOST = 0.98;
/** Beats of bars of four, of bars of three, and of music whose every beat sounds like a bar's first: a bass drum on each, say. */
export const PLACES = 8,
  FIRST_OF_THREE = 4,
  EVERY = 7;
const NEXT = [1, 2, 3, 0, 5, 6, 4, 7],
  IS_FIRST = [true, false, false, false, true, false, false, true];
/** Of what is heard there as a beat, how much is heard as a bar's first on the whole. Where all are alike, a bar of four or three would speak against the tempo. */
const FIRSTS = [1 / 4, 1 / 4, 1 / 4, 1 / 4, 1 / 3, 1 / 3, 1 / 3, 0.45];
/** How likely each is to begin with. */
const USUAL_PLACE = [0.75 / 4, 0.75 / 4, 0.75 / 4, 0.75 / 4, 0.06, 0.06, 0.06, 0.07];
/** Share of bars that are cut short, or begin anew. */
const SLIP = 0.01;
/**
 * Frames after which everything is scaled anew; and what every state gets then, so that none is ever ruled out. In doubt that is the
 * chance that somebody went to another tempo at once: all states together get some thousandths.
 */
const RENEW = 16,
  FLOOR = 3e-12,
  FLOOR_IN_DOUBT = 1e-7;

/**
 * A bar-pointer model (Whiteley, Cemgil & Godsill 2006) with one row of states for each period (Krebs, Böck & Widmer 2015): the
 * probability of every tempo, place in the beat and beat of the bar, moved on in time by forward filtering, so that it is
 * strictly causal.
 *
 * All rows are rings that turn by a state each frame. What is multiplied is only the sixteenth in which a beat would be heard
 * now, by how much likelier a beat there is than none; the rest stands still. Allocates at set-up only.
 */
export class BarPointer {
  /** Frames of the likeliest beat. */
  period = 0;
  /** Place in it, 0 to 1. */
  phase = 0;
  /** 0 to 1: how much of all probability lies at that tempo and place. */
  sharp = 0;
  /** Probability of each of them near that tempo. */
  readonly places = new Float64Array(PLACES);

  readonly #shortest: number;
  readonly #periods: number;
  readonly #states: number;
  /** First state of each period's row, and one beyond the last. */
  readonly #row: Int32Array;
  /** Where in its ring each row's beat begins now. */
  readonly #head: Int32Array;
  /** A beat of the bar after the other, each with all rows. */
  readonly #p: Float64Array;
  readonly #arrive: Float64Array;
  readonly #spread: Float64Array;
  readonly #mass: Float64Array;
  readonly #ratios = new Float64Array(PLACES);
  #total = 1;
  #frames = 0;

  /** @param step - length of a frame */
  constructor(step: Seconds) {
    this.#shortest = Math.round(60 / FASTEST / step);
    const n = (this.#periods = Math.round(60 / SLOWEST / step) - this.#shortest + 1);
    this.#row = new Int32Array(n + 1);
    for (let i = 0; i < n; i++) this.#row[i + 1] = this.#row[i]! + this.#shortest + i;
    this.#states = this.#row[n]!;
    this.#head = new Int32Array(n);
    this.#p = new Float64Array(this.#states * PLACES);
    this.#arrive = new Float64Array(n * PLACES);
    this.#mass = new Float64Array(n);
    this.#spread = new Float64Array(n * (2 * REACH + 1));
    let total = 0;
    for (let i = 0; i < n; i++) {
      const period = this.#shortest + i,
        spread = this.#spread.subarray(i * (2 * REACH + 1), (i + 1) * (2 * REACH + 1));
      let sum = 0;
      for (let d = -REACH; d <= REACH; d++) {
        const w = i + d < 0 || i + d >= n ? 0 : Math.exp(-TIGHT * Math.abs((period + d) / period - 1));
        spread[d + REACH] = w;
        sum += w;
      }
      for (let d = 0; d < spread.length; d++) spread[d]! /= sum;
      const prior =
        Math.exp(-0.5 * (Math.log2(60 / (period * step) / USUAL_BPM) / USUAL_OCTAVES) ** 2) / period;
      for (let j = 0; j < PLACES; j++)
        this.#p.fill(
          prior * USUAL_PLACE[j]!,
          j * this.#states + this.#row[i]!,
          j * this.#states + this.#row[i + 1]!,
        );
      total += prior * period;
    }
    this.#renew(1 / total, FLOOR);
  }

  /**
   * Moves on by a frame.
   * @param beat - likelihood of a beat now, 0 to 1 @param down - of a bar's first @param trust - 0 to 1: how far what is heard counts; at 0 the pointer runs on
   * @param doubt - 0 to 1: how likely it is that another tempo has begun
   */
  step(beat: number, down: number, trust: number, doubt = 0): void {
    const a = Math.min(MOST, Math.max(LEAST, beat)),
      temper = TEMPER + (TEMPER_IN_DOUBT - TEMPER) * doubt,
      ratio = ((a * (BEAT_PART - 1)) / (1 - a)) ** (temper * trust);
    // Of what is heard as a beat, how much more like a bar's first it is than beats are as a rule, and how much less.
    const share = Math.min(0.97, Math.max(0.02, down / Math.max(0.02, beat))),
      sure = trust * BAR_TEMPER * Math.min(1, beat / 0.3);
    for (let j = 0; j < PLACES; j++)
      this.#ratios[j] = ratio * (IS_FIRST[j]! ? share / FIRSTS[j]! : (1 - share) / (1 - FIRSTS[j]!)) ** sure;
    this.#turn();
    this.#hear();
    if (++this.#frames % RENEW === 0) this.#renew(1 / this.#sum(), FLOOR + (FLOOR_IN_DOUBT - FLOOR) * doubt);
    this.#total = this.#sum();
  }

  /** Beats that are over go to where the next begin, a little longer or shorter. */
  #turn(): void {
    const p = this.#p,
      n = this.#periods,
      arrive = this.#arrive,
      spread = this.#spread,
      width = 2 * REACH + 1,
      faint = 1e-9 * this.#total;
    arrive.fill(0);
    for (let i = 0; i < n; i++) {
      const length = this.#shortest + i,
        head = (this.#head[i] = this.#head[i] === 0 ? length - 1 : this.#head[i]! - 1),
        at = this.#row[i]! + head;
      const from = i < REACH ? REACH - i : 0,
        to = i + REACH >= n ? n - 1 - i + REACH : width - 1;
      for (let j = 0; j < PLACES; j++) {
        const over = p[j * this.#states + at]!,
          into = NEXT[j]! * n + i - REACH;
        this.#mass[i]! -= over;
        if (over > faint) for (let d = from; d <= to; d++) arrive[into + d]! += over * spread[i * width + d]!;
        else arrive[into + REACH]! += over;
      }
    }
    for (let i = 0; i < n; i++) {
      let sum = 0;
      for (let j = 0; j < PLACES; j++) sum += arrive[j * n + i]!;
      for (let j = 0; j < PLACES; j++) {
        const x = (arrive[j * n + i] = arrive[j * n + i]! * (1 - SLIP) + sum * SLIP * USUAL_PLACE[j]!);
        p[j * this.#states + this.#row[i]! + this.#head[i]!] = x;
      }
      this.#mass[i]! += sum;
    }
  }

  /** What begins now is as much likelier as what is heard is like a beat. */
  #hear(): void {
    const p = this.#p;
    for (let i = 0; i < this.#periods; i++) {
      const length = this.#shortest + i,
        part = Math.max(2, Math.ceil(length / BEAT_PART));
      let mass = this.#mass[i]!;
      for (let j = 0; j < PLACES; j++) {
        const base = j * this.#states + this.#row[i]!,
          ratio = this.#ratios[j]!;
        for (let k = 0, at = this.#head[i]!; k < part; k++) {
          const was = p[base + at]!,
            is = was * ratio;
          mass += is - was;
          p[base + at] = is;
          if (++at === length) at = 0;
        }
      }
      this.#mass[i] = mass;
    }
  }

  #sum(): number {
    let total = 0;
    for (let i = 0; i < this.#periods; i++) total += this.#mass[i]!;
    return total;
  }
  #renew(scale: number, floor: number): void {
    const p = this.#p;
    for (let i = 0; i < this.#periods; i++) {
      let mass = 0;
      for (let j = 0; j < PLACES; j++)
        for (
          let k = j * this.#states + this.#row[i]!, end = j * this.#states + this.#row[i + 1]!;
          k < end;
          k++
        )
          mass += p[k] = p[k]! * scale + floor;
      this.#mass[i] = mass;
    }
  }

  /** Reads what is likeliest: the mean tempo of what lies within 4 % of it, the direction of its mean on the circle, and the beats of its bar. */
  read(): void {
    const n = this.#periods,
      row = this.#row,
      p = this.#p,
      places = this.places,
      masses = this.#mass;
    let best = 0,
      top = -1;
    for (let i = 0; i < n; i++) {
      const m = (i > 0 ? masses[i - 1]! : 0) + masses[i]! + (i + 1 < n ? masses[i + 1]! : 0);
      if (m > top) {
        top = m;
        best = i;
      }
    }
    const near = Math.max(2, Math.round((this.#shortest + best) * 0.04));
    let mass = 0,
      period = 0,
      re = 0,
      im = 0;
    places.fill(0);
    for (let i = Math.max(0, best - near); i <= Math.min(n - 1, best + near); i++) {
      const length = this.#shortest + i,
        c = Math.cos((2 * Math.PI) / length),
        s = Math.sin((2 * Math.PI) / length);
      mass += masses[i]!;
      period += masses[i]! * length;
      for (let k = 0, at = row[i]! + this.#head[i]!, x = 1, y = 0; k < length; k++) {
        let w = 0;
        for (let j = 0; j < PLACES; j++) {
          const q = p[j * this.#states + at]!;
          w += q;
          places[j]! += q;
        }
        re += w * x;
        im += w * y;
        const turned = x * c - y * s;
        y = x * s + y * c;
        x = turned;
        if (++at === row[i + 1]!) at = row[i]!;
      }
    }
    this.period = period / mass;
    this.sharp = Math.min(1, Math.sqrt(re * re + im * im) / this.#total);
    this.phase = (Math.atan2(im, re) / (2 * Math.PI) + 1) % 1;
    for (let j = 0; j < PLACES; j++) places[j]! /= this.#total;
  }
}
