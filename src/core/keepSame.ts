/**
 * What came anew, with each part of it that is as it was taken from what was: whoever compares by identity sees only what changed.
 * @param was - what is replaced, of any shape @param now - plain data: numbers, words, lists and objects without cycles
 * @returns `was` itself where nothing is different. Neither is changed.
 */
export function keepSame<T>(was: unknown, now: T): T {
  if (Object.is(was, now)) return now;
  if (typeof was !== 'object' || typeof now !== 'object' || was === null || now === null) return now;
  if (Array.isArray(now)) {
    if (!Array.isArray(was)) return now;
    const kept = now.map((part, i) => keepSame<unknown>(was[i], part));
    return kept.length === was.length && kept.every((part, i) => Object.is(part, was[i]))
      ? (was as T)
      : (kept as T);
  }
  if (Array.isArray(was)) return now;
  const before = was as Readonly<Record<string, unknown>>,
    kept: Record<string, unknown> = {};
  let same = Object.keys(before).length === Object.keys(now).length;
  for (const [key, part] of Object.entries(now)) {
    kept[key] = keepSame(before[key], part);
    same &&= key in before && Object.is(kept[key], before[key]);
  }
  return (same ? was : kept) as T;
}
