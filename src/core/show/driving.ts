import type { Draft } from 'immer';
import { sourcesOf } from '../makers/making';
import { freeIds, freeName } from './commands';
import type { Command } from './history';
import { idsOnSurface } from './surfaces';
import type { Ear, Input, Show } from './types';

/** Which inputs move what is on a surface, and by which ears. */
export function drivingOf(
  show: Show,
  surface: string,
): readonly { readonly input: Input; readonly ears: readonly Ear[] }[] {
  const moving = new Set(routesOf(show, surface).map((r) => r.signal.split('/')[0]!)),
    ears = show.ears.filter((e) => moving.has(e.id));
  return show.inputs.flatMap((input) => {
    const own = ears.filter((e) => e.input === input.id);
    return own.length > 0 ? [{ input, ears: own }] : [];
  });
}

function routesOf(show: Show, surface: string): Show['routes'] {
  const things = idsOnSurface(show, surface);
  return show.routes.filter((r) => things.has(r.target.thing));
}

/** Whether ears that hear the one can hear the other: notes and sound are two things. */
export const mayDriveInstead = (one: Input, other: Input): boolean =>
  one.id !== other.id && (one.kind === 'notes') === (other.kind === 'notes');

/**
 * Lets another input drive what is on a surface. Ears that move something else as well stay as they are, and are copied for it;
 * routes, with all that shapes them, survive.
 */
export function driveBy(show: Show, surface: string, from: string, to: string): Command {
  const own = routesOf(show, surface),
    ownIds = new Set(own.map((r) => r.id)),
    { ears } = drivingOf(show, surface).find((d) => d.input.id === from) ?? { ears: [] };
  const id = freeIds(show, 'ear');
  const copies = new Map<string, Ear>();
  for (const ear of ears) {
    const hears = (signal: string): boolean => signal.split('/')[0] === ear.id,
      elsewhere =
        show.routes.some(
          (r) => (!ownIds.has(r.id) && hears(r.signal)) || (r.amountBy !== null && hears(r.amountBy)),
        ) || show.makers.some(({ making }) => sourcesOf(making).some(hears));
    if (elsewhere)
      copies.set(ear.id, { ...ear, id: id(), name: freeName(show.ears, ear.name), input: to, stem: null });
  }
  return (d) => {
    for (const ear of ears) {
      const copy = copies.get(ear.id);
      if (copy) {
        d.ears.push(copy as Draft<Ear>);
        for (const r of d.routes)
          if (ownIds.has(r.id) && r.signal.split('/')[0] === ear.id)
            r.signal = r.signal.replace(ear.id, copy.id);
      } else {
        const x = d.ears.find((e) => e.id === ear.id)!;
        x.input = to;
        if (x.stem) x.stem = null;
      }
    }
  };
}
