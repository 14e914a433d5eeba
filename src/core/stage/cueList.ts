import type { Cue } from '../show/types';

/** The cue after another in the order of the night; of none, the first. Null at the end. */
export function cueAfter(cues: readonly Cue[], id: string | null): Cue | null {
  if (id === null) return cues[0] ?? null;
  const at = cues.findIndex((c) => c.id === id);
  return at < 0 ? (cues[0] ?? null) : (cues[at + 1] ?? null);
}
/** The one before; null at the beginning. */
export function cueBefore(cues: readonly Cue[], id: string | null): Cue | null {
  const at = cues.findIndex((c) => c.id === id);
  return at > 0 ? cues[at - 1]! : null;
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
