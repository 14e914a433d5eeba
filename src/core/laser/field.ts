import { FLAT_CORNERS, isShowable, squareToQuad, type Corner } from '../screens/screen';
import { At, POINT } from './points';

/** How a drawing is laid into the projector's field: part of the machine's own settings, as the house has hung it. */
export interface LaserField {
  /** Where the drawing's corners land, each from 0 to 1 across the field: bottom left, bottom right, top right, top left. */
  readonly corners: readonly [Corner, Corner, Corner, Corner];
  readonly mirrorX: boolean;
  readonly mirrorY: boolean;
}
export const WHOLE_FIELD: LaserField = { corners: FLAT_CORNERS, mirrorX: false, mirrorY: false };

/**
 * Brings a frame's points into the field, before the gate and never after it: keystone, size and place by the four corners, and mirrored.
 * Corners that make no shape leave it as it is. Allocates nothing after it is made.
 */
export class FieldMap {
  readonly #m: readonly number[];
  readonly #sx: number;
  readonly #sy: number;
  constructor({ corners, mirrorX, mirrorY }: LaserField) {
    this.#m = (isShowable(corners) ? squareToQuad(corners) : null) ?? [1, 0, 0, 0, 1, 0, 0, 0, 1];
    this.#sx = mirrorX ? -1 : 1;
    this.#sy = mirrorY ? -1 : 1;
  }
  /** @param points - `count` of them, changed in place */
  apply(points: Float32Array, count: number): void {
    const m = this.#m;
    for (let i = 0; i < count; i++) {
      const at = i * POINT,
        x = (this.#sx * points[at + At.X]! + 1) / 2,
        y = (this.#sy * points[at + At.Y]! + 1) / 2,
        w = m[6]! * x + m[7]! * y + m[8]!;
      points[at + At.X] = (2 * (m[0]! * x + m[1]! * y + m[2]!)) / w - 1;
      points[at + At.Y] = (2 * (m[3]! * x + m[4]! * y + m[5]!)) / w - 1;
    }
  }
}
