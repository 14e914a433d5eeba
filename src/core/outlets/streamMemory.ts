/**
 * The newest value of each stream, between the thread that hears it and the thread that sends it. One writer; a reader never gets
 * half of one value and half of the next.
 */
export interface StreamMemory {
  readonly buffer: SharedArrayBuffer;
  readonly sizes: readonly number[];
}

const WORDS = 1;
const padded = (size: number): number => WORDS * 4 + Math.ceil(size / 4) * 4;

export function makeStreamMemory(sizes: readonly number[]): StreamMemory {
  return { buffer: new SharedArrayBuffer(sizes.reduce((n, size) => n + padded(size), 0)), sizes };
}

interface Slot {
  readonly sequence: Int32Array;
  readonly bytes: Uint8Array;
}
function slotsOf({ buffer, sizes }: StreamMemory): Slot[] {
  let at = 0;
  return sizes.map((size) => {
    const slot = {
      sequence: new Int32Array(buffer, at, WORDS),
      bytes: new Uint8Array(buffer, at + WORDS * 4, size),
    };
    at += padded(size);
    return slot;
  });
}

export class StreamWriter {
  readonly #slots: readonly Slot[];
  constructor(memory: StreamMemory) {
    this.#slots = slotsOf(memory);
  }
  /** @param bytes - exactly as many as the stream's size @returns false, with nothing written, when they are not */
  write(place: number, bytes: Uint8Array): boolean {
    const slot = this.#slots[place];
    if (!slot || slot.bytes.length !== bytes.length) return false;
    // Odd while it is being written.
    Atomics.add(slot.sequence, 0, 1);
    slot.bytes.set(bytes);
    Atomics.add(slot.sequence, 0, 1);
    return true;
  }
}

export class StreamReader {
  readonly #slots: readonly Slot[];
  readonly #read: Int32Array;
  constructor(memory: StreamMemory) {
    this.#slots = slotsOf(memory);
    this.#read = new Int32Array(memory.sizes.length);
  }
  /** Copies the newest value. @returns whether there is one that was not read yet; if not, `out` stays as it is */
  read(place: number, out: Uint8Array): boolean {
    const { sequence, bytes } = this.#slots[place]!;
    for (let attempt = 0; attempt < 3; attempt++) {
      const before = Atomics.load(sequence, 0);
      if (before === this.#read[place]) return false;
      if (before & 1) continue;
      out.set(bytes);
      if (Atomics.load(sequence, 0) !== before) continue;
      this.#read[place] = before;
      return true;
    }
    return false;
  }
}

/** What the two threads say to each other beside the values; each word has one writer. */
export const enum OutletWord {
  /** Hearing thread: incremented when there is something to do. */
  Wake,
  /** Hearing thread: incremented at every beat of the driver. */
  DriverBeat,
  /** Sending thread: incremented at every turn. */
  Beat,
  /** Which of the sending threads is at work, counted from 0: one before it that wakes up again ends itself. */
  AtWork,
  Length = 4,
}
