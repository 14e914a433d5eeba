import type { FromPicture, KnownQuality } from '../memory/messages';

/** What pictures of each size were drawn with belongs to this machine: a window begins where the one before it ended. Main thread. */
const KEY = 'batucada-quality';

export function knownQualities(): KnownQuality[] {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<
      string,
      Partial<KnownQuality['quality']>
    >;
    return Object.entries(kept).flatMap(([size, { edges, resolution, counts }]) =>
      typeof edges === 'boolean' && typeof resolution === 'number' && typeof counts === 'number'
        ? [{ size, quality: { edges, resolution, counts } }]
        : [],
    );
  } catch {
    return [];
  }
}
/** Told once a second by each picture. */
export function keepQuality({ size, quality }: Extract<FromPicture, { type: 'rate' }>): void {
  try {
    const kept = Object.fromEntries(knownQualities().map((k) => [k.size, k.quality]));
    const before = kept[size];
    if (before && JSON.stringify(before) === JSON.stringify(quality)) return;
    localStorage.setItem(KEY, JSON.stringify({ ...kept, [size]: quality }));
  } catch {
    /* then the next window finds out by itself */
  }
}
