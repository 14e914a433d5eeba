import type { Milliseconds, Seconds } from '../units';

/**
 * A route's shaping, part of the show. Steps act in this order; each is left out when it is not there.
 * All times are real times: the result does not depend on how often it is computed.
 */
export interface Shaping {
  /** Turns an event into a level: up to its strength at once, held, then back to 0 in a straight line. */
  readonly strike?: {
    readonly holdMs: Milliseconds;
    readonly fallMs: Milliseconds;
    /** Every event goes from nothing to all, or back, and it stays so until the next. */ readonly onOff?: true;
  };
  /** What is not above this counts as nothing. In the signal's own number. */
  readonly floor?: { readonly at: number };
  readonly fit?: Fit;
  readonly clamp?: { readonly low: number; readonly high: number };
  /** 1 becomes 0 and 0 becomes 1. */
  readonly flip?: true;
  /** Goes smoothly through its points, without overshooting between them. @see curveAt */
  readonly curve?: { readonly points: readonly CurvePoint[] };
  /** A greatest value stays for so long before it may fall. */
  readonly hold?: { readonly ms: Milliseconds };
  /** Follows up in the one time, down in the other: 63 % of the way in each. */
  readonly smooth?: { readonly attackMs: Milliseconds; readonly releaseMs: Milliseconds };
  /** Ignores jitter, and follows moves the closer the faster they are. `quick` is how much faster a full sweep in a second makes it, in Hz. */
  readonly steady?: { readonly restMs: Milliseconds; readonly quick: number };
  /** The mean of the last so many milliseconds. */
  readonly average?: { readonly ms: Milliseconds };
  /** Whole steps: so many to the whole way, or each so large. */
  readonly steps?:
    { readonly by: 'count'; readonly count: number } | { readonly by: 'size'; readonly size: number };
  /** Everything so much later. */
  readonly delay?: { readonly ms: Milliseconds };
  /** Scales the way from rest to reach: 0 stays at rest, 1 goes all the way, up to 2. */
  readonly amount: number;
}
/** x and y, 0 to 1 each. */
export type CurvePoint = readonly [x: number, y: number];

/**
 * Which stretch of the signal's number becomes 0 to 1.
 * - `heard`: taken from what was heard when it was pressed, then fixed.
 * - `hand`: set by hand.
 * - `coming`: follows what comes; loudest and quietest are forgotten over `forgetS`. What it has learned lives in the memory.
 */
export type Fit =
  | { readonly mode: 'heard' | 'hand'; readonly low: number; readonly high: number }
  | {
      readonly mode: 'coming';
      readonly forgetS: Seconds;
      /** The most that it may raise a signal beyond the usual; {@link FIT_MOST_DB} when left out. */ readonly mostDb?: number;
    };

/** The cards of the bench, in the order in which a number passes them. */
export const TAPS = [
  'heard',
  'strike',
  'floor',
  'fit',
  'clamp',
  'flip',
  'curve',
  'hold',
  'smooth',
  'steady',
  'average',
  'steps',
  'delay',
  'amount',
  'reach',
  'together',
] as const;
export type Tap = (typeof TAPS)[number];
export const TAP_INDEX: Readonly<Record<Tap, number>> = Object.fromEntries(
  TAPS.map((t, i) => [t, i]),
) as Record<Tap, number>;

/** The steps that can be left out, in their order. */
export type StepName = Exclude<keyof Shaping, 'amount'>;
export const STEP_NAMES: readonly StepName[] = [
  'strike',
  'floor',
  'fit',
  'clamp',
  'flip',
  'curve',
  'hold',
  'smooth',
  'steady',
  'average',
  'steps',
  'delay',
];

/** How far beyond the usual an automatic fit may raise a signal unless it is told to go further. */
export const FIT_MOST_DB = 24;
export const FIT_MOST_GAIN = 10 ** (FIT_MOST_DB / 20);

/** The least top of an automatic fit for a signal that usually reaches `usual`. */
export function leastFitHigh(usual: number, mostDb = FIT_MOST_DB): number {
  return usual / 10 ** (mostDb / 20);
}

/**
 * The same where it is known what the empty room gives: twice the floor that was set above it, if that lets it go further. The fixed
 * limit is against hiss, and a floor keeps hiss out by itself.
 */
export function leastFitOver(floor: number | undefined, usual: number, mostDb?: number): number {
  const least = leastFitHigh(usual, mostDb);
  return floor !== undefined && floor > 0 ? Math.min(least, 2 * floor) : least;
}

/** Longest average and delay: what is kept for them is bounded. */
export const LONGEST_MS: Milliseconds = 10000;
export const CURVE_POINTS_MOST = 8;
