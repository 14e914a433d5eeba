import { footprintOf, type Kinded } from './builtin';
import { type Kind, UNIVERSE_SIZE } from './kind';

/** A lamp as it is patched. */
export interface Patched extends Kinded {
  readonly id: string;
  readonly universe: number;
  readonly address: number;
}

/**
 * Lamps that share a channel with another: each by its id, with one that it shares with.
 * @param read - kinds that were read from files
 */
export function clashesOf(
  fixtures: readonly Patched[],
  read: readonly Kind[] = [],
): ReadonlyMap<string, string> {
  const owners = new Map<number, (string | undefined)[]>(),
    clashes = new Map<string, string>();
  for (const fixture of fixtures) {
    const { id, universe, address } = fixture;
    let channels = owners.get(universe);
    if (!channels) owners.set(universe, (channels = new Array<string | undefined>(UNIVERSE_SIZE)));
    for (let at = address - 1; at < Math.min(UNIVERSE_SIZE, address - 1 + footprintOf(fixture, read)); at++) {
      const other = channels[at];
      if (other === undefined) channels[at] = id;
      else if (other !== id) {
        clashes.set(id, other);
        if (!clashes.has(other)) clashes.set(other, id);
      }
    }
  }
  return clashes;
}
