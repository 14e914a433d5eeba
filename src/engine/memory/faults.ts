/** What went wrong in a loop that goes on all the same. */
export interface Fault {
  /** How many there were since the last that was told. */
  readonly count: number;
  /** What the last of them said. */
  readonly what: string;
}

/** As often as this a fault that goes on is told again. */
const TELL_EVERY_MS = 1000;

/** Counts what went wrong, and tells of it at most once a second: a fault in every tick is one message, not two hundred. */
export class Faults {
  #count = 0;
  #toldAt = -Infinity;
  constructor(
    readonly tell: (fault: Fault) => void,
    readonly now: () => number = () => performance.now(),
  ) {}

  take(error: unknown): void {
    this.#count++;
    const now = this.now();
    if (now - this.#toldAt < TELL_EVERY_MS) return;
    this.tell({ count: this.#count, what: error instanceof Error ? error.message : String(error) });
    this.#count = 0;
    this.#toldAt = now;
  }
}
