/** A display as the browser tells of it: its name, and where it lies on the desktop, in its pixels. */
export interface Display {
  readonly label: string;
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/**
 * The display that was chosen, among those that are connected now: the one of the same name at the same place, else the only one of
 * that name, because displays move on the desktop when another is plugged in.
 * @returns its index, or -1 when it is not connected, or two could be meant
 */
export function findDisplay(chosen: Display, connected: readonly Display[]): number {
  const same = connected.findIndex(
    (d) => d.label === chosen.label && d.left === chosen.left && d.top === chosen.top,
  );
  if (same >= 0) return same;
  const named = connected.filter((d) => d.label === chosen.label);
  return named.length === 1 ? connected.indexOf(named[0]!) : -1;
}

/** How displays are told apart in a list: by name and size, and by their number where that is not enough. */
export function displayNames(connected: readonly Display[]): readonly string[] {
  const names = connected.map((d) => `${d.label || 'Display'} · ${d.width} × ${d.height}`);
  return names.map((n, i) =>
    names.indexOf(n) === names.lastIndexOf(n)
      ? n
      : `${n} (${names.slice(0, i + 1).filter((x) => x === n).length})`,
  );
}
