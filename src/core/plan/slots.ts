/**
 * Places of named values in a frame. Within one epoch a place, once given, always means the same name and is never
 * given again: a reader with an older table reads right values for all it knows. When the frame is full the owner
 * makes a larger one under a new epoch, and only what is still in use moves there.
 */
export class SlotTable {
  readonly #at = new Map<string, number>();
  #used = 0;

  constructor(readonly capacity: number) {}

  get used(): number {
    return this.#used;
  }
  get(name: string): number | undefined {
    return this.#at.get(name);
  }
  has(name: string): boolean {
    return this.#at.has(name);
  }

  /**
   * @param size - neighbouring places
   * @returns the first of them, or −1 when the frame is full
   */
  place(name: string, size = 1): number {
    const known = this.#at.get(name);
    if (known !== undefined) return known;
    if (this.#used + size > this.capacity) return -1;
    const at = this.#used;
    this.#used += size;
    this.#at.set(name, at);
    return at;
  }
}
