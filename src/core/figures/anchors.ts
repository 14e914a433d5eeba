/** Nine points of a figure's box, one of which stays where it is while it grows or turns. */
export const ANCHORS = [
  'middle',
  'foot',
  'top',
  'left',
  'right',
  'lower left',
  'lower right',
  'upper left',
  'upper right',
] as const;
export type Anchor = (typeof ANCHORS)[number];

/** Where it lies in the box, in shares from its lower left. */
export function anchorPlace(anchor: Anchor): readonly [x: number, y: number] {
  const x = anchor.endsWith('left') ? 0 : anchor.endsWith('right') ? 1 : 0.5;
  const y =
    anchor === 'foot' || anchor.startsWith('lower')
      ? 0
      : anchor === 'top' || anchor.startsWith('upper')
        ? 1
        : 0.5;
  return [x, y];
}

/** The point that is nearest to a place in the box, in shares; places beyond its edges have one too. */
export function nearestAnchor(x: number, y: number): Anchor {
  let best: Anchor = 'middle',
    least = Infinity;
  for (const anchor of ANCHORS) {
    const [ax, ay] = anchorPlace(anchor),
      far = (ax - x) ** 2 + (ay - y) ** 2;
    if (far < least) {
      least = far;
      best = anchor;
    }
  }
  return best;
}
