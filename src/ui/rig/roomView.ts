import type { Point, Room } from '../../core/lights';

export type Side = 'front' | 'above';

/** How the room is seen: where a point of it is drawn, and which point is under a place of the drawing. Metres and pixels. */
export interface RoomView {
  readonly side: Side;
  readonly room: Room;
  readonly width: number;
  readonly height: number;
  /** Pixels to a metre at the audience's end. */
  readonly scale: number;
  /** The eye, from the front. */
  readonly eyeY: number;
  readonly eyeZ: number;
  readonly horizon: number;
}

const MARGIN = 14;

/** The whole room as large as fits, from the audience or from above. */
export function viewOf(side: Side, room: Room, width: number, height: number): RoomView {
  const across = side === 'front' ? room.height : room.depth,
    scale = Math.max(1, Math.min((width - 2 * MARGIN) / room.width, (height - 2 * MARGIN) / across)),
    eyeY = room.height * 0.52;
  return {
    side,
    room,
    width,
    height,
    scale,
    eyeY,
    eyeZ: room.depth + room.width * 0.75,
    horizon: (height + scale * room.height) / 2 - eyeY * scale,
  };
}

/** Pixels to a metre at this depth. */
export function scaleAt(view: RoomView, z: number): number {
  if (view.side === 'above') return view.scale;
  const near = view.eyeZ - view.room.depth;
  return (view.scale * near) / Math.max(near * 0.2, view.eyeZ - z);
}
const topOf = (view: RoomView): number => (view.height - view.scale * view.room.depth) / 2;

/** Where a point is drawn. Allocates nothing. @param out - receives x and y, in pixels */
export function drawnAt(view: RoomView, x: number, y: number, z: number, out: Float64Array | number[]): void {
  const s = scaleAt(view, z);
  out[0] = view.width / 2 + x * s;
  out[1] = view.side === 'above' ? topOf(view) + z * s : view.horizon - (y - view.eyeY) * s;
}

/** The point at a place of the drawing that is as deep (from the front) or as high (from above) as `like`. */
export function pointAt(view: RoomView, px: number, py: number, like: Point): Point {
  if (view.side === 'above')
    return { x: (px - view.width / 2) / view.scale, y: like.y, z: (py - topOf(view)) / view.scale };
  const s = scaleAt(view, like.z);
  return { x: (px - view.width / 2) / s, y: view.eyeY - (py - view.horizon) / s, z: like.z };
}

/** What is hit by looking at a place of the drawing: the floor, or the back wall behind it. Within the room. */
export function surfaceAt(view: RoomView, px: number, py: number): Point {
  const { room } = view,
    within = (x: number, low: number, high: number): number => Math.min(high, Math.max(low, x)),
    half = room.width / 2;
  if (view.side === 'above') {
    const { x, z } = pointAt(view, px, py, { x: 0, y: 0, z: 0 });
    return { x: within(x, -half, half), y: 0, z: within(z, 0, room.depth) };
  }
  const near = view.eyeZ - room.depth,
    s = (py - view.horizon) / view.eyeY,
    z = s > 0 ? view.eyeZ - (view.scale * near) / s : -1;
  if (z >= 0) {
    const deep = Math.min(z, room.depth);
    return { x: within((px - view.width / 2) / scaleAt(view, deep), -half, half), y: 0, z: deep };
  }
  const back = pointAt(view, px, py, { x: 0, y: 0, z: 0 });
  return { x: within(back.x, -half, half), y: within(back.y, 0, room.height), z: 0 };
}
