import { addRoute, freeId, newRoute } from '../../core/show/commands';
import { findParameter } from '../../core/show/things';
import type { Target } from '../../core/show/types';
import { heardOf } from '../bench/fitToHeard';
import { currentShow, edit } from '../state/session';
import { say } from '../state/notices';
import { look } from '../state/view';

/** Makes a route that moves something on the next sound: fitted to what its signal did in the last twelve seconds. */
export function makeRoute(signal: string, target: Target): void {
  const show = currentShow();
  const ear = show.ears.find((e) => e.id === signal);
  const end = findParameter(show, target);
  if (!ear || !end) return;
  if (show.routes.some((r) => r.signal === signal && r.target.thing === target.thing && r.target.parameter === target.parameter)) { say('done', `${ear.name} already moves ${end.thing.name} · ${end.parameter.label}.`); return; }
  const heard = heardOf(signal);
  const route = newRoute(freeId(show, 'route'), signal, ear.listening, target, end.parameter, heard);
  edit(`move ${end.thing.name} · ${end.parameter.label} with ${ear.name}`, addRoute(route));
  if (!heard && ear.listening.kind !== 'hit') say('done', 'Nothing heard yet: waiting for sound to fit to.');
  look({ route: route.id, aiming: null, moving: null, signal });
}
