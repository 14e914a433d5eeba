import { DESK_BYTES, DESK_HEAD } from '../../core/protocols';

/** What desks send, by universe, as the bridge tells it. */
export class DeskChannels {
  readonly #known = new Map<number, Uint8Array>();

  /** A frame of one universe: its channels, or that no desk is heard there any more. What is none is passed over. */
  take(frame: Uint8Array): void {
    if (frame.length !== DESK_BYTES) return;
    const universe = frame[2]! | (frame[3]! << 8);
    if (frame[1] !== 1) this.#known.delete(universe);
    else this.#known.set(universe, frame.slice(DESK_HEAD));
  }
  /** The bridge is away, or another: nothing is known of desks. */
  forget(): void {
    this.#known.clear();
  }
  of(universe: number): Uint8Array | null {
    return this.#known.get(universe) ?? null;
  }
}
