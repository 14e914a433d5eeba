import type { Draft } from 'immer';
import { freeId, freeIds, freeName, newRoute } from './commands';
import type { Command } from './history';
import { boundsOf, signalsOfEar } from './signals';
import { findParameter } from './things';
import type { Ear, Route, RouteGroup, Show } from './types';

/** One track of a tune, and the colour of its notes. */
export interface NoteTrack {
  /** From 1. */
  readonly track: number;
  readonly name: string;
  /** `#rrggbb` */
  readonly ink: string;
}
/** Keys that stand as signals of their own. */
export const KEYS_MOST = 64;

/**
 * Lays a tune's notes over lamps: one lamp, or one cell of a single lamp, is one key, from the lowest up; the harder a key is struck
 * the brighter it is, in the colour of its track; cells have the colour of the first. Ears and routes like any others, in a group of their own.
 * @param lamps - in their order; a single one with cells takes a key for each cell
 * @param cells - of a single lamp; 1 where it has none
 */
export function notesOver(
  show: Show,
  input: string,
  tracks: readonly NoteTrack[],
  lamps: readonly string[],
  cells: number,
  low: number,
): { readonly command: Command; readonly routes: readonly Route[]; readonly ears: readonly Ear[] } {
  const one = lamps.length === 1 && cells > 1,
    count = Math.min(one ? cells : lamps.length, KEYS_MOST, 128 - low);
  const earId = freeIds(show, 'ear'),
    routeId = freeIds(show, 'route');
  const ears = tracks.map(({ track, name }): Ear => ({
    id: earId(),
    name: freeName(show.ears, `${name} by key`),
    input,
    channel: 'sum',
    listening: {
      kind: 'notes',
      channels: [],
      tracks: [track],
      reading: 'keys',
      low,
      high: low + count - 1,
    },
  }));
  const group: RouteGroup = {
    id: freeId(show, 'group'),
    name: freeName(show.groups, 'Notes over lamps'),
    muted: false,
    soloed: false,
    bypassed: false,
    folded: true,
  };
  const wanted = ears.flatMap((ear, t) => {
    const [row, ...members] = signalsOfEar(ear);
    const ink = tracks[t]!.ink;
    return one
      ? [{ signal: row!, target: { thing: lamps[0]!, parameter: 'cells' }, ink }]
      : members.flatMap((signal, i) =>
          ['dimmer', 'colour'].map((parameter) => ({ signal, target: { thing: lamps[i]!, parameter }, ink })),
        );
  });
  const able = wanted.filter((w) => findParameter(show, w.target));
  const routes = able.map(({ signal, target, ink }): Route => {
    const { parameter } = findParameter(show, target)!,
      colour = parameter.kind === 'colour';
    return {
      ...newRoute(routeId(), signal, target, parameter, null, boundsOf({ ...show, ears }, signal)),
      group: group.id,
      // Of several tracks the loudest is seen, and their colours add up.
      combine: colour ? 'add' : 'greatest',
      reach: colour ? ink : parameter.reach,
    };
  });
  return {
    command: (d) => {
      for (const ear of ears) d.ears.push(ear as Draft<Ear>);
      d.groups.push(group);
      for (const r of routes) d.routes.push(r as Draft<Route>);
      // Dark until a key is struck.
      for (const id of one ? [] : lamps.slice(0, count)) {
        const lamp = d.fixtures.find((f) => f.id === id);
        if (lamp) lamp.rest = { ...lamp.rest, dimmer: 0, colour: '#000000' };
      }
      const bar = one ? d.fixtures.find((f) => f.id === lamps[0]) : undefined;
      if (bar)
        bar.rest = {
          ...bar.rest,
          dimmer: 100,
          cells: 0,
          colour: tracks[0]?.ink ?? '#ffffff',
          far: tracks[0]?.ink ?? '#ffffff',
        };
    },
    routes,
    ears,
  };
}
