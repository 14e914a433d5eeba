import type { Draft } from 'immer';
import type { LaserForm } from '../laser/kinds';
import { copyName, find, freeId, freeIds, freeName } from './commands';
import type { Command } from './history';
import type { LaserFigure, Route, Show } from './types';

/** Edits of what the laser draws. */

export const addLaserFigure =
  (figure: LaserFigure): Command =>
  (d) => {
    d.laserFigures.push(figure as Draft<LaserFigure>);
  };
export const changeLaserFigure =
  (id: string, change: Partial<Pick<LaserFigure, 'off'>> & { readonly form?: LaserForm }): Command =>
  (d) => {
    const x = find(d.laserFigures, id);
    if (!x) return;
    Object.assign(x, change);
    // A twin is of its original's kind.
    for (const twin of d.laserFigures) if (change.form && twin.twin?.of === id) twin.form = x.form;
  };
/** What comes last is given up first, where it is too much. @param by - places further on, or back */
export const moveLaserFigure =
  (id: string, by: number): Command =>
  (d) => {
    const at = d.laserFigures.findIndex((f) => f.id === id),
      to = Math.max(0, Math.min(d.laserFigures.length - 1, at + by));
    if (at < 0 || to === at) return;
    const [x] = d.laserFigures.splice(at, 1);
    d.laserFigures.splice(to, 0, x!);
  };
export const mirrorLaserTwin =
  (id: string, mirrored: boolean): Command =>
  (d) => {
    const x = find(d.laserFigures, id);
    if (x?.twin) x.twin.mirrored = mirrored;
  };

/** Once more, after the first, with routes of its own that do the same. @returns its id */
export function duplicateLaserFigure(
  show: Show,
  id: string,
): { readonly command: Command; readonly figure: string } | null {
  const figure = show.laserFigures.find((f) => f.id === id);
  if (!figure) return null;
  const copy = freeId(show, id.replace(/-\d+$/, '')),
    fresh = freeIds(show, 'route');
  const routes = show.routes
    .filter((r) => r.target.thing === id)
    .map((r): Route => ({ ...r, id: fresh(), target: { ...r.target, thing: copy } }));
  return {
    figure: copy,
    command: (d) => {
      const name = copyName(show.laserFigures, figure.name);
      insertAfter(d, id, { ...figure, id: copy, name });
      for (const r of routes) d.routes.push(r as Draft<Route>);
    },
  };
}
/** A twin: it does what its original does in everything that it does not override. @returns its id */
export function twinLaserFigure(
  show: Show,
  id: string,
  mirrored: boolean,
): { readonly command: Command; readonly figure: string } | null {
  const figure = show.laserFigures.find((f) => f.id === id);
  if (!figure) return null;
  const twin = freeId(show, `${id.replace(/-(twin-)?\d+$/, '')}-twin`);
  return {
    figure: twin,
    command: (d) =>
      insertAfter(d, id, {
        id: twin,
        name: freeName(show.laserFigures, `${figure.name}’s twin`),
        form: figure.form,
        off: false,
        rest: {},
        twin: { of: id, mirrored },
      }),
  };
}
function insertAfter(d: Draft<Show>, id: string, figure: LaserFigure): void {
  d.laserFigures.splice(d.laserFigures.findIndex((f) => f.id === id) + 1, 0, figure as Draft<LaserFigure>);
}
