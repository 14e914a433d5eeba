/**
 * The shared words that audio thread, conductor and interface steer by. One Int32 block and one Float64 block; every word has
 * one writer, named beside it. @see docs/architecture.md
 */
export const MOST_INPUTS = 32;
export const BLOCK_FRAMES = 128;

/** Places in the Int32 block. */
export const enum Word {
  /** Driver of the moment: incremented at every block, to wake the conductor. */
  Wake,
  /** Driver: blocks of 128 frames since the show's time began. Show time is this × 128 / 48000. */
  Blocks,
  /** Who advances time: 0 the conductor by timer, 1 the audio thread. Set by whoever takes over. */
  Driver,
  /** Conductor: ticks done. Wakes readers. */
  Ticks,
  /** Conductor: hops that were skipped because it was too far behind. */
  Lost,
  /** Conductor: longest time between two ticks, in tenths of a millisecond, since it was last set to 0. */
  LongestGap,
  /** Conductor (before it is there, whoever starts it): incremented with every change of the transport. */
  TransportAsked,
  /** The same: 1 to play. */
  AskedPlaying,
  /** Driver: the last change it has taken. */
  TransportTaken,
  /** Driver: 1 while playing. */
  Playing,
  /** Audio thread: blocks it has rendered. */
  AudioBlocks,
  /** Conductor: mean time of one tick, in microseconds. */
  TickCost,
  /** Driver: one bit an input that carries two different channels. */
  Stereo,
  /** Conductor: 1 while it takes a show; that may last longer than its beat may fail. */
  Planning,
  Length = 32,
}

/** Places in the Float64 block. */
export const enum Real {
  /** Conductor: frames to go to with the next change, or −1 to stay. */
  AskedPosition,
  /** Driver: the show's position in frames. */
  Position,
  /** Conductor: show time of the last tick in seconds. */
  Time,
  /** Conductor: `performance.timeOrigin + now()` of its last turn, in ms: its heartbeat, comparable between windows. */
  Heartbeat,
  /** Outlet worker: `performance.now()` of its last turn, its own clock. */
  OutletBeat,
  /** Conductor: seconds of sound that the device went without in the last ten seconds. */
  MissedOfLate,
  /** The same, since it began. */
  Missed,
  Length = 8,
}

export interface ControlMemory {
  readonly words: SharedArrayBuffer;
  readonly reals: SharedArrayBuffer;
}

export function makeControlMemory(): ControlMemory {
  return { words: new SharedArrayBuffer(4 * Word.Length), reals: new SharedArrayBuffer(8 * Real.Length) };
}

export class Control {
  readonly words: Int32Array;
  readonly reals: Float64Array;
  constructor(memory: ControlMemory) {
    this.words = new Int32Array(memory.words);
    this.reals = new Float64Array(memory.reals);
  }
  get(word: Word): number {
    return Atomics.load(this.words, word);
  }
  set(word: Word, value: number): void {
    Atomics.store(this.words, word, value);
  }
  add(word: Word, n = 1): void {
    Atomics.add(this.words, word, n);
  }

  /** Asks for playing or not, and for another position if one is given (frames). */
  ask(playing: boolean, position = -1): void {
    this.reals[Real.AskedPosition] = position;
    this.set(Word.AskedPlaying, playing ? 1 : 0);
    this.add(Word.TransportAsked);
  }

  /** Driver: takes what was asked for, at the start of a block. */
  takeTransport(): void {
    const asked = this.get(Word.TransportAsked);
    if (asked === this.get(Word.TransportTaken)) return;
    const position = this.reals[Real.AskedPosition]!;
    if (position >= 0) this.reals[Real.Position] = Math.floor(position);
    this.set(Word.Playing, this.get(Word.AskedPlaying));
    this.set(Word.TransportTaken, asked);
  }
}
