import { changeRouteFloors, findSignal } from '../../core/show';
import { COLUMN_SECONDS, TRACE_COLUMNS } from '../../core/plan';
import { live } from '../live/live';
import { currentShow, edit } from '../state/session';
import { say } from '../state/notices';

export const ROOM_SECONDS = 5;
/** A floor lies this far above the loudest that the empty room gave: 3 dB. */
const ABOVE = 1.41;

/** Sets the floor of every route that follows a level of this input just above what the last five seconds gave. */
export function floorsFromRoom(input: string): void {
  const show = currentShow();
  const trace = new Float32Array(TRACE_COLUMNS);
  const columns = Math.round(ROOM_SECONDS / COLUMN_SECONDS);
  const floors: Record<string, number> = {};
  let followed = 0;
  for (const route of show.routes) {
    const signal = findSignal(show, route.signal);
    if (
      !signal ||
      signal.ear?.input !== input ||
      signal.kind !== 'level' ||
      (signal.measure !== 'amplitude' && signal.measure !== 'loudness')
    )
      continue;
    if (live.trace(route.signal, trace) < 0) continue;
    followed++;
    let top = 0;
    for (let i = trace.length - columns; i < trace.length; i++) if (trace[i]! > top) top = trace[i]!;
    if (top > 0) floors[route.id] = top * ABOVE;
  }
  const count = Object.keys(floors).length;
  if (count === 0 && followed > 0) {
    say('done', 'The room gave nothing at all: it needs no floor.');
    return;
  }
  if (count === 0) {
    say('done', 'No route follows a level of this input yet. Make one, then listen to the room again.');
    return;
  }
  edit('floors from the empty room', changeRouteFloors(floors));
  say(
    'done',
    `${count} ${count === 1 ? 'floor is' : 'floors are'} set just above the room. Undo takes them back.`,
  );
}
