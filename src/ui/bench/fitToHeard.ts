import { type LearnedFit, learnFit } from '../../core/shaping';
import { changeShaping, findSignal, usualOfSignal } from '../../core/show';
import { TRACE_COLUMNS } from '../../core/plan';
import { live } from '../live/live';
import { currentShow, edit } from '../state/session';
import { say } from '../state/notices';

const trace = new Float32Array(TRACE_COLUMNS);

/** What a signal moved in during the last twelve seconds, or null when nothing sounded. */
export function heardOf(signal: string): LearnedFit | null {
  if (live.trace(signal, trace) < 0) return null;
  return learnFit(trace, usualOfSignal(currentShow(), signal), findSignal(currentShow(), signal)?.measure);
}

/** Fits a route to the last twelve seconds; in silence it is left as it is. */
export function fitToHeard(route: string): void {
  const r = currentShow().routes.find((x) => x.id === route);
  if (!r) return;
  const heard = heardOf(r.signal);
  if (!heard) {
    say('done', 'Nothing heard yet: waiting for sound to fit to.');
    return;
  }
  edit('fit to what was heard', changeShaping(route, { fit: { mode: 'heard', ...heard } }));
}
