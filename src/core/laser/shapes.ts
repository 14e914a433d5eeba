import type { LaserPaths } from './paths';
import { textStrokes } from './letters';

/** A colour in linear light. */
export type Ray = readonly [r: number, g: number, b: number];

/** Shapes about the middle of the field, within 1. Each adds its paths. */

/** @param corners - 3 or more; as many as a circle needs for a ring @param inner - 1: a plain one; less: a star whose inner corners lie so far out */
export function addPolygon(paths: LaserPaths, corners: number, inner: number, [r, g, b]: Ray): void {
  const n = inner < 1 ? 2 * corners : corners;
  paths.begin();
  for (let i = 0; i <= n; i++) {
    const a = Math.PI / 2 + (2 * Math.PI * (i % n)) / n,
      far = inner < 1 && i % 2 === 1 ? inner : 1;
    paths.corner(far * Math.cos(a), far * Math.sin(a), r, g, b);
  }
  paths.end();
}
/** Corners with which a ring is round to a hundredth of its size. */
export const RING_CORNERS = 48;
export const addRing = (paths: LaserPaths, ray: Ray): void => addPolygon(paths, RING_CORNERS, 1, ray);

/** A wave across the field. @param row - heights from −1 to 1, one for each place from the left; two or more */
export function addWave(paths: LaserPaths, row: ArrayLike<number>, [r, g, b]: Ray): void {
  paths.begin();
  for (let i = 0; i < row.length; i++) paths.corner((2 * i) / (row.length - 1) - 1, row[i]!, r, g, b);
  paths.end();
}
export function addText(paths: LaserPaths, text: string, [r, g, b]: Ray): void {
  for (const run of textStrokes(text)) {
    paths.begin();
    for (let i = 0; i < run.length; i += 2) paths.corner(run[i]!, run[i + 1]!, r, g, b);
    paths.end();
  }
}
/** Places of dots or beams, side by side or round a ring: what is drawn there is a small loop, so that none stands still. */
export function addDots(paths: LaserPaths, count: number, round: boolean, [r, g, b]: Ray): void {
  for (let i = 0; i < count; i++) {
    const a = Math.PI / 2 - (2 * Math.PI * i) / count,
      x = round ? Math.cos(a) : count > 1 ? (2 * i) / (count - 1) - 1 : 0,
      y = round ? Math.sin(a) : 0;
    paths.begin();
    for (let k = 0; k < 2; k++) paths.corner(x, y, r, g, b);
  }
  paths.end();
}
/** Lines across and up. */
export function addGrid(paths: LaserPaths, across: number, up: number, [r, g, b]: Ray): void {
  const place = (i: number, n: number): number => (n > 1 ? (2 * i) / (n - 1) - 1 : 0);
  for (let i = 0; i < across; i++) {
    paths.begin();
    paths.corner(place(i, across), -1, r, g, b);
    paths.corner(place(i, across), 1, r, g, b);
  }
  for (let i = 0; i < up; i++) {
    paths.begin();
    paths.corner(-1, place(i, up), r, g, b);
    paths.corner(1, place(i, up), r, g, b);
  }
  paths.end();
}
