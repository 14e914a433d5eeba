import { clamp } from '../units';

/** Most room that may be asked for, in %. */
export const COVER_ROOM_MOST = 300;

/** How a plate lies that covers the picture. */
export interface Covering {
  scale: number;
  /** Its middle, from the picture's. */
  x: number;
  y: number;
}

/**
 * Lays a plate over the whole of a picture: as large as it must be, with some room, and shifted no further than that room goes, so that
 * no edge of it is ever bare, however it is turned. Allocates nothing.
 * @param width @param height - of the plate, and `across`, `up` of the picture, in the same pixels
 * @param room - how much larger than it must be, in shares @param size - times that; below what must be it is that
 * @param turn - in radians @param x @param y - where its middle is wished, from the picture's
 */
export function cover(
  width: number,
  height: number,
  across: number,
  up: number,
  room: number,
  size: number,
  turn: number,
  x: number,
  y: number,
  out: Covering,
): void {
  const c = Math.cos(turn),
    s = Math.sin(turn);
  // What of the plate's own ways the turned picture takes up, from its middle.
  const needX = (across * Math.abs(c) + up * Math.abs(s)) / 2,
    needY = (across * Math.abs(s) + up * Math.abs(c)) / 2;
  const least = Math.max((2 * needX) / Math.max(1, width), (2 * needY) / Math.max(1, height));
  const scale = Math.max(least, least * (1 + room) * size);
  const spareX = Math.max(0, (width * scale) / 2 - needX),
    spareY = Math.max(0, (height * scale) / 2 - needY);
  const along = clamp(x * c + y * s, -spareX, spareX),
    off = clamp(y * c - x * s, -spareY, spareY);
  out.scale = scale;
  out.x = along * c - off * s;
  out.y = along * s + off * c;
}
