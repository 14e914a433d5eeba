import type { MessageTarget } from '../messages';
import type { Hz, Milliseconds } from '../units';

/**
 * What a stream's receivers are sent when whoever drives it is not heard of any more: the last values for ever, or after a while
 * what they rest at, or nothing at all.
 */
export type SafeState =
  | { readonly then: 'hold' }
  | { readonly then: 'rest' | 'dark'; readonly afterMs: Milliseconds; readonly overMs: Milliseconds };

/** What becomes of one byte of a stream when nobody drives it. */
export const enum Fate {
  /** It fades, as the safe state says. */
  Light,
  /** It fades together with the finer byte after it. */
  LightPair,
  /** It stays: what moves is never left to swing by itself. */
  Held,
  /** It goes to what is calm as soon as the driver is silent, whatever the safe state is: nothing flashes or blows unattended. */
  Calm,
}
/** A driver that is silent for so long drives no more: what flashes ends. */
export const SILENT_MS: Milliseconds = 1000;

/** Where a stream goes. */
export type StreamEnd =
  | { readonly kind: 'wire'; readonly wire: string; readonly universe: number }
  | { readonly kind: 'page'; readonly page: string }
  /** Packets to another program. */
  | { readonly kind: 'osc'; readonly target: MessageTarget };

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
  /** The {@link Fate} of each byte, in base64; null: all of it is light. */
  readonly fates: string | null;
  /** What each byte is where it is calm, in base64; null: 0. */
  readonly calm: string | null;
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

/** What is known of a stream's bytes beside their values; each as long as the values. */
export interface Ends {
  /** What they rest at; null for the dark: all 0. */
  readonly rest: Uint8Array | null;
  /** The {@link Fate} of each; null: all of it is light. */
  readonly fates: Uint8Array | null;
  /** What each is where it is calm; null: 0. */
  readonly calm: Uint8Array | null;
}

/**
 * The bytes that are really sent. Allocates nothing.
 * @param live - the last values
 * @param share - of the live ones, 0 to 1 @param calm - nobody drives: what may flash does not
 * @param out - receives as many bytes as `live` has
 */
export function towardsSafe(
  live: Uint8Array,
  { rest, fates, calm: calmTo }: Ends,
  share: number,
  calm: boolean,
  out: Uint8Array,
): void {
  for (let i = 0; i < live.length; i++) {
    const fate = fates === null ? Fate.Light : fates[i]!;
    if (fate === Fate.Held) out[i] = live[i]!;
    else if (fate === Fate.Calm) out[i] = calm || share < 1 ? (calmTo?.[i] ?? 0) : live[i]!;
    else if (fate === Fate.LightPair && i + 1 < live.length) {
      const safe = rest === null ? 0 : rest[i]! * 256 + rest[i + 1]!,
        x = Math.round(safe + (live[i]! * 256 + live[i + 1]! - safe) * share);
      out[i] = x >> 8;
      out[++i] = x & 255;
    } else {
      const safe = rest === null ? 0 : (rest[i] ?? 0);
      out[i] = Math.round(safe + (live[i]! - safe) * share);
    }
  }
}
