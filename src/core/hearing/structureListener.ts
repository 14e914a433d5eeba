import { BarGrid } from '../beat/barGrid';
import type { Seconds } from '../units';
import type { BandFrame } from './bandFrame';
import { Gru, type GruWeights } from './gru';
import { STRUCTURE_HOPS, StructureFrame } from './structureFrame';
import trained from './weights/structure.json';
import trainedToo from './weights/structureToo.json';

/** Of each turn: where it is believed; how long after it that usually is, where no stroke says it more finely; and how much of a phrase's beginning it is evidence for. */
const TURN = {
  break: { believed: 0.6, lag: 0.9, evidence: 0.6 },
  build: { believed: 0.6, lag: 1.2, evidence: 0.5 },
  drop: { believed: 0.5, lag: 0.15, evidence: 1 },
  return: { believed: 0.5, lag: 0.2, evidence: 0.8 },
  section: { believed: 0.5, lag: 0.7, evidence: 0.6 },
} as const;
export type Turn = keyof typeof TURN;
/** What happens in the course of a piece, in the order in which it usually does. */
export const TURNS = ['break', 'build', 'drop', 'return', 'section'] as const satisfies readonly Turn[];
const placeOf = (turn: Turn): number => TURNS.indexOf(turn);
/** The network's outputs: the low end is held back, a build, how far it has come, and what happens now. */
const HELD = 0,
  BUILD = 1,
  PROGRESS = 2,
  DROP = 3,
  RETURN = 4,
  SECTION = 5;
/** A state is over where it is believed no longer. */
const OVER = 0.3;
const SMOOTH: Seconds = 0.4;
/** Two of a kind are at least so far apart. */
const APART: Seconds = 4;
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
    if (out[DROP]! > TURN.drop.believed) this.#tell('drop', out[DROP]!);
    else if (out[RETURN]! > TURN.return.believed && this.#isLong('drop')) this.#tell('return', out[RETURN]!);
    else if (out[SECTION]! > TURN.section.believed) this.#tell('section', out[SECTION]!);
    this.#isHeld = this.#state(this.#isHeld, this.#held, 'break', !this.#isBuild);
    this.#isBuild = this.#state(this.#isBuild, this.#building, 'build', true);
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
  #state(was: boolean, p: number, turn: 'break' | 'build', tells: boolean): boolean {
    if (was) return p > OVER;
    if (p < TURN[turn].believed) return false;
    if (tells) this.#tell(turn, p);
    return true;
  }
  /** Whether a turn was not told of late. */
  #isLong(turn: Turn): boolean {
    return this.#since[placeOf(turn)]! >= APART;
  }
  #tell(turn: Turn, sure: number): void {
    if (!this.#isLong(turn)) return;
    const arrives = turn === 'drop' || turn === 'return',
      { lowAgo, lowRise } = this.#frame,
      { lag, evidence } = TURN[turn],
      ago = arrives ? strokeAgo(lowAgo, lowRise, this.#hop, lag) : lag;
    this.#note(turn, ago, sure);
    if (arrives) {
      this.#isBuild = this.#isHeld = false;
      this.#building = this.#held = 0;
      this.progress = 0;
    }
    // Any of them is the beginning of something else; what is told so is not told again a moment later.
    if (turn !== 'section' && this.#isLong('section')) this.#note('section', ago, sure);
    this.#mark(evidence * sure, ago);
  }
  #note(turn: Turn, ago: Seconds, sure: number): void {
    const at = placeOf(turn);
    this.#since[at] = 0;
    this.told[at] = 1;
    this.ago[at] = ago;
    this.sure[at] = sure;
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
