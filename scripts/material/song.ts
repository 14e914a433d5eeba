/** A piece as parts that can be balanced anew: what every maker of material gives, and what `record` mixes. */
import type { Sounded } from './mix';

export const ROLES = ['kick', 'snare', 'hat', 'drums', 'bass', 'chords', 'lead', 'voice'] as const;
export type Role = (typeof ROLES)[number];

export interface Part {
  readonly role: Role;
  readonly left: Float32Array;
  readonly right: Float32Array;
  readonly notes: readonly Sounded[];
}

export interface Song {
  /** What the report calls its kind. */
  readonly kind: string;
  /** What it was made from, for the list of what was played. */
  readonly from: readonly string[];
  readonly seconds: number;
  readonly parts: readonly Part[];
  readonly beats: readonly number[];
  readonly downbeats: readonly number[];
  /** False where nobody could say which of its pulses is the beat. */
  readonly beatKnown: boolean;
  readonly speech: readonly (readonly [number, number])[];
  /** What it is built of, one after the other; absent where nobody planned it. */
  readonly passages?: readonly Passage[];
}

/** A stretch of a piece, in seconds. */
export interface Passage {
  readonly what: Section;
  readonly from: number;
  readonly to: number;
}
export const SECTIONS = ['intro', 'main', 'break', 'build', 'bare'] as const;
export type Section = (typeof SECTIONS)[number];
