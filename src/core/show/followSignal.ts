import type { LearnedFit } from '../shaping/learnFit';
import type { Shaping } from '../shaping/steps';
import { newRoute } from './commands';
import type { Command } from './history';
import { boundsOf, findSignal, isRoutable, type Signal } from './signals';
import { findParameter } from './things';
import type { Route, Show } from './types';

/**
 * Lets routes follow another signal. What shapes them stays, and so does a fit by hand or to what comes, where the new signal is
 * measured in the same way; a fit that was learned is learned anew. A route that cannot be moved by the signal is left as it is.
 * @param heard - where a signal moved of late, or null
 */
export const followSignal =
  (show: Show, ids: readonly string[], to: Signal, heard: (signal: string) => LearnedFit | null): Command =>
  (d) => {
    for (const id of ids) {
      const route = show.routes.find((r) => r.id === id),
        draft = d.routes.find((r) => r.id === id);
      if (!route || !draft || route.signal === to.id) continue;
      const end = findParameter(show, route.target);
      if (end && !isRoutable(to, end.parameter)) continue;
      draft.signal = to.id;
      (draft as { shaping: Shaping }).shaping = aimed(show, route, to, heard);
    }
  };

function aimed(show: Show, route: Route, to: Signal, heard: (signal: string) => LearnedFit | null): Shaping {
  const from = findSignal(show, route.signal),
    end = findParameter(show, route.target);
  const { strike, floor, fit, ...shape } = route.shaping;
  const fresh = end
    ? newRoute(route.id, to, route.target, end.parameter, heard(to.id), boundsOf(show, to)).shaping
    : null;
  // A hit is struck and needs no fit; what is always there is fitted and cannot be struck.
  if (to.kind === 'event') return { ...(fresh?.strike && { strike: strike ?? fresh.strike }), ...shape };
  const alike = from !== null && from.kind === to.kind && from.measure === to.measure;
  const sameBounds = JSON.stringify(from && boundsOf(show, from)) === JSON.stringify(boundsOf(show, to));
  const kept =
    alike && sameBounds && (fit?.mode !== 'heard' || fresh?.fit?.mode === 'coming') ? fit : fresh?.fit;
  return { ...(alike && floor && { floor }), ...(kept && { fit: kept }), ...shape };
}
