import { BarGrid } from '../beat/barGrid';
import type { Seconds } from '../units';
import type { BandFrame } from './bandFrame';
import { Gru, type GruWeights } from './gru';
import { STRUCTURE_HOPS, StructureFrame } from './structureFrame';
import trained from './weights/structure.json';
import trainedToo from './weights/structureToo.json';

/** What happens in the course of a piece, in the order in which it usually does. */
export const TURNS = ['break', 'build', 'drop', 'return', 'section'] as const;
export type Turn = (typeof TURNS)[number];
/** The network's outputs: the low end is held back, a build, how far it has come, and what happens now. */
const HELD = 0,
  BUILD = 1,
  PROGRESS = 2,
  DROP = 3,
  RETURN = 4,
  SECTION = 5;
/** Where each is believed, and where a state is over. */
const BELIEVED: Readonly<Record<Turn, number>> = {
  break: 0.6,
  build: 0.6,
  drop: 0.5,
  return: 0.5,
  section: 0.5,
};
const OVER = 0.3;
const SMOOTH: Seconds = 0.4;
/** Two of a kind are at least so far apart. */
const APART: Seconds = 4;
/** How much of a phrase's beginning each is evidence for. */
const EVIDENCE: Readonly<Record<Turn, number>> = {
  break: 0.6,
  build: 0.5,
  drop: 1,
  return: 0.8,
  section: 0.6,
};
/** How long after the change each is usually believed, where no stroke says it more finely. */
const USUAL_LAG: Readonly<Record<Turn, Seconds>> = {
  break: 0.9,
  build: 1.2,
  drop: 0.15,
  return: 0.2,
  section: 0.7,
};
/** What changes further from a bar's beginning than this share of a bar is none of a phrase. */
const NEAR_BAR = 0.3;
/** Before that much was heard nothing is a change. */
const WARM_UP: Seconds = 6;

/** What is read of the show's tempo. */
export interface Pace {
  readonly bpm: number;
  readonly bar: number;
  readonly beatsPerBar: number;
  readonly isBar: boolean;
  readonly beatAgo: Seconds;
}

/**
 * The course of a piece as it is heard: breaks, builds and how far they have come, drops, returns, other sections, and phrases of bars.
 * Two networks over {@link StructureFrame} tell likelihoods, 23 times a second; causal, and at any tempo.
 */
export class StructureListener {
  /** Which turns are told in this hop; how long ago each was; and how sure it is, 0 to 1. By their place in {@link TURNS}. */
  readonly told = new Uint8Array(TURNS.length);
  readonly ago = new Float64Array(TURNS.length);
  readonly sure = new Float32Array(TURNS.length);
  /** How far the build has come, 0 to 1; 0 where there is none. */
  progress = 0;
  readonly grid = new BarGrid();
  /** Whether a bar begins in this hop, and how long before its end. */
  barBegins = false;
  barAgo: Seconds = 0;
  /** The show's tempo; without it there are no phrases. */
  pace: Pace | null = null;
  readonly #gru = new Gru(trained as GruWeights);
  readonly #too = new Gru(trainedToo as GruWeights);
  readonly #out = new Float32Array(6);
  readonly #frame: StructureFrame;
  readonly #hop: Seconds;
  readonly #since = new Float64Array(TURNS.length).fill(Infinity);
  #heard: Seconds = 0;
  #held = 0;
  #building = 0;
  #isHeld = false;
  #isBuild = false;

  constructor(sampleRate: number, hopFrames: number) {
    this.#frame = new StructureFrame(sampleRate, hopFrames);
    this.#hop = hopFrames / sampleRate;
  }

  /** One hop. Allocates nothing, never throws. */
  process(bands: BandFrame): void {
    this.told.fill(0);
    this.#heard += this.#hop;
    for (let i = 0; i < TURNS.length; i++) this.#since[i]! += this.#hop;
    const { pace } = this;
    this.barBegins = pace !== null && pace.isBar && pace.beatAgo === pace.beatAgo;
    if (this.barBegins) {
      this.grid.step();
      this.barAgo = pace!.beatAgo + this.#hop;
    }
    if (!this.#frame.take(bands)) return;
    const out = this.#likelihoods(),
      ease = 1 - Math.exp((-STRUCTURE_HOPS * this.#hop) / SMOOTH);
    this.#held += (out[HELD]! - this.#held) * ease;
    this.#building += (out[BUILD]! - this.#building) * ease;
    if (this.#heard < WARM_UP) return;
    if (out[DROP]! > BELIEVED.drop) this.#tell(2, out[DROP]!);
    else if (out[RETURN]! > BELIEVED.return && this.#since[2]! > APART) this.#tell(3, out[RETURN]!);
    else if (out[SECTION]! > BELIEVED.section) this.#tell(4, out[SECTION]!);
    this.#isHeld = this.#state(this.#isHeld, this.#held, 0, !this.#isBuild);
    this.#isBuild = this.#state(this.#isBuild, this.#building, 1, true);
    this.progress = this.#isBuild ? Math.max(this.progress, out[PROGRESS]!) : 0;
  }

  /** The mean of both networks: they err in different places. */
  #likelihoods(): Float32Array {
    const out = this.#out,
      one = this.#gru.step(this.#frame.input),
      other = this.#too.step(this.#frame.input);
    for (let i = 0; i < out.length; i++) out[i] = (one[i]! + other[i]!) / 2;
    return out;
  }
  /** A state begins, goes on or is over. @returns whether it lasts */
  #state(was: boolean, p: number, turn: number, tells: boolean): boolean {
    if (was) return p > OVER;
    if (p < BELIEVED[TURNS[turn]!]) return false;
    if (tells) this.#tell(turn, p);
    return true;
  }
  #tell(turn: number, sure: number): void {
    if (this.#since[turn]! < APART) return;
    const name = TURNS[turn]!,
      { lowAgo, lowRise } = this.#frame,
      ago =
        name === 'drop' || name === 'return'
          ? strokeAgo(lowAgo, lowRise, this.#hop, USUAL_LAG[name])
          : USUAL_LAG[name];
    this.#since[turn] = 0;
    this.told[turn] = 1;
    this.ago[turn] = ago;
    this.sure[turn] = sure;
    if (name === 'drop' || name === 'return') {
      this.#isBuild = this.#isHeld = false;
      this.#building = this.#held = 0;
      this.progress = 0;
    }
    // Any of them is the beginning of something else; what is told so is not told again a moment later.
    if (name !== 'section' && this.#since[4]! > APART) {
      this.#since[4] = 0;
      this.told[4] = 1;
      this.ago[4] = ago;
      this.sure[4] = sure;
    }
    this.#mark(EVIDENCE[name] * sure, ago);
  }
  #mark(strength: number, ago: Seconds): void {
    const { pace, grid } = this;
    if (!pace || pace.bpm <= 0 || grid.bar < 0) return;
    const place = pace.bar - (ago * pace.bpm) / 60 / pace.beatsPerBar,
      nearest = Math.round(place);
    if (Math.abs(place - nearest) < NEAR_BAR) grid.mark(grid.bar + nearest, strength);
  }
}

/** The last stroke of the low end, where one is near enough to have been it. */
function strokeAgo(hops: number, rise: number, hop: Seconds, usual: Seconds): Seconds {
  const ago = hops * hop;
  return rise > 6 && ago < 0.4 ? ago : usual;
}
