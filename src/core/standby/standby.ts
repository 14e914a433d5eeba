import type { Milliseconds } from '../units';

/** What the first computer says of itself. */
export interface First {
  /** A window drives its outputs. */
  readonly drives: boolean;
  /** Its packets may leave it. */
  readonly armed: boolean;
}
/** It waits for a first that drives, follows it, or drives in its place. */
export type StandbyState = 'waits' | 'follows' | 'drives';

/** A first that says nothing for so long is gone. It speaks four times a second. */
const SILENT_MS: Milliseconds = 2000,
  /** One without a window for so long is gone too: a page that is loaded anew is back sooner. */
  EMPTY_MS: Milliseconds = 4000;

/** One that drove waits so long for a word of the first before it does again: that speaks four times in it. */
const AGAIN_MS: Milliseconds = 1000;

/**
 * Who drives, of two computers with the same show. The second sends nothing while it follows the first; it takes the outputs over when
 * that is gone, and gives them back as soon as it drives again: never do both send. By a steady clock.
 */
export class Standby {
  #state: StandbyState = 'waits';
  #heardAt: Milliseconds = -Infinity;
  #droveAt: Milliseconds = -Infinity;
  /** Whether the first's packets could leave it, when it was last well. */
  #armed = false;

  /** @param drove - it drove in the first's place before it was started anew, armed or not: it does so again unless the first is heard soon */
  constructor(drove: { readonly armed: boolean } | null = null, now: Milliseconds = 0) {
    if (!drove) return;
    this.#state = 'follows';
    this.#armed = drove.armed;
    this.#heardAt = now - SILENT_MS + AGAIN_MS;
    this.#droveAt = now;
  }

  get state(): StandbyState {
    return this.#state;
  }
  /** Whether packets may leave this computer: in the first's place, and only if they left that. */
  get armed(): boolean {
    return this.#state === 'drives' && this.#armed;
  }

  heard({ drives, armed }: First, now: Milliseconds): void {
    this.#heardAt = now;
    if (!drives) return;
    this.#droveAt = now;
    // A first that is back and not yet armed sends nothing: this one goes on until it does.
    if (this.#state === 'drives' && this.#armed && !armed) return;
    this.#state = 'follows';
    this.#armed = armed;
  }
  /** Looks at the clock. @returns whether anything became different */
  step(now: Milliseconds): boolean {
    if (this.#state !== 'follows') return false;
    if (now - this.#heardAt <= SILENT_MS && now - this.#droveAt <= EMPTY_MS) return false;
    this.#state = 'drives';
    return true;
  }
}
