import type { Hz, Seconds } from '../units';

/** Of the drums that are remembered: kick, snare and hat. */
const DRUMS = 3;
/** Hops that are remembered as one, by their likeliest. */
const HOPS_PER_CELL = 4;
/** What a loop is compared over, and how long one may be. */
const SPAN: Seconds = 8,
  SHORTEST: Seconds = 0.9,
  LONGEST: Seconds = 4.2;
/** Lengths that are tried in one hop: no hop has more to do than others, and all are through twice a second. */
const TRIED_PER_HOP = 2;
/** Likeness from which a loop is gone by, and at which it counts in full. */
const ALIKE = 0.5,
  SURE = 0.9;
/** How far a stroke may be from where the loop has it, in cells: a drummer wavers. */
const NEAR = 1;
/** How much a cell counts for those beside it. */
const BESIDE = 0.6;
/** Where the last round says nothing, the one before it still says this much. */
const OLDER = 0.8;

/**
 * Remembers how likely each drum was, and after which time that repeats: what was struck a round ago is likelier now, what was not is
 * less likely. It looks back only. Allocates nothing after it was made.
 */
export class LoopMemory {
  /** One cell after the other, by drums; when the room is used up, what is still wanted goes to its beginning. */
  readonly #cells: Float32Array;
  /** The same, each spread over its neighbours: a round is no whole number of cells. */
  readonly #spread: Float32Array;
  readonly #kept: number;
  readonly #span: number;
  readonly #shortest: number;
  readonly #longest: number;
  readonly #now = new Float32Array(DRUMS);
  #hops = 0;
  /** Cells that are there. */
  #count = 0;
  #lag = 0;
  #likeness = 0;
  /** Of the lengths that are being tried: the next, and the best so far. */
  #next: number;
  #bestLag = 0;
  #best = 0;

  /** @param sampleRate, hop - of the sound, and frames of a hop */
  constructor(sampleRate: Hz, hop: number) {
    const cell = (HOPS_PER_CELL * hop) / sampleRate;
    this.#span = Math.round(SPAN / cell);
    this.#shortest = Math.round(SHORTEST / cell);
    this.#longest = Math.round(LONGEST / cell);
    this.#next = this.#shortest;
    this.#kept = Math.max(this.#span, 2 * this.#longest) + NEAR + 2;
    this.#cells = new Float32Array(DRUMS * 2 * this.#kept);
    this.#spread = new Float32Array(DRUMS * 2 * this.#kept);
  }

  /** How much is known of what repeats, 0 to 1. */
  get confidence(): number {
    return Math.min(1, Math.max(0, (this.#likeness - ALIKE) / (SURE - ALIKE)));
  }

  /** How likely a drum was where the loop was here before, 0 to 1. @param drum - 0 kick, 1 snare, 2 hat */
  before(drum: number): number {
    if (this.#lag === 0) return 0;
    return Math.max(this.#around(drum, this.#lag), OLDER * this.#around(drum, 2 * this.#lag));
  }
  /** Takes how likely each drum is at this hop, by itself. @param from - where kick, snare and hat stand in it */
  take(probability: Float32Array, from: number): void {
    const now = this.#now;
    for (let d = 0; d < DRUMS; d++) if (probability[from + d]! > now[d]!) now[d] = probability[from + d]!;
    for (let k = 0; k < TRIED_PER_HOP; k++) this.#try();
    if (++this.#hops < HOPS_PER_CELL) return;
    this.#hops = 0;
    this.#add();
  }

  #add(): void {
    const cells = this.#cells,
      spread = this.#spread,
      now = this.#now;
    if (this.#count === 2 * this.#kept) {
      cells.copyWithin(0, DRUMS * this.#kept);
      spread.copyWithin(0, DRUMS * this.#kept);
      this.#count = this.#kept;
    }
    const at = DRUMS * this.#count,
      last = at - DRUMS;
    for (let d = 0; d < DRUMS; d++) {
      const x = now[d]!;
      cells[at + d] = x;
      spread[at + d] = x;
      if (last >= 0) {
        spread[at + d] = Math.max(x, BESIDE * cells[last + d]!);
        spread[last + d] = Math.max(spread[last + d]!, BESIDE * x);
      }
      now[d] = 0;
    }
    this.#count++;
  }

  /** The likeliest within a cell of so many cells ago. */
  #around(drum: number, ago: number): number {
    let most = 0;
    // What is now is in no cell yet: this hop's own is the one after the last.
    const to = Math.min(this.#count - 1, this.#count - ago + NEAR);
    for (let i = Math.max(0, this.#count - ago - NEAR); i <= to; i++) {
      const p = this.#cells[DRUMS * i + drum]!;
      if (p > most) most = p;
    }
    return most;
  }
  /** Tries one length; after the last of them, what was most like itself is the loop. */
  #try(): void {
    const newest = this.#count,
      oldest = Math.max(0, newest - this.#span),
      lag = this.#next;
    // A quarter of the span at least must be there twice.
    if (lag > this.#longest || newest - oldest - lag < this.#span / 4) {
      this.#lag = this.#bestLag;
      this.#likeness = this.#best;
      this.#next = this.#shortest;
      this.#bestLag = this.#best = 0;
      return;
    }
    this.#next++;
    const likeness = this.#likenessAt(lag, oldest, newest);
    if (likeness > this.#best) {
      this.#best = likeness;
      this.#bestLag = lag;
    }
  }
  /** How much the cells are like those so many before, 0 to 1. */
  #likenessAt(lag: number, oldest: number, newest: number): number {
    const cells = this.#cells,
      spread = this.#spread,
      back = DRUMS * lag;
    let both = 0,
      now = 1e-3,
      then = 1e-3;
    for (let i = DRUMS * (oldest + lag); i < DRUMS * newest; i++) {
      const x = cells[i]!,
        y = spread[i - back]!;
      both += x * y;
      now += x * x;
      then += y * y;
    }
    return both / Math.sqrt(now * then);
  }
}
