import { type Anchor, anchorPlace } from './anchors';
import {
  figureBox,
  type FigureBox,
  type FigureForm,
  PICTURE_SIZE,
  SOLID_EDGE,
  type SurfaceSize,
} from './kinds';
import type { Figure } from '../show/types';

/** How near, in picture pixels, something must come before it is drawn to a line. */
export const SNAP = 8;
export interface Bounds {
  readonly x: number;
  readonly y: number;
  readonly w: number;
  readonly h: number;
}

/** The box in which a figure stands at rest. @param rest - what a parameter of it rests at, or the second where it has none of that name */
export function boundsOf(
  figure: Pick<Figure, 'form' | 'at' | 'anchor'>,
  rest: (parameter: string, otherwise: number) => number = (_, otherwise) => otherwise,
  surface: SurfaceSize = PICTURE_SIZE,
): Bounds {
  const { form, at } = figure,
    b = boxOf(figure, surface),
    size = rest('size', 1);
  const length =
    form.kind === 'copies' || form.kind === 'bars' || form.kind === 'waveform'
      ? rest('length', b.width) / (form.kind === 'bars' ? 640 : 760)
      : 1;
  const tall =
    form.kind === 'bars'
      ? rest('tall', b.height) / b.height
      : (form.kind === 'copies' && form.along !== 'line') || (form.kind === 'waveform' && form.round)
        ? length
        : 1;
  const axes = hasAxes(form);
  const w = b.width * length * size * (axes ? rest('wide', 1) : 1),
    h = b.height * tall * size * (axes ? rest('tall', 1) : 1);
  return { x: at.x - w * b.anchorX, y: at.y - h * b.anchorY, w, h };
}

/** Whether it is stretched along each axis by itself. */
function hasAxes({ kind }: FigureForm): boolean {
  return ANCHORED.includes(kind);
}
const ANCHORED: readonly FigureForm['kind'][] = ['solid', 'model', 'image', 'video', 'camera', 'text'];

/** Which of its nine points a figure grows from; null where that is not to be chosen. */
export function anchorOf({ form, anchor }: Pick<Figure, 'form' | 'anchor'>): Anchor | null {
  if (form.kind === 'solid' || form.kind === 'model') return form.anchor;
  return ANCHORED.includes(form.kind) ? (anchor ?? 'middle') : null;
}
/** The box of a figure, with the point that it grows from. */
export function boxOf(
  figure: Pick<Figure, 'form' | 'anchor'>,
  surface: SurfaceSize = PICTURE_SIZE,
): FigureBox {
  const box = figureBox(figure.form, surface),
    anchor = anchorOf(figure);
  if (!anchor) return box;
  const [anchorX, anchorY] = anchorPlace(anchor);
  return { ...box, anchorX, anchorY };
}

/**
 * What becomes of a figure that grows from another of its points and stays where it is seen.
 * @param rest - what a parameter of it rests at, or the second where it has none of that name
 */
export function moveAnchor(
  figure: Pick<Figure, 'form' | 'at' | 'anchor'>,
  to: Anchor,
  rest: (parameter: string, otherwise: number) => number,
): Pick<Figure, 'form' | 'at'> | Pick<Figure, 'anchor' | 'at'> {
  const { form, at } = figure,
    was = anchorOf(figure);
  if (!was || was === to) return { form, at };
  // A solid's box has air about it, for what leans out of it.
  const solid = form.kind === 'solid' || form.kind === 'model',
    box = solid ? { width: SOLID_EDGE, height: SOLID_EDGE } : figureBox(form);
  const [ax, ay] = anchorPlace(was),
    [bx, by] = anchorPlace(to),
    size = rest('size', 1),
    x = (bx - ax) * box.width * size * rest('wide', 1),
    y = (by - ay) * box.height * size * rest('tall', 1),
    turn = (rest('turn', 0) * Math.PI) / 180;
  const moved = {
    x: Math.round(at.x + x * Math.cos(turn) - y * Math.sin(turn)),
    y: Math.round(at.y + x * Math.sin(turn) + y * Math.cos(turn)),
  };
  return solid ? { at: moved, form: { ...form, anchor: to } } : { at: moved, anchor: to };
}

/** What was drawn to what: the shift, and the lines that it came to lie on. */
export interface Snapped {
  readonly dx: number;
  readonly dy: number;
  readonly lineX: number | null;
  readonly lineY: number | null;
}

/** Draws a box to the middle and the edges of its surface and of others, the nearest first, each way by itself. */
export function snap(
  box: Bounds,
  others: readonly Bounds[],
  { width, height }: SurfaceSize = PICTURE_SIZE,
  reach = SNAP,
): Snapped {
  const way = (own: readonly number[], lines: readonly number[]): { by: number; line: number | null } => {
    let best = { by: 0, line: null as number | null },
      near = reach;
    for (const line of lines)
      for (const x of own) {
        const far = Math.abs(line - x);
        if (far < near) {
          near = far;
          best = { by: line - x, line };
        }
      }
    return best;
  };
  const x = way(
    [box.x + box.w / 2, box.x, box.x + box.w],
    [width / 2, 0, width, ...others.flatMap((o) => [o.x + o.w / 2, o.x, o.x + o.w])],
  );
  const y = way(
    [box.y + box.h / 2, box.y, box.y + box.h],
    [height / 2, 0, height, ...others.flatMap((o) => [o.y + o.h / 2, o.y, o.y + o.h])],
  );
  return { dx: x.by, dy: y.by, lineX: x.line, lineY: y.line };
}
