import { COMBINES, type Combine } from '../show/types';

/** Ways to combine as small whole numbers, for typed arrays. */
export const OP: Readonly<Record<Combine, number>> = Object.fromEntries(COMBINES.map((c, i) => [c, i])) as Record<Combine, number>;
const ADD = OP.add, SUBTRACT = OP.subtract, MULTIPLY = OP.multiply, GREATEST = OP.greatest, LEAST = OP.least, AVERAGE = OP.average, REPLACE = OP.replace;

/**
 * What a parameter becomes by one more route, in the parameter's own unit. Small, so that the loops over all routes take it into themselves.
 * @param op - one of {@link OP} @param x - what it is by the routes before @param rest - its rest
 * @param shaped - the route's shaped number @param move - how far that moves it from rest @param before - how many routes came before
 */
export function combined(op: number, x: number, rest: number, shaped: number, move: number, before: number): number {
  const alone = rest + move;
  return op === ADD ? x + move
    : op === SUBTRACT ? x - move
      : op === MULTIPLY ? x * (rest !== 0 ? alone / rest : shaped)
        : op === GREATEST ? (alone > x ? alone : x)
          : op === LEAST ? (alone < x ? alone : x)
            : op === AVERAGE ? (x * before + alone) / (before + 1)
              : op === REPLACE ? alone : x;
}
