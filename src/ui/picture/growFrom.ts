import { type Anchor, figureParameters, moveAnchor } from '../../core/figures';
import { changeFigure, type Figure, restOf } from '../../core/show';
import { edit } from '../state/session';

/** Lets a figure grow from another of its points; where it is seen it stays. @param mark - of a drag */
export function growFrom(figure: Figure, to: Anchor, mark: string | null = null): void {
  const moved = moveAnchor(figure, to, (id, otherwise) => {
    const p = figureParameters(figure.form.kind).find((x) => x.id === id);
    return p ? (restOf(figure, p) as number) : otherwise;
  });
  edit(`let ${figure.name} grow from its ${to}`, changeFigure(figure.id, moved), mark);
}
