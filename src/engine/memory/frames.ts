import { TAPS } from '../../core/shaping';
import type { Frames } from './plan';

/** Frames that are kept; the writer is at most this far ahead of a reader in the middle of a copy. */
const SLOTS = 4;
const HEAD_WORDS = 8;
const HEAD_REALS = 8;
/** Before the slots: which of them is the latest, and the tick until which somebody wants vectors. */
const HEAD_BYTES = 8;
const enum Shared {
  Latest,
  VectorsUntil,
}
/** A reader that looked at vectors is taken to want them for so many ticks more: ten seconds, so that a picture that comes once in two still has its rows. */
const VECTORS_TICKS = 1875;

const enum Head {
  Sequence,
  Version,
  Tick,
  Preview,
}
const enum HeadReal {
  Time,
  PictureTime,
  Darkness,
  Frozen,
  Curtain,
  Fade,
  Blink,
  BlinkFrom,
}

export interface FrameMemory {
  readonly buffer: SharedArrayBuffer;
  readonly signals: number;
  readonly parameters: number;
  readonly vectors: number;
  readonly epoch: number;
}

interface Slot {
  readonly head: Int32Array;
  readonly reals: Float64Array;
  readonly signals: Float32Array;
  readonly counts: Uint32Array;
  readonly parameters: Float32Array;
  readonly preview: Float32Array;
  readonly taps: Float32Array;
  readonly vectors: Float32Array;
  readonly previewVectors: Float32Array;
}

const bytesOf = (signals: number, parameters: number, vectors: number): number => {
  const n = HEAD_WORDS * 4 + HEAD_REALS * 8 + signals * 8 + parameters * 8 + TAPS.length * 4 + vectors * 8;
  return Math.ceil(n / 8) * 8;
};

/** @param signals @param parameters @param vectors - places for values; a show that outgrows them gets a new block under a new epoch */
export function makeFrameMemory(
  signals: number,
  parameters: number,
  vectors: number,
  epoch: number,
): FrameMemory {
  const buffer = new SharedArrayBuffer(HEAD_BYTES + SLOTS * bytesOf(signals, parameters, vectors));
  return { buffer, signals, parameters, vectors, epoch };
}

function slotsOf({ buffer, signals, parameters, vectors }: FrameMemory): Slot[] {
  const size = bytesOf(signals, parameters, vectors);
  return Array.from({ length: SLOTS }, (_, i) => {
    let at = HEAD_BYTES + i * size;
    const take = (bytes: number): number => {
      const from = at;
      at += bytes;
      return from;
    };
    return {
      reals: new Float64Array(buffer, take(HEAD_REALS * 8), HEAD_REALS),
      head: new Int32Array(buffer, take(HEAD_WORDS * 4), HEAD_WORDS),
      signals: new Float32Array(buffer, take(signals * 4), signals),
      counts: new Uint32Array(buffer, take(signals * 4), signals),
      parameters: new Float32Array(buffer, take(parameters * 4), parameters),
      preview: new Float32Array(buffer, take(parameters * 4), parameters),
      taps: new Float32Array(buffer, take(TAPS.length * 4), TAPS.length),
      vectors: new Float32Array(buffer, take(vectors * 4), vectors),
      previewVectors: new Float32Array(buffer, take(vectors * 4), vectors),
    };
  });
}

/** What a frame is made of; the conductor's core has this shape. */
export interface FrameSource {
  readonly signals: Float32Array;
  readonly counts: Uint32Array;
  readonly parameters: Float32Array;
  /** Parameters with what is tried unseen, for the control window alone; null when nothing is. */
  readonly preview: Float32Array | null;
  readonly vectors: Float32Array;
  /** Rows of values with what is tried unseen, at the same places; null like `preview`. */
  readonly previewVectors: Float32Array | null;
  readonly version: number;
  readonly pictureTime: number;
  readonly darkness: number;
  /** How far the picture as a whole is curtained: by *dark*, and by masters. */
  readonly curtain: number;
  /** How far the look that comes in is in, 0 to 1. */
  readonly fade: number;
  readonly frozen: number;
  /** Which output blinks, to be measured: see `core/outlets/blink`. */
  readonly blink: number;
  readonly blinkFrom: number;
  readonly bank: { readonly taps: Float32Array };
}

/** The conductor's end. One writer. */
export class FrameWriter {
  readonly #shared: Int32Array;
  readonly #slots: Slot[];
  #next = 0;
  #sequence = 0;
  constructor(readonly memory: FrameMemory) {
    this.#shared = new Int32Array(memory.buffer, 0, 2);
    this.#slots = slotsOf(memory);
    Atomics.store(this.#shared, Shared.Latest, -1);
  }

  write(source: FrameSource, tick: number, time: number): void {
    const slot = this.#slots[this.#next]!;
    // Odd while it is being written.
    Atomics.store(slot.head, Head.Sequence, ++this.#sequence);
    slot.signals.set(source.signals);
    slot.counts.set(source.counts);
    slot.parameters.set(source.parameters);
    if (source.preview) slot.preview.set(source.preview);
    slot.head[Head.Preview] = source.preview ? 1 : 0;
    slot.taps.set(source.bank.taps);
    // Vectors are long, and mostly nobody looks.
    if (Atomics.load(this.#shared, Shared.VectorsUntil) >= tick) {
      slot.vectors.set(source.vectors);
      if (source.previewVectors) slot.previewVectors.set(source.previewVectors);
    }
    slot.head[Head.Version] = source.version;
    slot.head[Head.Tick] = tick;
    slot.reals[HeadReal.Time] = time;
    slot.reals[HeadReal.PictureTime] = source.pictureTime;
    slot.reals[HeadReal.Darkness] = source.darkness;
    slot.reals[HeadReal.Curtain] = source.curtain;
    slot.reals[HeadReal.Fade] = source.fade;
    slot.reals[HeadReal.Frozen] = source.frozen;
    slot.reals[HeadReal.Blink] = source.blink;
    slot.reals[HeadReal.BlinkFrom] = source.blinkFrom;
    Atomics.store(slot.head, Head.Sequence, ++this.#sequence);
    Atomics.store(this.#shared, Shared.Latest, this.#next);
    this.#next = (this.#next + 1) % SLOTS;
  }
}

/** A reader's end: `read` copies the latest whole frame into arrays of its own. Any number of readers, on any thread. */
export class FrameReader implements Frames {
  readonly signals: Float32Array;
  readonly counts: Uint32Array;
  readonly parameters: Float32Array;
  /** The same with what is tried unseen; like `parameters` when nothing is. */
  readonly preview: Float32Array;
  readonly taps = new Float32Array(TAPS.length).fill(NaN);
  /** Filled by `readVectors`. */
  readonly vectors: Float32Array;
  /** Rows of values with what is tried unseen; like `vectors` when nothing is. Filled by `readVectors`. */
  readonly previewVectors: Float32Array;
  version = -1;
  tick = -1;
  time = 0;
  pictureTime = 0;
  darkness = 0;
  curtain = 0;
  fade = 1;
  frozen = 0;
  blink = 0;
  blinkFrom = 0;
  get now(): number {
    return this.time;
  }
  /** Frames that were given up because the writer overtook the copy several times. */
  torn = 0;
  readonly epoch: number;
  readonly #shared: Int32Array;
  readonly #slots: Slot[];
  constructor(memory: FrameMemory) {
    this.epoch = memory.epoch;
    this.#shared = new Int32Array(memory.buffer, 0, 2);
    this.vectors = new Float32Array(memory.vectors);
    this.previewVectors = new Float32Array(memory.vectors);
    this.#slots = slotsOf(memory);
    this.signals = new Float32Array(memory.signals);
    this.counts = new Uint32Array(memory.signals);
    this.parameters = new Float32Array(memory.parameters);
    this.preview = new Float32Array(memory.parameters);
  }

  /** @returns whether there is a newer frame than the last that was read; if not, everything stays as it is */
  read(): boolean {
    for (let attempt = 0; attempt < 5; attempt++) {
      const at = Atomics.load(this.#shared, Shared.Latest);
      if (at < 0) return false;
      const slot = this.#slots[at]!;
      const before = Atomics.load(slot.head, Head.Sequence);
      if (before & 1) continue;
      if (slot.head[Head.Tick] === this.tick && slot.head[Head.Version] === this.version) return false;
      const version = slot.head[Head.Version]!,
        tick = slot.head[Head.Tick]!;
      const time = slot.reals[HeadReal.Time]!,
        pictureTime = slot.reals[HeadReal.PictureTime]!,
        darkness = slot.reals[HeadReal.Darkness]!,
        curtain = slot.reals[HeadReal.Curtain]!,
        fade = slot.reals[HeadReal.Fade]!,
        frozen = slot.reals[HeadReal.Frozen]!,
        blink = slot.reals[HeadReal.Blink]!,
        blinkFrom = slot.reals[HeadReal.BlinkFrom]!;
      this.signals.set(slot.signals);
      this.counts.set(slot.counts);
      this.parameters.set(slot.parameters);
      this.preview.set(slot.head[Head.Preview] ? slot.preview : slot.parameters);
      this.taps.set(slot.taps);
      if (Atomics.load(slot.head, Head.Sequence) !== before) continue;
      this.version = version;
      this.tick = tick;
      this.time = time;
      this.pictureTime = pictureTime;
      this.darkness = darkness;
      this.curtain = curtain;
      this.fade = fade;
      this.frozen = frozen;
      this.blink = blink;
      this.blinkFrom = blinkFrom;
      return true;
    }
    this.torn++;
    return false;
  }

  /** Says that vectors are wanted, and copies the latest whole ones. @returns whether there were any; the first come a tick after the first call */
  readVectors(): boolean {
    for (let attempt = 0; attempt < 5; attempt++) {
      const at = Atomics.load(this.#shared, Shared.Latest);
      if (at < 0) return false;
      const slot = this.#slots[at]!;
      const before = Atomics.load(slot.head, Head.Sequence);
      if (before & 1) continue;
      const tick = slot.head[Head.Tick]!;
      const known = Atomics.load(this.#shared, Shared.VectorsUntil) >= tick;
      if (known) {
        this.vectors.set(slot.vectors);
        this.previewVectors.set(slot.head[Head.Preview] ? slot.previewVectors : slot.vectors);
      }
      if (Atomics.load(slot.head, Head.Sequence) !== before) continue;
      Atomics.store(this.#shared, Shared.VectorsUntil, tick + VECTORS_TICKS);
      return known;
    }
    return false;
  }
}
