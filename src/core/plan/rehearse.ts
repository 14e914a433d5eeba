import type { Look, Show } from '../show/types';
import { putValue, type ParameterStore } from './parameterStore';
import type { RouteBoard } from './routeBoard';

/** A look as it would be with nothing else: for the control window alone, while all outputs go on as they are. */
export function rehearse(
  look: Look | null,
  show: Show,
  unseen: { readonly parameters: ParameterStore; readonly routes: RouteBoard },
): void {
  const { winning, runs } = unseen.parameters;
  winning.lookShare.fill(0);
  for (const [key, value] of Object.entries(look?.values ?? {})) {
    const run = runs.get(key);
    if (!run || (run.parameter.kind === 'colour') !== (typeof value === 'string')) continue;
    putValue(winning.look, run.at, value);
    winning.lookShare.fill(1, run.at, run.at + run.size);
  }
  for (const { id } of show.routes) unseen.routes.share(id, look?.routes[id] ?? 1);
}
