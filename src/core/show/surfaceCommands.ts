import type { Draft } from 'immer';
import { copyName, find, freeId, freeIds, freeName } from './commands';
import type { Command } from './history';
import { PICTURE_SURFACE, surfaceIdOf, surfaceOfThing } from './surfaces';
import { listsOf } from './things';
import {
  WHOLE_PICTURE,
  type Figure,
  type FigureGroup,
  type Finish,
  type Overlay,
  type Route,
  type Show,
} from './types';

/** Copies of what is drawn, on its own surface or another, and the overlays themselves. */

/**
 * A figure once more, with finishes and routes of its own that do the same: beside the first, or on another surface in the same place.
 * @returns its id
 */
export function duplicateFigure(
  show: Show,
  id: string,
  surface?: string,
): { readonly command: Command; readonly figure: string } | null {
  const figure = show.figures.find((f) => f.id === id);
  if (!figure) return null;
  const elsewhere = surface !== undefined && surface !== surfaceIdOf(figure);
  const copies = new Map([[id, freeId(show, id.replace(/-\d+$/, ''))]]);
  const more = withItsMoving(show, copies);
  // A twin cannot follow an original on another surface: there it is a figure of its own.
  const own = elsewhere && figure.twin ? show.figures.find((f) => f.id === figure.twin!.of) : undefined;
  return {
    figure: copies.get(id)!,
    command: (d) => {
      const { surface: _, ...plain } = figure;
      d.figures.splice(elsewhere ? d.figures.length : d.figures.findIndex((f) => f.id === id) + 1, 0, {
        ...(elsewhere ? plain : figure),
        id: copies.get(id)!,
        name: elsewhere ? freeName(show.figures, figure.name) : copyName(show.figures, figure.name),
        at: elsewhere ? figure.at : { x: figure.at.x + 60, y: figure.at.y },
        ...(elsewhere && { group: null, twin: null }),
        ...(elsewhere && surface !== WHOLE_PICTURE && { surface }),
        ...(own && { rest: { ...own.rest, ...figure.rest } }),
      } as Draft<Figure>);
      more(d);
    },
  };
}
/** Copies of the finishes on things that are copied, and of all routes to any of them. @param copies - ids of things by those that they are copies of; finishes are added */
function withItsMoving(show: Show, copies: Map<string, string>): Command {
  const taken = new Set([...listsOf(show).flatMap((list) => list.map((x) => x.id)), ...copies.values()]);
  const fresh = (kind: string): string => {
    for (let n = 1; ; n++)
      if (!taken.has(`${kind}-${n}`)) {
        taken.add(`${kind}-${n}`);
        return `${kind}-${n}`;
      }
  };
  const finishes = show.finishes
    .filter((f) => copies.has(f.on))
    .map((f): Finish => {
      const copy = fresh(f.form.kind);
      copies.set(f.id, copy);
      return { ...f, id: copy, on: copies.get(f.on)! };
    });
  const routes = show.routes
    .filter((r) => copies.has(r.target.thing))
    .map((r): Route => ({
      ...r,
      id: fresh('route'),
      target: { ...r.target, thing: copies.get(r.target.thing)! },
    }));
  return (d) => {
    d.finishes.push(...(finishes as Draft<Finish>[]));
    for (const r of routes) d.routes.push(r as Draft<Route>);
  };
}
/** A group of figures once more on another surface, with what is on it and what moves it. @returns its id */
export function copyGroup(
  show: Show,
  id: string,
  surface: string,
): { readonly command: Command; readonly group: string } | null {
  const group = show.figureGroups.find((g) => g.id === id);
  if (!group) return null;
  const members = show.figures.filter((f) => f.group === id),
    copies = new Map<string, string>();
  for (const x of [group, ...members]) {
    const taken = new Set(copies.values()),
      next = freeIds(show, x.id.replace(/-\d+$/, ''));
    let free = next();
    while (taken.has(free)) free = next();
    copies.set(x.id, free);
  }
  const more = withItsMoving(show, copies);
  return {
    group: copies.get(id)!,
    command: (d) => {
      const on = surface === WHOLE_PICTURE ? {} : { surface };
      const { surface: _, ...bare } = group;
      d.figureGroups.push({
        ...bare,
        ...on,
        id: copies.get(id)!,
        name: freeName(show.figureGroups, group.name),
      } as Draft<FigureGroup>);
      for (const { surface: __, ...f } of members)
        d.figures.push({
          ...f,
          ...on,
          id: copies.get(f.id)!,
          name: freeName(d.figures, f.name),
          group: copies.get(id)!,
          twin: f.twin && copies.has(f.twin.of) ? { ...f.twin, of: copies.get(f.twin.of)! } : null,
        } as Draft<Figure>);
      more(d);
    },
  };
}
/** A finish once more, on another thing, moved as the first is. @returns its id */
export function copyFinish(
  show: Show,
  id: string,
  on: string,
): { readonly command: Command; readonly finish: string } | null {
  const finish = show.finishes.find((f) => f.id === id);
  if (!finish) return null;
  const copy = freeId(show, finish.form.kind),
    more = withItsMoving(show, new Map([[id, copy]]));
  return {
    finish: copy,
    command: (d) => {
      d.finishes.push({ ...finish, id: copy, on } as Draft<Finish>);
      more(d);
    },
  };
}

/** A twin: it looks and moves as its original does in everything that it does not override. */
export function twinFigure(
  show: Show,
  id: string,
  mirrored: boolean,
): { readonly command: Command; readonly figure: string } | null {
  const figure = show.figures.find((f) => f.id === id);
  if (!figure) return null;
  const { width } = surfaceOfThing(show, id) ?? PICTURE_SURFACE;
  const twin = freeId(show, `${figure.id.replace(/-(twin-)?\d+$/, '')}-twin`);
  return {
    figure: twin,
    command: (d) => {
      d.figures.splice(d.figures.findIndex((f) => f.id === id) + 1, 0, {
        id: twin,
        name: freeName(show.figures, `${figure.name}’s twin`),
        form: figure.form,
        at: { x: mirrored ? width - figure.at.x : figure.at.x + 120, y: figure.at.y },
        hidden: false,
        locked: false,
        group: figure.group,
        ...(figure.surface !== undefined && { surface: figure.surface }),
        ...(figure.anchor && { anchor: figure.anchor }),
        ...(figure.ramp && { ramp: figure.ramp }),
        ...(figure.cover !== undefined && { cover: figure.cover }),
        blend: figure.blend,
        rest: {},
        twin: { of: id, mirrored },
      } as Draft<Figure>);
    },
  };
}
export const addOverlay =
  (overlay: Overlay): Command =>
  (d) => {
    d.overlays.push(overlay as Draft<Overlay>);
  };
export const changeOverlay =
  (
    id: string,
    change: Partial<Pick<Overlay, 'width' | 'height' | 'ground' | 'still' | 'lagMs' | 'delayMs'>>,
  ): Command =>
  (d) => {
    const x = find(d.overlays, id);
    if (x) Object.assign(x, change);
  };
