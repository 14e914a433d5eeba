import type { Milliseconds } from '../units';

/** Longest that an output may be held back. */
export const DELAY_MOST: Milliseconds = 1000;

/** An output by how late it is of itself, and how much it is held back. */
export interface Lagging {
  /** From a packet, or a picture, to the light of it. */
  readonly lagMs: Milliseconds;
}

/**
 * How much each output is to be held back so that all of them land together with the slowest.
 * @param most - no output is held back longer than this
 */
export function levelled(outputs: readonly Lagging[], most: Milliseconds = DELAY_MOST): Milliseconds[] {
  const slowest = Math.max(0, ...outputs.map((o) => o.lagMs));
  return outputs.map((o) => Math.min(most, Math.max(0, Math.round((slowest - o.lagMs) * 10) / 10)));
}
