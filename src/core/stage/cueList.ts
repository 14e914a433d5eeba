import type { Cue } from '../show/types';

/** The first cue past a place in the night, whether one hangs there or not; of none, the first of all. Null at the end. */
export function cueAfter(cues: readonly Cue[], number: number | null): Cue | null {
  return cues.find((c) => number === null || c.number > number) ?? null;
}
/** The last before a place; null at the beginning. */
export function cueBefore(cues: readonly Cue[], number: number | null): Cue | null {
  return cues.findLast((c) => number !== null && c.number < number) ?? null;
}

/** A number between two, as few digits after the point as there is room for. @param after, before - null for the list's ends */
export function numberBetween(after: number | null, before: number | null): number | null {
  if (before === null) return Math.floor(after ?? 0) + 1;
  const low = after ?? 0;
  for (const digits of [1, 10, 100]) {
    const first = Math.floor(low * digits + 1e-9) + 1,
      last = Math.ceil(before * digits - 1e-9) - 1;
    if (first <= last) return Math.round(digits === 1 ? first : (first + last) / 2) / digits;
  }
  return null;
}

/** A cue's number as it is written: 12, or 12.5. */
export const numberText = (n: number): string => String(Math.round(n * 100) / 100);
