import { PICTURE_HEIGHT, PICTURE_WIDTH, figureBox } from './kinds';
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
  { form, at }: Pick<Figure, 'form' | 'at'>,
  rest: (parameter: string, otherwise: number) => number = (_, otherwise) => otherwise,
): Bounds {
  const b = figureBox(form),
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
  const w = b.width * length * size,
    h = b.height * tall * size;
  return { x: at.x - w * b.anchorX, y: at.y - h * b.anchorY, w, h };
}

/** What was drawn to what: the shift, and the lines that it came to lie on. */
export interface Snapped {
  readonly dx: number;
  readonly dy: number;
  readonly lineX: number | null;
  readonly lineY: number | null;
}

/** Draws a box to the middle and the edges of the picture and of others, the nearest first, each way by itself. */
export function snap(box: Bounds, others: readonly Bounds[], reach = SNAP): Snapped {
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
    [PICTURE_WIDTH / 2, 0, PICTURE_WIDTH, ...others.flatMap((o) => [o.x + o.w / 2, o.x, o.x + o.w])],
  );
  const y = way(
    [box.y + box.h / 2, box.y, box.y + box.h],
    [PICTURE_HEIGHT / 2, 0, PICTURE_HEIGHT, ...others.flatMap((o) => [o.y + o.h / 2, o.y, o.y + o.h])],
  );
  return { dx: x.by, dy: y.by, lineX: x.line, lineY: y.line };
}
