/** Events that are kept: at 100 hits a second, ten seconds for a reader that was away. */
export const EVENT_PLACES = 1024;
const BYTES = 8 + EVENT_PLACES * (8 + 4 + 4);

export function makeEventMemory(): SharedArrayBuffer {
  return new SharedArrayBuffer(BYTES);
}

class Layout {
  readonly written: Int32Array;
  readonly times: Float64Array;
  readonly slots: Int32Array;
  readonly strengths: Float32Array;
  constructor(memory: SharedArrayBuffer) {
    this.written = new Int32Array(memory, 0, 1);
    this.times = new Float64Array(memory, 8, EVENT_PLACES);
    this.slots = new Int32Array(memory, 8 + EVENT_PLACES * 8, EVENT_PLACES);
    this.strengths = new Float32Array(memory, 8 + EVENT_PLACES * 12, EVENT_PLACES);
  }
}

/** The conductor's end. */
export class EventWriter {
  readonly #ring: Layout;
  constructor(memory: SharedArrayBuffer) {
    this.#ring = new Layout(memory);
  }
  write(slot: number, time: number, strength: number): void {
    const n = Atomics.load(this.#ring.written, 0);
    const at = n % EVENT_PLACES;
    this.#ring.slots[at] = slot;
    this.#ring.times[at] = time;
    this.#ring.strengths[at] = strength;
    Atomics.store(this.#ring.written, 0, n + 1); // the count after the data
  }
}

/** A reader's end: starts at the present, gives every event since the last call with its own time and strength. */
export class EventReader {
  /** Events that were overwritten before this reader came for them. */
  overruns = 0;
  readonly #ring: Layout;
  #read: number;
  constructor(memory: SharedArrayBuffer) {
    this.#ring = new Layout(memory);
    this.#read = Atomics.load(this.#ring.written, 0);
  }
  /** @returns how many were given */
  drain(take: (slot: number, time: number, strength: number) => void): number {
    const written = Atomics.load(this.#ring.written, 0);
    // One place stays unread: the writer may be filling it now.
    const oldest = written - EVENT_PLACES + 1;
    if (this.#read < oldest) {
      this.overruns += oldest - this.#read;
      this.#read = oldest;
    }
    let given = 0;
    for (; this.#read < written; this.#read++, given++) {
      const at = this.#read % EVENT_PLACES;
      take(this.#ring.slots[at]!, this.#ring.times[at]!, this.#ring.strengths[at]!);
    }
    return given;
  }
}
