import { COLUMN_SECONDS, TRACE_COLUMNS } from '../../core/plan';
import { live } from './live';

/** Where a hand had a parameter, column by column beside the traces of the signals. Live: no part of any state. */
interface Trail {
  readonly ring: Float32Array;
  from: number;
  newest: number;
  value: number;
  low: number;
  high: number;
}
const trails = new Map<string, Trail>();
const MOST = 32;

export function recordHand(key: string, value: number): void {
  const column = live.traces?.newest ?? -1;
  if (column < 0) return;
  let t = trails.get(key);
  if (!t) {
    if (trails.size >= MOST) trails.delete(trails.keys().next().value!);
    trails.set(
      key,
      (t = {
        ring: new Float32Array(TRACE_COLUMNS),
        from: column,
        newest: column,
        value,
        low: value,
        high: value,
      }),
    );
  }
  for (let c = Math.max(t.newest, column - TRACE_COLUMNS); c < column; c++)
    t.ring[c % TRACE_COLUMNS] = t.value;
  t.ring[column % TRACE_COLUMNS] = value;
  t.newest = column;
  t.value = value;
  if (value < t.low) t.low = value;
  if (value > t.high) t.high = value;
}

export function forgetHand(key: string | null): void {
  if (key === null) trails.clear();
  else trails.delete(key);
}

/** Seconds for which a hand has moved it; 0 when it only lies there. */
export function handSeconds(key: string): number {
  const t = trails.get(key);
  return t && t.high > t.low ? (t.newest - t.from) * COLUMN_SECONDS : 0;
}

/** The movement of the last twelve seconds, oldest first; NaN before the hand came and after it last moved. */
export function readHand(key: string, out: Float32Array): boolean {
  const t = trails.get(key),
    newest = live.traces?.newest ?? -1;
  out.fill(NaN);
  if (!t || newest < 0) return false;
  for (let i = 0; i < out.length; i++) {
    const c = newest - out.length + 1 + i;
    if (c >= t.from && c <= t.newest && c > t.newest - TRACE_COLUMNS) out[i] = t.ring[c % TRACE_COLUMNS]!;
  }
  return true;
}
