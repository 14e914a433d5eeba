/** Outlines of cut shapes, in picture pixels, up being up. */
export type Point = readonly [x: number, y: number];

export function disc(cx: number, cy: number, radius: number, sides = 28, squash = 1): Point[] {
  return Array.from({ length: sides }, (_, i): Point => [
    cx + radius * Math.cos((i / sides) * 2 * Math.PI),
    cy + radius * squash * Math.sin((i / sides) * 2 * Math.PI),
  ]);
}
export function box(x: number, y: number, width: number, height: number): Point[] {
  return [
    [x, y],
    [x + width, y],
    [x + width, y + height],
    [x, y + height],
  ];
}
