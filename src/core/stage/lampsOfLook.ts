import { toLinear } from '../parameters/colour';
import { parameterKey, restOf, thingsOf } from '../show/things';
import type { Look, Show } from '../show/types';

/** A lamp as a look would have it. */
export interface PrintedLamp {
  /** In linear light, 0 to 1, dimmed. */
  readonly colour: readonly [number, number, number];
  /** Something moves its light, too. */
  readonly moved: boolean;
}

/** Every lamp that shines, in the order of the patch, as a look has it or as it rests; what routes make of it is only said. */
export function lampsOfLook(show: Show, look: Pick<Look, 'values' | 'routes'>): readonly PrintedLamp[] {
  const moved = new Set(
    show.routes
      .filter((r) => !r.muted && (look.routes[r.id] ?? 1) > 0)
      .map((r) => `${r.target.thing}/${r.target.parameter}`),
  );
  return thingsOf(show).flatMap((thing): PrintedLamp[] => {
    if (thing.kind !== 'fixture') return [];
    const of = (id: string) => thing.parameters.find((p) => p.id === id),
      dimmer = of('dimmer'),
      tint = of('colour');
    if (!dimmer && !tint) return [];
    const valueOf = (p: NonNullable<typeof tint>) =>
        look.values[parameterKey({ thing: thing.id, parameter: p.id })] ?? restOf(thing, p),
      level = dimmer?.kind === 'number' ? Number(valueOf(dimmer)) / dimmer.max : 1,
      ink = tint ? valueOf(tint) : '#ffffff',
      rgb: [number, number, number] = [0, 0, 0];
    toLinear(typeof ink === 'string' ? ink : '#ffffff', rgb);
    return [
      {
        colour: [rgb[0] * level, rgb[1] * level, rgb[2] * level],
        moved: ['dimmer', 'colour', 'cells'].some((id) => moved.has(`${thing.id}/${id}`)),
      },
    ];
  });
}
