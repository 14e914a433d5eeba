import { channelCount, type FixtureMode, UNIVERSE_SIZE } from './fixtures';

/** A lamp as it is patched. */
export interface Patched {
  readonly id: string;
  readonly mode: FixtureMode;
  readonly universe: number;
  readonly address: number;
}

/**
 * Lamps that share a channel with another: each by its id, with one that it shares with.
 */
export function clashesOf(fixtures: readonly Patched[]): ReadonlyMap<string, string> {
  const owners = new Map<number, (string | undefined)[]>(),
    clashes = new Map<string, string>();
  for (const { id, mode, universe, address } of fixtures) {
    let channels = owners.get(universe);
    if (!channels) owners.set(universe, (channels = new Array<string | undefined>(UNIVERSE_SIZE)));
    for (let at = address - 1; at < Math.min(UNIVERSE_SIZE, address - 1 + channelCount(mode)); at++) {
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
