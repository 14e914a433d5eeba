import type { Hz, Milliseconds } from '../units';

/**
 * What a stream's receivers are sent when whoever drives it is not heard of any more: the last values for ever, or after a while
 * what they rest at, or nothing at all.
 */
export type SafeState =
  | { readonly then: 'hold' }
  | { readonly then: 'rest' | 'dark'; readonly afterMs: Milliseconds; readonly overMs: Milliseconds };

/** Where a stream goes. */
export type StreamEnd =
  | { readonly kind: 'wire'; readonly wire: string; readonly universe: number }
  | { readonly kind: 'page'; readonly page: string };

/** A stream of values out of the show, as it is declared before anything of it is sent. */
export interface StreamDeclaration {
  readonly id: string;
  readonly to: StreamEnd;
  /** Bytes of one value; of what must keep its order, the most in one message. */
  readonly size: number;
  readonly mostPerSecond: Hz;
  /** Of values the newest wins; what happened is passed on in order, each by itself. */
  readonly mode: 'latest' | 'ordered';
  /** How long nothing may be sent while nothing changes; null: for ever. */
  readonly keepAlive: Milliseconds | null;
  readonly safe: SafeState;
  /** What it rests at, in base64; null where its safe state does not ask for it. */
  readonly rest: string | null;
}

/** Streams that one show may have. */
export const STREAMS_MOST = 512;

/**
 * How much of the last values is still sent, 0 to 1; the rest of it is the safe state.
 * @param silentMs - since the driver was last heard of
 */
export function liveShare(safe: SafeState, silentMs: Milliseconds): number {
  if (safe.then === 'hold' || !(silentMs > safe.afterMs)) return 1;
  return safe.overMs > 0 ? Math.max(0, 1 - (silentMs - safe.afterMs) / safe.overMs) : 0;
}

/**
 * The bytes that are really sent. Allocates nothing.
 * @param live - the last values @param rest - what they rest at; null for the dark: all 0
 * @param share - of the live ones, 0 to 1 @param out - receives as many bytes as `live` has
 */
export function towardsSafe(live: Uint8Array, rest: Uint8Array | null, share: number, out: Uint8Array): void {
  for (let i = 0; i < live.length; i++) {
    const safe = rest === null ? 0 : (rest[i] ?? 0);
    out[i] = Math.round(safe + (live[i]! - safe) * share);
  }
}
