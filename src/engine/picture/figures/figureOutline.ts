import { type FigureForm, PLATE_HEIGHT, PLATE_WIDTH, SOLID_EDGE, TEXT_HEIGHT } from '../../../core/figures';
import { textStrokes } from '../../../core/laser';
import { box, disc, type Point } from '../outline';
import { layersOf } from './forms';

/** So many of a shape's outlines are drawn by a laser: the largest ones. */
const OUTLINES_MOST = 6;

/**
 * What a figure of the picture is cut along, about its anchor, in picture pixels: closed runs of x and y. Null where it has no outline
 * that stays: what is many, or moves by itself.
 */
export function figureOutline(form: FigureForm): readonly number[][] | null {
  switch (form.kind) {
    case 'print':
      return largest(layersOf(form.form).flatMap((l) => l.outlines));
    case 'solid':
      return form.shape === 'box' || form.shape === 'plate'
        ? [closed(box(-SOLID_EDGE / 2, -SOLID_EDGE / 2, SOLID_EDGE, SOLID_EDGE))]
        : form.shape === 'cone'
          ? [
              closed([
                [-SOLID_EDGE / 2, -SOLID_EDGE / 2],
                [SOLID_EDGE / 2, -SOLID_EDGE / 2],
                [0, SOLID_EDGE / 2],
              ]),
            ]
          : [closed(disc(0, 0, SOLID_EDGE / 2))];
    case 'dial':
      return [closed(disc(0, 0, SOLID_EDGE / 2))];
    case 'text':
      return textStrokes(form.text.split('\n')[0] ?? '').map((run) => run.map((x) => x * TEXT_SCALE));
    case 'image':
    case 'video':
    case 'camera':
      return [closed(box(-PLATE_WIDTH / 2, -PLATE_HEIGHT / 2, PLATE_WIDTH, PLATE_HEIGHT))];
    default:
      return null;
  }
}
/** A line of text as the laser's letters write it fills a field; here it is about as wide as the picture would set it. */
const TEXT_SCALE = TEXT_HEIGHT * 4;

const closed = (points: readonly Point[]): number[] => [...points, points[0]!].flat();
function largest(outlines: readonly (readonly Point[])[]): number[][] {
  const size = (o: readonly Point[]): number => {
    const xs = o.map(([x]) => x),
      ys = o.map(([, y]) => y);
    return Math.max(...xs) - Math.min(...xs) + Math.max(...ys) - Math.min(...ys);
  };
  return [...outlines]
    .sort((a, b) => size(b) - size(a))
    .slice(0, OUTLINES_MOST)
    .map(closed);
}
