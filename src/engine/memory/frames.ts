import { TAPS } from '../../core/shaping/steps';

/** Frames that are kept; the writer is at most this far ahead of a reader in the middle of a copy. */
const SLOTS = 4;
const HEAD_WORDS = 8;
const HEAD_REALS = 4;

const enum Head { Sequence, Version, Tick }
const enum HeadReal { Time, PictureTime, Darkness, Held }

export interface FrameMemory { readonly buffer: SharedArrayBuffer; readonly signals: number; readonly parameters: number; readonly epoch: number }

interface Slot { readonly head: Int32Array; readonly reals: Float64Array; readonly signals: Float32Array; readonly counts: Uint32Array; readonly parameters: Float32Array; readonly taps: Float32Array }

const bytesOf = (signals: number, parameters: number): number => {
  const n = HEAD_WORDS * 4 + HEAD_REALS * 8 + signals * 8 + parameters * 4 + TAPS.length * 4;
  return Math.ceil(n / 8) * 8;
};

/** @param signals @param parameters - places for values; a show that outgrows them gets a new block under a new epoch */
export function makeFrameMemory(signals: number, parameters: number, epoch: number): FrameMemory {
  return { buffer: new SharedArrayBuffer(8 + SLOTS * bytesOf(signals, parameters)), signals, parameters, epoch };
}

function slotsOf({ buffer, signals, parameters }: FrameMemory): Slot[] {
  const size = bytesOf(signals, parameters);
  return Array.from({ length: SLOTS }, (_, i) => {
    let at = 8 + i * size;
    const take = (bytes: number): number => { const from = at; at += bytes; return from; };
    return {
      reals: new Float64Array(buffer, take(HEAD_REALS * 8), HEAD_REALS),
      head: new Int32Array(buffer, take(HEAD_WORDS * 4), HEAD_WORDS),
      signals: new Float32Array(buffer, take(signals * 4), signals),
      counts: new Uint32Array(buffer, take(signals * 4), signals),
      parameters: new Float32Array(buffer, take(parameters * 4), parameters),
      taps: new Float32Array(buffer, take(TAPS.length * 4), TAPS.length),
    };
  });
}

/** What a frame is made of; the conductor's core has this shape. */
export interface FrameSource {
  readonly signals: Float32Array;
  readonly counts: Uint32Array;
  readonly parameters: Float32Array;
  readonly version: number;
  readonly pictureTime: number;
  readonly darkness: number;
  readonly held: number;
  readonly bank: { readonly taps: Float32Array };
}

/** The conductor's end. One writer. */
export class FrameWriter {
  readonly #latest: Int32Array;
  readonly #slots: Slot[];
  #next = 0;
  #sequence = 0;
  constructor(readonly memory: FrameMemory) {
    this.#latest = new Int32Array(memory.buffer, 0, 1);
    this.#slots = slotsOf(memory);
    Atomics.store(this.#latest, 0, -1);
  }

  write(source: FrameSource, tick: number, time: number): void {
    const slot = this.#slots[this.#next]!;
    // Odd while it is being written.
    Atomics.store(slot.head, Head.Sequence, ++this.#sequence);
    slot.signals.set(source.signals);
    slot.counts.set(source.counts);
    slot.parameters.set(source.parameters);
    slot.taps.set(source.bank.taps);
    slot.head[Head.Version] = source.version;
    slot.head[Head.Tick] = tick;
    slot.reals[HeadReal.Time] = time;
    slot.reals[HeadReal.PictureTime] = source.pictureTime;
    slot.reals[HeadReal.Darkness] = source.darkness;
    slot.reals[HeadReal.Held] = source.held;
    Atomics.store(slot.head, Head.Sequence, ++this.#sequence);
    Atomics.store(this.#latest, 0, this.#next);
    this.#next = (this.#next + 1) % SLOTS;
  }
}

/** A reader's end: `read` copies the latest whole frame into arrays of its own. Any number of readers, on any thread. */
export class FrameReader {
  readonly signals: Float32Array;
  readonly counts: Uint32Array;
  readonly parameters: Float32Array;
  readonly taps = new Float32Array(TAPS.length).fill(NaN);
  version = -1;
  tick = -1;
  time = 0;
  pictureTime = 0;
  darkness = 0;
  held = 0;
  /** Frames that were given up because the writer overtook the copy several times. */
  torn = 0;
  readonly epoch: number;
  readonly #latest: Int32Array;
  readonly #slots: Slot[];
  constructor(memory: FrameMemory) {
    this.epoch = memory.epoch;
    this.#latest = new Int32Array(memory.buffer, 0, 1);
    this.#slots = slotsOf(memory);
    this.signals = new Float32Array(memory.signals);
    this.counts = new Uint32Array(memory.signals);
    this.parameters = new Float32Array(memory.parameters);
  }

  /** @returns whether there is a newer frame than the last that was read; if not, everything stays as it is */
  read(): boolean {
    for (let attempt = 0; attempt < 5; attempt++) {
      const at = Atomics.load(this.#latest, 0);
      if (at < 0) return false;
      const slot = this.#slots[at]!;
      const before = Atomics.load(slot.head, Head.Sequence);
      if (before & 1) continue;
      if (slot.head[Head.Tick] === this.tick && slot.head[Head.Version] === this.version) return false;
      const version = slot.head[Head.Version]!, tick = slot.head[Head.Tick]!;
      const time = slot.reals[HeadReal.Time]!, pictureTime = slot.reals[HeadReal.PictureTime]!, darkness = slot.reals[HeadReal.Darkness]!, held = slot.reals[HeadReal.Held]!;
      this.signals.set(slot.signals);
      this.counts.set(slot.counts);
      this.parameters.set(slot.parameters);
      this.taps.set(slot.taps);
      if (Atomics.load(slot.head, Head.Sequence) !== before) continue;
      this.version = version;
      this.tick = tick;
      this.time = time;
      this.pictureTime = pictureTime;
      this.darkness = darkness;
      this.held = held;
      return true;
    }
    this.torn++;
    return false;
  }
}
