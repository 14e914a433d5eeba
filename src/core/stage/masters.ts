import type { Thing } from '../show/things';
import type { LookPart, Show } from '../show/types';

/** Masters that every show has. *All* and the four outputs are of light, *moves* is the amount of all routes. */
export const MASTERS = ['all', 'picture', 'lamps', 'laser', 'overlays', 'moves'] as const;
export type MasterName = (typeof MASTERS)[number];
/** Those of which one can be alone. */
const ALONE = new Set<string>(['picture', 'lamps', 'laser', 'overlays']);
export const canBeAlone = (master: string): boolean => ALONE.has(master);

export interface Master {
  readonly id: string;
  readonly label: string;
}
const LABELS: Readonly<Record<MasterName, string>> = {
  all: 'All',
  picture: 'Picture',
  lamps: 'Lamps',
  laser: 'Laser',
  overlays: 'Overlays',
  moves: 'Moves',
};
export const lampGroupMaster = (group: string): string => `lamps:${group}`;
export const routeGroupMaster = (group: string): string => `routes:${group}`;

/** The masters of a show: the usual ones, then one for each group of lamps and of routes. */
export function mastersOf(show: Pick<Show, 'fixtures' | 'groups'>): readonly Master[] {
  const lamps = new Set(show.fixtures.flatMap((f) => (f.group ? [f.group] : [])));
  return [
    ...MASTERS.map((id) => ({ id, label: LABELS[id] })),
    ...[...lamps].map((g) => ({ id: lampGroupMaster(g), label: g })),
    ...show.groups.map((g) => ({ id: routeGroupMaster(g.id), label: g.name })),
  ];
}

/** Which part of the night a thing belongs to. @param overlaid - ids of what is on overlays */
export function partOf(thing: Pick<Thing, 'id' | 'kind'>, overlaid: ReadonlySet<string>): LookPart {
  switch (thing.kind) {
    case 'fixture':
      return 'lamps';
    case 'laser':
      return 'laser';
    case 'message':
      return 'messages';
    case 'overlay':
      return 'overlays';
    default:
      return overlaid.has(thing.id) ? 'overlays' : 'picture';
  }
}

/** Where every master stands, and which are flashed or alone for as long as they are held. */
export class Masters {
  readonly #values = new Map<string, number>();
  readonly #flashed = new Set<string>();
  readonly #alone = new Set<string>();

  /** @param value - clamped to 0 … 1; no number is taken for 0 */
  set(id: string, value: number): void {
    const x = value > 0 ? Math.min(1, value) : 0;
    if (x === 1) this.#values.delete(id);
    else this.#values.set(id, x);
  }
  flash(id: string, on: boolean): void {
    if (on) this.#flashed.add(id);
    else this.#flashed.delete(id);
  }
  alone(id: string, on: boolean): void {
    if (on && ALONE.has(id)) this.#alone.add(id);
    else this.#alone.delete(id);
  }
  /** What a master makes of what it scales, 0 to 1. */
  at(id: string): number {
    if (this.#alone.size > 0 && ALONE.has(id) && !this.#alone.has(id)) return 0;
    return this.#flashed.has(id) ? 1 : (this.#values.get(id) ?? 1);
  }
  /** Where its slider stands, 0 to 1, whatever is held. */
  value(id: string): number {
    return this.#values.get(id) ?? 1;
  }
  isHeld(how: 'flash' | 'alone', id: string): boolean {
    return (how === 'flash' ? this.#flashed : this.#alone).has(id);
  }
  /** Where sliders stand that are not at 1. What is held is no part of it: nobody holds it any more after a reload. */
  get standing(): Record<string, number> {
    return Object.fromEntries(this.#values);
  }
  restore(standing: Readonly<Record<string, number>>): void {
    this.#values.clear();
    this.#flashed.clear();
    this.#alone.clear();
    for (const [id, x] of Object.entries(standing)) this.set(id, x);
  }
}
