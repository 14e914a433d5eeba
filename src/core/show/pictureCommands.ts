import type { Draft } from 'immer';
import { finishLabel, newFinishForm, type FinishForm, type FinishKind } from '../finishes/kinds';
import type { Budget } from '../figures/governor';
import type { FigureForm } from '../figures/kinds';
import type { ParameterValue } from '../parameters/description';
import type { Screen } from '../screens/screen';
import { dropEmptyGroups, freeId, freeName, moveBefore } from './commands';
import type { Command } from './history';
import { WHOLE_PICTURE, type Figure, type FigureGroup, type Finish, type Show } from './types';

/** Edits of the picture: figures, their groups, finishes and screens. */

/** A figure as it is first drawn. */
export function newFigure(
  id: string,
  name: string,
  form: FigureForm,
  at: Figure['at'],
  rest: Figure['rest'] = {},
  surface: string = WHOLE_PICTURE,
): Figure {
  const figure: Figure = {
    id,
    name,
    form,
    at,
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest,
  };
  return surface === WHOLE_PICTURE ? figure : { ...figure, surface };
}

const finishNamed = (show: Show, kind: FinishKind, on: string): string => {
  const name = finishLabel(kind);
  return freeName(
    show.finishes.filter((f) => f.on === on),
    `${name[0]!.toUpperCase()}${name.slice(1)}`,
  );
};
/** Puts a finish on a figure, a group or the whole picture, after those that are there. @returns its id */
export function addFinish(
  show: Show,
  on: string,
  kind: FinishKind,
): { readonly command: Command; readonly finish: string } {
  const finish: Finish = {
    id: freeId(show, kind),
    name: finishNamed(show, kind, on),
    form: newFinishForm(kind),
    on,
    off: false,
    rest: {},
  };
  return {
    finish: finish.id,
    command: (d) => {
      d.finishes.push(finish as Draft<Finish>);
    },
  };
}
export const changeFinish =
  (id: string, change: { off?: boolean; form?: FinishForm }): Command =>
  (d) => {
    const x = d.finishes.find((f) => f.id === id);
    if (x) Object.assign(x, change);
  };
/** Moves a finish to before another of the same thing, or (null) to the end. */
export const orderFinish =
  (id: string, before: string | null): Command =>
  (d) => {
    moveBefore(d.finishes, id, before);
  };

/** Puts figures into a group of their own, standing together where the frontmost of them stands. @returns its id */
export function groupFigures(
  show: Show,
  ids: readonly string[],
): { readonly command: Command; readonly group: string } {
  const { surface } = show.figures.find((f) => ids.includes(f.id)) ?? {};
  const group: FigureGroup = {
    ...(surface !== undefined && { surface }),
    id: freeId(show, 'sheet'),
    name: freeName(show.figureGroups, 'Group'),
    hidden: false,
    locked: false,
    blend: 'over',
    rest: {},
  };
  return {
    group: group.id,
    command: (d) => {
      d.figureGroups.push(group as Draft<FigureGroup>);
      joinGroup(ids, group.id)(d);
    },
  };
}
/** Puts figures into a group, or (null) takes them out of theirs. A group's figures always stand together in the row. */
export const joinGroup =
  (ids: readonly string[], group: string | null): Command =>
  (d) => {
    const surface = d.figureGroups.find((g) => g.id === group)?.surface;
    for (const f of d.figures)
      if (ids.includes(f.id) && (group === null || f.surface === surface)) f.group = group;
    d.figures = together(d.figures);
    dropEmptyGroups(d);
  };
export const changeFigureGroup =
  (id: string, change: Partial<Pick<FigureGroup, 'hidden' | 'locked' | 'blend' | 'pivot'>>): Command =>
  (d) => {
    const x = d.figureGroups.find((g) => g.id === id);
    if (x) Object.assign(x, change);
  };

/** The same figures with those of each group one after the other, where the frontmost of them is. */
export function together<T extends { readonly id: string; readonly group: string | null }>(
  figures: readonly T[],
): T[] {
  const last = new Map<string, number>(),
    members = new Map<string, T[]>();
  figures.forEach((f, i) => {
    if (f.group === null) return;
    last.set(f.group, i);
    const list = members.get(f.group);
    if (list) list.push(f);
    else members.set(f.group, [f]);
  });
  return figures.flatMap((f, i) =>
    f.group === null ? [f] : last.get(f.group) === i ? members.get(f.group)! : [],
  );
}

/** Puts those figures that share a surface with one of them in another order; all others stay in their places. */
function reorder(
  d: Draft<Show>,
  id: string,
  change: (figures: Draft<Figure>[], figure: Draft<Figure>) => Draft<Figure>[],
): void {
  const figure = d.figures.find((f) => f.id === id);
  if (!figure) return;
  const own = d.figures.filter((f) => f.surface === figure.surface),
    next = change(own, figure);
  let i = 0;
  d.figures = d.figures.map((f) => (f.surface === figure.surface ? next[i++]! : f));
}

/** Moves a figure one place back or forward; one that leaves its group's place leaves the group behind only by `joinGroup`. */
export const shiftFigure =
  (id: string, by: 1 | -1): Command =>
  (d) =>
    reorder(d, id, (figures, figure) => {
      const next = figures[figures.indexOf(figure) + by];
      if (!next) return figures;
      // Within its group it changes places with its neighbour; otherwise it passes a whole group at once, and a group is passed whole.
      const same = next.group === figure.group && figure.group !== null;
      const moving =
        same || figure.group === null ? [figure] : figures.filter((f) => f.group === figure.group);
      const edge = by > 0 ? figures.indexOf(moving.at(-1)!) + 1 : figures.indexOf(moving[0]!) - 1;
      const over = figures[edge];
      if (!over) return figures;
      const passed =
        same || over.group === null || over.group === figure.group
          ? [over]
          : figures.filter((f) => f.group === over.group);
      const rest = figures.filter((f) => !moving.includes(f));
      const at = by > 0 ? rest.indexOf(passed.at(-1)!) + 1 : rest.indexOf(passed[0]!);
      return [...rest.slice(0, at), ...moving, ...rest.slice(at)];
    });

/** Sets several rests of a thing at once, as a handle on the picture does. */
export const setRests =
  (id: string, rests: Readonly<Record<string, ParameterValue>>): Command =>
  (d) => {
    for (const list of [d.figures, d.figureGroups, d.finishes, d.overlays]) {
      const x = list.find((t) => t.id === id);
      if (x) Object.assign(x.rest, rests);
    }
  };

export const addScreen =
  (screen: Screen): Command =>
  (d) => {
    d.screens.push(screen as Draft<Screen>);
  };
export const changeScreen =
  (id: string, change: Partial<Omit<Screen, 'id'>>): Command =>
  (d) => {
    const x = d.screens.find((s) => s.id === id);
    if (x) Object.assign(x, change);
  };
export const removeScreen =
  (id: string): Command =>
  (d) => {
    d.screens = d.screens.filter((s) => s.id !== id);
  };
export const setFlashLimit =
  (limit: number | null): Command =>
  (d) => {
    d.flashLimit = limit;
  };

export const setBudget =
  (change: Partial<Budget>): Command =>
  (d) => {
    Object.assign(d.budget, change);
  };
/** Puts a figure where another is. One that comes to lie within a group joins it; one that leaves its group's place leaves the group. */
export const orderFigure =
  (id: string, where: string): Command =>
  (d) => {
    reorder(d, id, (figures, figure) => {
      const from = figures.indexOf(figure),
        to = figures.findIndex((f) => f.id === where);
      if (to < 0 || from === to) return figures;
      const next = figures.filter((f) => f !== figure);
      next.splice(to, 0, figure);
      const before = next[to - 1]?.group ?? null,
        after = next[to + 1]?.group ?? null;
      // At a group's edge it stays what it was.
      if (before !== null && before === after) figure.group = before;
      else if (figure.group !== before && figure.group !== after) figure.group = null;
      return together(next);
    });
    dropEmptyGroups(d);
  };
