import { leastFitOver, type LearnedFit, learnFit, limitHolds } from '../../core/shaping';
import { boundsOf, changeShaping, findSignal, type Route, type Signal, usualOfSignal } from '../../core/show';
import { TRACE_COLUMNS } from '../../core/plan';
import { live } from '../live/live';
import { currentShow, edit } from '../state/session';
import { say } from '../state/notices';
import { limitWords } from './limitWords';

const trace = new Float32Array(TRACE_COLUMNS);

/** What a signal moved in during the last twelve seconds, or null when nothing sounded. @param floor - of its route */
export function heardOf(signal: string, floor?: number): LearnedFit | null {
  if (live.trace(signal, trace) < 0) return null;
  const usual = usualOfSignal(currentShow(), signal);
  return learnFit(trace, usual, findSignal(currentShow(), signal)?.measure, leastFitOver(floor, usual));
}

/** How far a signal lies below the usual, in dB, where a limit holds its fit back; else null. */
const quietBelow = ({ id, usual, measure }: Signal, least: number): number | null =>
  live.trace(id, trace) < 0 ? null : limitHolds(trace, usual, measure, least);

/** Whether the limit against hiss holds a route's fit back. @returns how far its signal lies below the usual, in dB, or null */
export function heldByLimit(route: Route): number | null {
  const signal = findSignal(currentShow(), route.signal),
    { fit, floor } = route.shaping;
  if (!signal || !fit || fit.mode === 'hand') return null;
  const least = leastFitOver(floor?.at, signal.usual, fit.mode === 'coming' ? fit.mostDb : undefined);
  if (fit.mode === 'heard' && fit.high < 0.999 * least) return null;
  return quietBelow(signal, least);
}
/** Fits a route as far down as its sound is quiet, past the limit against hiss. */
export function fitPastLimit(route: string): void {
  const r = currentShow().routes.find((x) => x.id === route),
    signal = r && findSignal(currentShow(), r.signal);
  if (!r || !signal || live.trace(signal.id, trace) < 0) return;
  const heard = learnFit(trace, signal.usual, signal.measure, 0);
  if (heard) edit('fit past the limit', changeShaping(route, { fit: { mode: 'heard', ...heard } }));
  else say('done', 'Nothing sounds now. Try again while it does.');
}

/** Fits a route to the last twelve seconds; in silence it is left as it is. */
export function fitToHeard(route: string): void {
  const r = currentShow().routes.find((x) => x.id === route);
  if (!r) return;
  const signal = findSignal(currentShow(), r.signal),
    bounds = signal && boundsOf(currentShow(), signal);
  if (bounds) {
    edit('fit to where it lies', changeShaping(route, { fit: { mode: 'hand', ...bounds } }));
    say('done', `It lies between ${bounds.low} and ${bounds.high} by its nature, and is fitted to that.`);
    return;
  }
  const heard = heardOf(r.signal, r.shaping.floor?.at);
  const quiet = signal && quietBelow(signal, leastFitOver(r.shaping.floor?.at, signal.usual));
  if (quiet !== null)
    say('done', limitWords(signal!.name, quiet), {
      label: 'fit past the limit',
      act: () => fitPastLimit(route),
    });
  else if (!heard) {
    say('done', 'Nothing heard yet: waiting for sound to fit to.');
    return;
  }
  if (heard) edit('fit to what was heard', changeShaping(route, { fit: { mode: 'heard', ...heard } }));
}
