import {
  type Anchor,
  anchorPlace,
  ANCHORS,
  type Bounds,
  boundsOf,
  figureParameters,
  type SurfaceSize,
} from '../../core/figures';
import { changeFigureGroup, type Figure, type FigureGroup, restOf } from '../../core/show';
import { edit } from '../state/session';

/** The box in which a figure stands at rest. */
export function restBounds(f: Figure, surface: SurfaceSize): Bounds {
  const rest = (id: string, otherwise: number): number => {
    const p = figureParameters(f.form.kind).find((x) => x.id === id);
    // The size of these is that of each of many.
    const each = id === 'size' && (f.form.kind === 'stars' || f.form.kind === 'lanterns');
    return p && !each ? (restOf(f, p) as number) : otherwise;
  };
  return boundsOf(f, rest, surface);
}

/** The box around several. */
export function boxAround(boxes: readonly Bounds[]): Bounds {
  const x = Math.min(...boxes.map((b) => b.x)),
    y = Math.min(...boxes.map((b) => b.y));
  return {
    x,
    y,
    w: Math.max(...boxes.map((b) => b.x + b.w)) - x,
    h: Math.max(...boxes.map((b) => b.y + b.h)) - y,
  };
}
const at = ({ x, y, w, h }: Bounds, anchor: Anchor): { x: number; y: number } => {
  const [ax, ay] = anchorPlace(anchor);
  return { x: Math.round(x + ax * w), y: Math.round(y + ay * h) };
};

/** Which of the nine points of its figures' box a group grows from; null for the surface's middle, or any other place. */
export function groupAnchor({ pivot }: FigureGroup, box: Bounds): Anchor | null {
  if (!pivot) return null;
  return (
    ANCHORS.find((a) => {
      const p = at(box, a);
      return Math.hypot(p.x - pivot.x, p.y - pivot.y) < 1.5;
    }) ?? null
  );
}
/** Lets a group grow from a point of its figures' box, or (null) from the surface's middle. */
export function groupGrowsFrom(
  group: FigureGroup,
  box: Bounds,
  anchor: Anchor | null,
  mark: string | null = null,
): void {
  edit(
    anchor ? `let ${group.name} grow from its ${anchor}` : `let ${group.name} grow from the middle of all`,
    changeFigureGroup(group.id, { pivot: anchor ? at(box, anchor) : null }),
    mark,
  );
}
