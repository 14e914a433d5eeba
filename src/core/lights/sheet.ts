import type { Hung } from './aim';
import { cellsOf, type Kind } from './kind';
import { type Room, type SheetPlace, widthOf } from './room';

/** From wall to wall and from floor to ceiling, where nothing else was said. */
export const sheetOf = ({ width, height, sheet }: Room): SheetPlace =>
  sheet ?? { left: -width / 2, right: width / 2, bottom: 0, top: height };

/** The picture as lamps see it: small enough that each of its points is the mean of a patch. */
export const SHEET_WIDTH = 64;
export const SHEET_HEIGHT = 36;
export const SHEET_VALUES = 3 * SHEET_WIDTH * SHEET_HEIGHT;

/**
 * Where each cell of a lamp hangs on the sheet: pairs from 0 to 1, across and up. What hangs beside it takes its edge.
 * @param at - where its middle is
 */
export function spotsOnSheet(kind: Kind, at: Pick<Hung, 'x' | 'y'>, room: Room): Float32Array {
  const { left, right, bottom, top } = sheetOf(room),
    { columns, rows } = kind,
    step = columns * rows > 1 ? widthOf(kind, room) / columns : 0,
    out = new Float32Array(2 * cellsOf(kind));
  for (let cell = 0; 2 * cell < out.length; cell++) {
    const x = at.x + ((cell % columns) + 0.5 - columns / 2) * step,
      y = at.y + (rows / 2 - Math.floor(cell / columns) - 0.5) * step;
    out[2 * cell] = Math.min(1, Math.max(0, (x - left) / Math.max(0.01, right - left)));
    out[2 * cell + 1] = Math.min(1, Math.max(0, (y - bottom) / Math.max(0.01, top - bottom)));
  }
  return out;
}

/**
 * The sheet's light at one place, between its four nearest points. Allocates nothing.
 * @param sheet - linear light, row by row from the bottom, {@link SHEET_VALUES} long @param x @param y - 0 to 1
 * @param out - receives three values from `to`
 */
export function sheetAt(sheet: Float32Array, x: number, y: number, out: Float32Array, to: number): void {
  const u = Math.min(SHEET_WIDTH - 1, Math.max(0, x * SHEET_WIDTH - 0.5)),
    v = Math.min(SHEET_HEIGHT - 1, Math.max(0, y * SHEET_HEIGHT - 0.5));
  const i = Math.min(SHEET_WIDTH - 2, Math.floor(u)),
    j = Math.min(SHEET_HEIGHT - 2, Math.floor(v)),
    a = u - i,
    b = v - j,
    at = 3 * (j * SHEET_WIDTH + i),
    up = at + 3 * SHEET_WIDTH;
  for (let c = 0; c < 3; c++) {
    const low = sheet[at + c]! * (1 - a) + sheet[at + 3 + c]! * a,
      high = sheet[up + c]! * (1 - a) + sheet[up + 3 + c]! * a;
    out[to + c] = low * (1 - b) + high * b;
  }
}
