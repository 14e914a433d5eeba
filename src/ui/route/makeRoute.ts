import {
  addRoute,
  boundsOf,
  findParameter,
  firstReach,
  findSignal,
  freeId,
  isRoutable,
  newRoute,
  type Target,
} from '../../core/show';
import { heardOf } from '../bench/fitToHeard';
import { currentShow, edit } from '../state/session';
import { say } from '../state/notices';
import { look, useView } from '../state/view';

/**
 * Makes a route that moves something on the next sound: fitted to what its signal did in the last twelve seconds.
 * @param mark - joins it with the edit before that bears the same
 */
export function makeRoute(signal: string, target: Target, mark: string | null = null): void {
  const show = currentShow();
  const found = findSignal(show, signal);
  const end = findParameter(show, target);
  if (!found || !end) return;
  if (!isRoutable(found, end.parameter)) {
    look({ fanning: { signal, target } });
    return;
  }
  const { name } = found;
  if (
    show.routes.some(
      (r) =>
        r.signal === signal && r.target.thing === target.thing && r.target.parameter === target.parameter,
    )
  ) {
    say('done', `${name} already moves ${end.thing.name} · ${end.parameter.label}.`);
    return;
  }
  if (found.kind === 'colour' && end.parameter.kind !== 'colour') {
    say('done', `${name} gives colours. Drop it on a colour.`);
    return;
  }
  const heard = heardOf(signal);
  const route = {
    ...newRoute(freeId(show, 'route'), found, target, end.parameter, heard, boundsOf(show, found)),
    reach: firstReach(show, target),
    unseen: useView.getState().unseen ? { of: null } : null,
  };
  edit(`move ${end.thing.name} · ${end.parameter.label} with ${name}`, addRoute(route), mark);
  if (route.shaping.fit?.mode === 'coming') say('done', 'Nothing heard yet: waiting for sound to fit to.');
  look({ route: route.id, aiming: null, moving: null, signal });
}
