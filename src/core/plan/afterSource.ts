/**
 * Orders items so that each comes after those it takes from. Takes time in proportion to their number, however long the chains.
 * @param sourcesOf - what an item takes from; something that is not among the items does not count
 * @param cut - told of an item that closes a loop, and of what it takes from that cannot come before it
 */
export function afterSource<T>(
  items: readonly T[],
  sourcesOf: (item: T) => readonly T[],
  cut: (item: T, source: T) => void,
): T[] {
  const order: T[] = [],
    done = new Set<T>(),
    known = new Set(items),
    open = new Set<T>();
  const chain: { readonly item: T; readonly left: T[] }[] = [];
  const enter = (item: T): void => {
    open.add(item);
    chain.push({ item, left: sourcesOf(item).filter((s) => known.has(s)) });
  };
  for (const first of items) {
    if (!done.has(first)) enter(first);
    for (let last = chain.at(-1); last; last = chain.at(-1)) {
      const source = last.left.shift();
      if (source === undefined) {
        chain.pop();
        open.delete(last.item);
        done.add(last.item);
        order.push(last.item);
      } else if (open.has(source)) cut(last.item, source);
      else if (!done.has(source)) enter(source);
    }
  }
  return order;
}
