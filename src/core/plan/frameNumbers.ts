import { parameterSize, type ParameterDescription } from '../parameters/description';
import type { Thing } from '../show/things';

/** Where the sum over time of a speed stands. */
export const sumKey = (key: string): string => `${key}:sum`;

/** Where a film’s own sound is in its file, in seconds. */
export const filmKey = (key: string): string => `${key}:film`;
export const isFilm = (p: ParameterDescription): boolean => p.kind === 'number' && p.film === true;

/** Where a sum begins again; 0 for a parameter that has none. */
export function wrapOf(p: ParameterDescription): number {
  return p.kind === 'number' ? (p.wrap ?? 0) : 0;
}

/** What of a thing stands in a frame: each key and how many numbers it takes, parameter after parameter, each sum, or film’s place, after its own. */
export function frameNumbers(
  thing: Thing,
): readonly (readonly [key: string, size: number, parameter: ParameterDescription])[] {
  return thing.parameters.flatMap((p): (readonly [string, number, ParameterDescription])[] => {
    const key = `${thing.id}/${p.id}`,
      own = [key, parameterSize(p), p] as const;
    if (isFilm(p)) return [own, [filmKey(key), 1, p]];
    return wrapOf(p) > 0 ? [own, [sumKey(key), 1, p]] : [own];
  });
}
