import type { FigureForm } from '../figures/kinds';
import { addEar, addFigure, addRoute, freeId, freeName, newRoute } from './commands';
import { apply, newHistory, type Command } from './history';
import { changeFigureGroup, groupFigures, newFigure } from './pictureCommands';
import { boundsOf, type Signal } from './signals';
import { PICTURE_SURFACE, surfaceOf, type Surface } from './surfaces';
import { findParameter } from './things';
import { WHOLE_PICTURE, type Ear, type Figure, type FigureGroup, type Show } from './types';

/** Builds a show edit by edit; the whole is one edit for whoever takes it over. */
export class Builder {
  show: Show;
  readonly #surface: string;

  /** @param surface - on which figures are drawn */
  constructor(show: Show, surface: string = WHOLE_PICTURE) {
    this.show = show;
    this.#surface = surface;
  }
  get surface(): Surface {
    return surfaceOf(this.show, this.#surface) ?? PICTURE_SURFACE;
  }
  do(command: Command): this {
    this.show = apply(newHistory(this.show), '', command).show;
    return this;
  }
  ear(name: string, input: string, listening: Ear['listening']): Ear {
    const ear: Ear = {
      id: freeId(this.show, 'ear'),
      name: freeName(this.show.ears, name),
      input,
      channel: 'sum',
      listening,
    };
    this.do(addEar(ear));
    return ear;
  }
  figure(name: string, form: FigureForm, x: number, y: number, rest: Figure['rest'] = {}): string {
    const id = freeId(this.show, 'figure');
    this.do(addFigure(newFigure(id, freeName(this.show.figures, name), form, { x, y }, rest, this.#surface)));
    return id;
  }
  /** @param pivot - what stays where it is while they grow */
  group(name: string, figures: readonly string[], pivot: NonNullable<FigureGroup['pivot']>): string {
    const { command, group } = groupFigures(this.show, figures);
    this.do(command)
      .do(changeFigureGroup(group, { pivot }))
      .do((d) => {
        d.figureGroups.find((g) => g.id === group)!.name = name;
      });
    return group;
  }
  route(signal: Signal, thing: string, parameter: string, reach?: number): string {
    const target = { thing, parameter },
      end = findParameter(this.show, target)!;
    const made = newRoute(
      freeId(this.show, 'route'),
      signal,
      target,
      end.parameter,
      null,
      boundsOf(this.show, signal),
    );
    this.do(addRoute(reach === undefined ? made : { ...made, reach }));
    return made.id;
  }
}
