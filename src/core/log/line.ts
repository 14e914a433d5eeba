import type { Act } from '../acts/act';
import type { Milliseconds } from '../units';

export const LINE_KINDS = ['show', 'act', 'cue', 'fault', 'mended', 'level', 'tempo'] as const;
export type LineKind = (typeof LINE_KINDS)[number];

/** One line of the night's log. Plain data, kept as it is. */
export interface LogLine {
  /** When it was, in ms since 1970. */
  readonly at: Milliseconds;
  readonly kind: LineKind;
  /** Who did it, or what it is of: a phone, an output, an input. */
  readonly who: string;
  /** What it is, in words. */
  readonly what: string;
  /** Its number where it has one: a level in dBFS, a tempo in beats a minute, how many seconds a fault lasted. */
  readonly number?: number;
  /** The act itself, to be done again. */
  readonly act?: Act;
}
