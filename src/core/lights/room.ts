import type { Hung } from './aim';
import { cellsOf, has, type Kind, turns } from './kind';

/** Where the picture lies over the room as it is seen from the front, in metres: across from the middle, and up from the floor. */
export interface SheetPlace {
  readonly left: number;
  readonly right: number;
  readonly bottom: number;
  readonly top: number;
}
/** The room, in metres: its width is centred, its depth runs from the back wall to the audience. */
export interface Room {
  readonly width: number;
  readonly depth: number;
  readonly height: number;
  /** Where the picture lies over it, for the lamps that take their colour from there; absent: over all of it. */
  readonly sheet?: SheetPlace;
}
export const USUAL_ROOM: Room = { width: 12, depth: 8, height: 5 };
/** Longest side of a room, in metres. */
export const ROOM_MOST = 200;

/** Metres that a lamp of cells is wide: four cells of a bar to a metre, eight of a panel, and never wider than the room. */
export function widthOf(kind: Kind, room: Room): number {
  return Math.min(room.width * 0.9, kind.columns / (kind.rows > 1 ? 8 : 4));
}
type Sort = 'head' | 'haze' | 'bar' | 'lamp';
const sortOf = (kind: Kind): Sort =>
  turns(kind) ? 'head' : has(kind, 'haze') ? 'haze' : cellsOf(kind) > 1 ? 'bar' : 'lamp';
/**
 * Where a lamp is that nobody has placed yet: those that turn hang under the ceiling, haze stands on the floor, and all others
 * share a rail in their order.
 * @param place - which of its sort it is, from 0 @param count - how many of its sort there are
 */
function usualPlace(sort: Sort, place: number, count: number, { width, depth, height }: Room): Hung {
  const x = count > 1 ? (place / (count - 1) - 0.5) * width * 0.86 : 0;
  switch (sort) {
    case 'head':
      return { x, y: height * 0.92, z: depth * 0.35, turn: 0, hangs: true };
    case 'haze':
      return { x: x || width * 0.42, y: 0.3, z: depth * 0.2, turn: 0, hangs: false };
    case 'bar':
      return { x, y: 0.55, z: depth * 0.6, turn: 0, hangs: false };
    case 'lamp':
      return { x, y: 1.5, z: depth * 0.6, turn: 0, hangs: true };
  }
}

/** Where every lamp is, in their order. */
export function placesIn(
  lamps: readonly { readonly kind: Kind; readonly at?: Hung | undefined }[],
  room: Room,
): Hung[] {
  const counts = new Map<Sort, number>(),
    so = new Map<Sort, number>();
  for (const { kind, at } of lamps) if (!at) counts.set(sortOf(kind), (counts.get(sortOf(kind)) ?? 0) + 1);
  return lamps.map(({ kind, at }) => {
    if (at) return at;
    const sort = sortOf(kind),
      n = so.get(sort) ?? 0;
    so.set(sort, n + 1);
    return usualPlace(sort, n, counts.get(sort)!, room);
  });
}
