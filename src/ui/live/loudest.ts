import { inputSignal, TRACE_COLUMNS } from '../../core/plan';
import type { Input } from '../../core/show';
import { live } from './live';

/** The loudest level of each input over the twelve seconds that its trace holds, by its id: 0 to 1 and beyond. */
export function loudestOfLate(inputs: readonly Pick<Input, 'id'>[]): Record<string, number> {
  const trace = new Float32Array(TRACE_COLUMNS);
  return Object.fromEntries(
    inputs.map(({ id }) => {
      live.trace(inputSignal(id, 'peak'), trace);
      return [id, trace.reduce((most, x) => (x > most ? x : most), 0)];
    }),
  );
}
