import type { PageMap } from '../../core/protocols';
import type { Show } from '../../core/show';
import type { Seconds } from '../../core/units';

/** The newest numbers of a show, as whoever draws them reads them. `read` copies; between two reads nothing moves. */
export interface Frames {
  readonly parameters: Float32Array;
  /** With what is tried unseen. */
  readonly preview: Float32Array;
  readonly vectors: Float32Array;
  readonly previewVectors: Float32Array;
  /** Counts frames; less than 0 before the first. */
  readonly tick: number;
  /** Seconds of the show, and of the picture, which stands still when the show is frozen. */
  readonly time: number;
  readonly pictureTime: number;
  /** Show time at this moment, by a clock that agrees on every machine. */
  readonly now: number;
  /** 0 to 1. */
  readonly darkness: number;
  /** How far the picture as a whole is curtained, 0 to 1: by *dark*, and by masters. */
  readonly curtain: number;
  /** Which output blinks, to be measured. */
  readonly blink: number;
  /** @returns whether there is a newer frame than the last that was read; if not, everything stays as it is */
  read(): boolean;
  /** Says that rows are wanted, and brings them up to the newest frame. */
  readVectors(): boolean;
}

/** What a message changed for whoever follows a show. */
export interface Changed {
  /** Where values stand, or the memory that they stand in. */
  readonly map: boolean;
  /** The reader's part of the show. Things in it that did not change are the same objects as before. */
  readonly show: boolean;
}

/**
 * A show as it is followed: its newest numbers, where they stand in them, and the part of the document that they belong to. Its
 * source is the conductor's memory, on this machine ({@link PlanReader}), or the bridge, on another ({@link BridgePlan}).
 */
export interface Plan<Key extends keyof Show> {
  readonly frames: Frames | null;
  readonly map: PageMap | null;
  readonly show: Pick<Show, Key> | null;
  /** Milliseconds since the source last moved; infinite before it ever did. */
  readonly age: number;
  /** Pieces of sound that were lost so far, as far as the source knows. */
  readonly hopsLost: number;
  /** Sound that its device went without so far, as far as the source knows. */
  readonly soundMissed: Seconds;
  /** Says goodbye: nothing more comes here. */
  leave(): void;
}
