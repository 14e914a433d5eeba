/** Which kinds of material are tuned on (*known*), and which are kept out of it altogether (*unknown*). Decided by name, never by result. */
import { seedOf } from '../../src/core/random';

export type Side = 'known' | 'unknown';

/** Of few things chance could keep out what nothing else is like: of kits and dance rules these are kept out. */
const KEPT_OUT = new Set([
  'The Black Pearl 1.0',
  'ElectricEmpireKit',
  'BJA_Pacific',
  'driving',
  'broken',
  'hall with a long tail',
  'bowed',
]);

/** Of many (accompaniment styles) one in five. */
export function sideOfStyle(name: string): Side {
  return seedOf(`batucada ${name}`) % 5 === 0 ? 'unknown' : 'known';
}
/** Of few, by the list above. */
export function sideOf(name: string): Side {
  return KEPT_OUT.has(name) ? 'unknown' : 'known';
}

/** Of a list, what belongs to a side. */
export function ofSide<T>(list: readonly T[], side: Side, nameOf: (t: T) => string): readonly T[] {
  return list.filter((t) => sideOf(nameOf(t)) === side);
}
