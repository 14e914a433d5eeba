import { describe, expect, it } from '@jest/globals';
import { ferryShow } from '../ferry/show';
import { FINISH_KINDS } from '../finishes/kinds';
import { seeded } from '../random';
import { newScreen } from '../screens/screen';
import { removeThing, renameThing, setRest } from './commands';
import { duplicateFigure, twinFigure } from './surfaceCommands';
import { apply, newHistory, redo, undo, type Command, type History } from './history';
import {
  addFinish,
  addScreen,
  changeFigureGroup,
  changeScreen,
  groupFigures,
  joinGroup,
  orderFigure,
  orderFinish,
  removeScreen,
  setBudget,
  setFlashLimit,
  setRests,
  shiftFigure,
} from './pictureCommands';
import { findParameter } from './things';
import { parseShow } from './schema';
import type { Show } from './types';

const hash = 'a'.repeat(64);
const ferry = ferryShow({
  stems: { lowDrum: hash, snareDrum: hash, shaker: hash, bell: hash, voice: hash },
  badge: hash,
  tune: hash,
});

/** Any edit of the picture, as a hand might make it. */
function anyEdit(show: Show, random: () => number): Command | null {
  const one = <T>(list: readonly T[]): T | undefined => list[Math.floor(random() * list.length)];
  const figure = one(show.figures)?.id ?? '',
    other = one(show.figures)?.id ?? '',
    group = one(show.figureGroups)?.id ?? null,
    finish = one(show.finishes),
    screen = one(show.screens)?.id ?? '';
  // A ground has no place of its own.
  const stands =
    findParameter(show, { thing: figure, parameter: 'height' }) !== null &&
    findParameter(show, { thing: figure, parameter: 'across' }) !== null;
  switch (Math.floor(random() * 16)) {
    case 0:
      return groupFigures(show, [figure, other]).command;
    case 1:
      return joinGroup([figure], group);
    case 2:
      return shiftFigure(figure, random() < 0.5 ? 1 : -1);
    case 3:
      return orderFigure(figure, other);
    case 4:
      return duplicateFigure(show, figure)?.command ?? null;
    case 5:
      return twinFigure(show, figure, random() < 0.5)?.command ?? null;
    case 6:
      return show.figures.length > 4 ? removeThing(figure) : null;
    case 7:
      return addFinish(show, random() < 0.5 ? figure : (group ?? figure), one(FINISH_KINDS)!).command;
    case 8:
      return finish
        ? orderFinish(finish.id, one(show.finishes.filter((f) => f.on === finish.on))?.id ?? null)
        : null;
    case 9:
      return finish ? removeThing(finish.id) : null;
    case 10:
      return group
        ? changeFigureGroup(group, { hidden: random() < 0.5, locked: random() < 0.5, blend: 'add' })
        : null;
    case 11:
      return !stands
        ? null
        : setRests(figure, { height: Math.round(random() * 100), across: Math.round(random() * 100) });
    case 12:
      return !stands ? null : setRest({ thing: figure, parameter: 'height' }, Math.round(random() * 50));
    case 13:
      return show.screens.length < 5
        ? addScreen(newScreen(`screen-${Math.floor(random() * 1e9)}`, 'Another'))
        : removeScreen(screen);
    case 14:
      return changeScreen(screen, { turn: 90, delayMs: Math.round(random() * 400) });
    default:
      return random() < 0.4
        ? renameThing(figure, `n${Math.floor(random() * 99)}`)
        : random() < 0.5
          ? setFlashLimit(random() < 0.5 ? null : 3 + Math.floor(random() * 28))
          : setBudget({ framesPerSecond: 20 + Math.floor(random() * 40), on: random() < 0.5 });
  }
}

describe('random edits of the picture', () => {
  it.each([1, 2, 3, 4, 5, 6])(
    'leave a whole show, with each group in one piece and none empty; all of it can be undone and redone (%i)',
    (seed) => {
      const random = seeded(seed);
      let h: History = newHistory(ferry),
        edits = 0;
      for (let i = 0; i < 200; i++) {
        const edit = anyEdit(h.show, random);
        if (!edit) continue;
        h = apply(h, 'edit', edit);
        edits++;
        const { figures, figureGroups, finishes } = h.show,
          groups = figures.map((f) => f.group);
        // Where a group ends it does not begin again.
        const runs = groups.filter((g, k) => g !== null && g !== groups[k - 1]);
        expect(runs.length).toBe(new Set(runs).size);
        expect(new Set(runs)).toEqual(new Set(figureGroups.map((g) => g.id)));
        const things = new Set([...figures, ...figureGroups].map((x) => x.id));
        expect(finishes.every((f) => f.on === 'picture' || things.has(f.on))).toBe(true);
        expect(new Set([...figures, ...figureGroups, ...finishes].map((x) => x.id)).size).toBe(
          figures.length + figureGroups.length + finishes.length,
        );
      }
      expect(edits).toBeGreaterThan(100);
      // What was edited can be saved, and read again as the same.
      expect(parseShow(JSON.parse(JSON.stringify(h.show)))).toEqual(h.show);
      const last = h.show;
      while (h.past.length > 0) h = undo(h);
      expect(h.show).toEqual(ferry);
      while (h.future.length > 0) h = redo(h);
      expect(h.show).toEqual(last);
    },
  );
});

describe('a figure once more', () => {
  it('has finishes and routes of its own that do the same', () => {
    const blurred = addFinish(ferry, 'ferry', 'blur'),
      withBlur = apply(newHistory(ferry), '', blurred.command).show;
    const show: Show = {
      ...withBlur,
      routes: [
        ...withBlur.routes,
        { ...withBlur.routes[0]!, id: 'to-blur', target: { thing: blurred.finish, parameter: 'radius' } },
      ],
    };
    const made = duplicateFigure(show, 'ferry')!,
      h = apply(newHistory(show), '', made.command),
      copy = h.show.finishes.filter((f) => f.on === made.figure);
    expect(copy.map((f) => [f.form, f.rest])).toEqual(
      show.finishes.filter((f) => f.on === 'ferry').map((f) => [f.form, f.rest]),
    );
    const aims = (s: Show, figure: string): string[] =>
      s.routes
        .filter((r) => r.target.thing === figure)
        .map((r) => `${r.signal} ${r.target.parameter} ${r.reach}`);
    expect(aims(h.show, made.figure)).toEqual(aims(show, 'ferry'));
    expect(aims(h.show, copy[0]!.id)).toEqual(aims(show, blurred.finish));
    expect(undo(h).show).toEqual(show);
  });
});

describe('a group whose last figure goes', () => {
  it('goes with its finishes, and comes back with them', () => {
    const made = groupFigures(ferry, ['stars', 'moon']),
      grouped = apply(newHistory(ferry), '', made.command).show;
    const h0 = apply(newHistory(grouped), '', addFinish(grouped, made.group, 'glow').command),
      without = ['stars', 'moon'].reduce((h, id) => apply(h, '', removeThing(id)), h0);
    expect(without.show.figureGroups).toEqual(ferry.figureGroups);
    expect(without.show.finishes).toEqual(ferry.finishes);
    expect(undo(undo(without)).show).toEqual(h0.show);
  });
});
