/**
 * Orders items so that each comes after the one it takes from. Takes time in proportion to their number, however long the chains.
 * @param sourceOf - what an item takes from, or null; something that is not among the items counts as null
 * @param cut - told of the item that closes a loop: what it takes from cannot come before it
 */
export function afterSource<T>(
  items: readonly T[],
  sourceOf: (item: T) => T | null,
  cut: (item: T) => void,
): T[] {
  const order: T[] = [],
    done = new Set<T>(),
    known = new Set(items);
  const chain: T[] = [],
    open = new Set<T>();
  for (const item of items) {
    for (let at: T | null = item; at !== null && !done.has(at) && known.has(at);) {
      chain.push(at);
      open.add(at);
      const source: T | null = sourceOf(at);
      if (source !== null && open.has(source)) {
        cut(at);
        break;
      }
      at = source;
    }
    for (let last = chain.pop(); last !== undefined; last = chain.pop()) {
      done.add(last);
      order.push(last);
    }
    open.clear();
  }
  return order;
}
