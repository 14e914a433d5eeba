import type { Hz, Seconds } from '../units';

/** Of the drums that are remembered: kick, snare and hat. */
const DRUMS = 3;
/** Hops that are remembered as one, by their likeliest. */
const HOPS_PER_CELL = 4;
/** What a loop is compared over, and how long one may be. */
const SPAN: Seconds = 8,
  SHORTEST: Seconds = 0.9,
  LONGEST: Seconds = 4.2;
/** Cells between two searches for the loop. */
const SEARCH_EVERY = 12;
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
  readonly #cells: Float32Array;
  /** The same, each spread over its neighbours: a round is no whole number of cells. */
  readonly #spread: Float32Array;
  readonly #length: number;
  readonly #span: number;
  readonly #shortest: number;
  readonly #longest: number;
  readonly #now = new Float32Array(DRUMS);
  #hops = 0;
  #count = 0;
  #lag = 0;
  #likeness = 0;

  /** @param sampleRate, hop - of the sound, and frames of a hop */
  constructor(sampleRate: Hz, hop: number) {
    const cell = (HOPS_PER_CELL * hop) / sampleRate;
    this.#span = Math.round(SPAN / cell);
    this.#shortest = Math.round(SHORTEST / cell);
    this.#longest = Math.round(LONGEST / cell);
    this.#length = Math.max(this.#span, 2 * this.#longest) + NEAR + 2;
    this.#cells = new Float32Array(DRUMS * this.#length);
    this.#spread = new Float32Array(DRUMS * this.#length);
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
    if (++this.#hops < HOPS_PER_CELL) return;
    this.#hops = 0;
    const at = DRUMS * (this.#count % this.#length),
      last = DRUMS * ((this.#count + this.#length - 1) % this.#length);
    for (let d = 0; d < DRUMS; d++) {
      const x = now[d]!,
        before = this.#cells[last + d]!;
      this.#cells[at + d] = x;
      this.#spread[at + d] = Math.max(x, BESIDE * before);
      this.#spread[last + d] = Math.max(this.#spread[last + d]!, BESIDE * x);
      now[d] = 0;
    }
    this.#count++;
    if (this.#count % SEARCH_EVERY === 0) this.#search();
  }

  /** The likeliest within a cell of so many cells ago. */
  #around(drum: number, ago: number): number {
    let most = 0;
    // What is now is not in a cell yet: this hop's own cell is the one after the last.
    for (let k = -NEAR; k <= NEAR; k++) {
      const i = this.#count - ago + k;
      if (i < 0 || i >= this.#count || this.#count - i > this.#length) continue;
      const p = this.#cells[DRUMS * (i % this.#length) + drum]!;
      if (p > most) most = p;
    }
    return most;
  }
  /** The time after which the last seconds are most like themselves. */
  #search(): void {
    const cells = this.#cells,
      spread = this.#spread,
      length = this.#length,
      newest = this.#count,
      oldest = Math.max(0, newest - this.#span);
    this.#lag = 0;
    this.#likeness = 0;
    for (let lag = this.#shortest; lag <= this.#longest; lag++) {
      // A quarter of the span at least must be there twice.
      if (newest - oldest - lag < this.#span / 4) break;
      let both = 0,
        now = 1e-3,
        then = 1e-3;
      for (let i = oldest + lag; i < newest; i++) {
        const a = DRUMS * (i % length),
          b = DRUMS * ((i - lag) % length);
        for (let d = 0; d < DRUMS; d++) {
          const x = cells[a + d]!,
            y = spread[b + d]!;
          both += x * y;
          now += x * x;
          then += y * y;
        }
      }
      const likeness = both / Math.sqrt(now * then);
      if (likeness > this.#likeness) {
        this.#likeness = likeness;
        this.#lag = lag;
      }
    }
  }
}
