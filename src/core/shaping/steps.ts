import type { Milliseconds, Seconds } from '../units';

/**
 * A route's shaping, part of the show. Steps act in this order; each is left out when it is not there.
 * *Strike* turns an event into a level: up to its strength at once, back to 0 over `fallMs`.
 */
export interface Shaping {
  readonly strike?: { readonly holdMs: Milliseconds; readonly fallMs: Milliseconds };
  /** What is not above this counts as nothing. In the signal's own number. */
  readonly floor?: { readonly at: number };
  readonly fit?: Fit;
  readonly clamp?: { readonly low: number; readonly high: number };
  readonly smooth?: { readonly attackMs: Milliseconds; readonly releaseMs: Milliseconds };
  /** Scales the way from rest to reach: 0 stays at rest, 1 goes all the way, up to 2. */
  readonly amount: number;
}

/**
 * Which stretch of the signal's number becomes 0 to 1.
 * - `heard`: taken from what was heard when it was pressed, then fixed.
 * - `hand`: set by hand.
 * - `coming`: follows what comes; loudest and quietest are forgotten over `forgetS`. What it has learned lives in the memory.
 */
export type Fit =
  | { readonly mode: 'heard' | 'hand'; readonly low: number; readonly high: number }
  | { readonly mode: 'coming'; readonly forgetS: Seconds };

/** The cards of the bench, in the order in which a number passes them. */
export const TAPS = ['heard', 'strike', 'floor', 'fit', 'clamp', 'smooth', 'amount', 'reach', 'together'] as const;
export type Tap = (typeof TAPS)[number];
export const TAP_INDEX: Readonly<Record<Tap, number>> = Object.fromEntries(TAPS.map((t, i) => [t, i])) as Record<Tap, number>;

/** How far beyond the usual an automatic fit may raise a signal: 24 dB. */
export const FIT_MOST_GAIN = 10 ** (24 / 20);

/** The least top of an automatic fit for a signal that usually reaches `usual`. */
export function leastFitHigh(usual: number): number {
  return usual / FIT_MOST_GAIN;
}
