import type { Draft } from 'immer';
import type { Anchor } from '../figures/anchors';
import type { AppearWay } from '../finishes/kinds';
import { anchorOf, boundsOf as boundsOfFigure, moveAnchor } from '../figures/snap';
import type { LearnedFit } from '../shaping/learnFit';
import { freeIds, freeName, newRoute } from './commands';
import type { Command } from './history';
import { boundsOf, type Signal } from './signals';
import { PICTURE_SURFACE, surfaceOfThing } from './surfaces';
import { findParameter } from './things';
import type { Finish, Route, Show } from './types';

/** Moves that are made in one press: each leaves ordinary routes behind. */

export const BUMP_AXES = ['both', 'wide', 'tall'] as const;
export interface Bump {
  /** Levels between which it grows, in the signal's own measure; null: fitted to what is heard. */
  readonly levels: LearnedFit | null;
  /** Its size below the lower level, and at the upper. */
  readonly smallest: number;
  readonly largest: number;
  readonly axes: (typeof BUMP_AXES)[number];
  /** What stays where it is; null: as it is. */
  readonly anchor: Anchor | null;
  /** It shrinks where it would grow. */
  readonly downwards: boolean;
  /** How quickly it grows and goes back. */
  readonly attackMs: number;
  readonly releaseMs: number;
}
export const USUAL_BUMP: Bump = {
  levels: null,
  smallest: 1,
  largest: 1.25,
  axes: 'both',
  anchor: null,
  downwards: false,
  attackMs: 12,
  releaseMs: 180,
};

/** Whether something can grow that way. */
export function canBump(show: Show, thing: string, axes: Bump['axes']): boolean {
  return findParameter(show, { thing, parameter: axes === 'both' ? 'size' : axes }) !== null;
}
/**
 * Lets something grow and shrink with a signal. What moved those axes of it until now is taken away.
 * @param heard - what was heard of the signal of late @throws Error for what cannot grow that way
 */
export function bump(
  show: Show,
  thing: string,
  signal: Signal,
  { levels, smallest, largest, axes, anchor, downwards, attackMs, releaseMs }: Bump,
  heard: LearnedFit | null = null,
): { readonly command: Command; readonly route: string } {
  const parameter = axes === 'both' ? 'size' : axes,
    end = findParameter(show, { thing, parameter });
  if (!end) throw new Error(`bump: ${thing} has no ${parameter}`);
  const made = newRoute(
    freeIds(show, 'route')(),
    signal,
    { thing, parameter },
    end.parameter,
    levels ?? heard,
    boundsOf(show, signal),
  );
  const route: Route = {
    ...made,
    reach: downwards ? smallest : largest,
    shaping: {
      ...made.shaping,
      ...(levels && { fit: { mode: 'hand', low: levels.low, high: levels.high } }),
      ...(!made.shaping.strike && { smooth: { attackMs, releaseMs } }),
    },
  };
  return {
    route: route.id,
    command: (d) => {
      d.routes = d.routes.filter((r) => r.target.thing !== thing || r.target.parameter !== parameter);
      const figure = d.figures.find((f) => f.id === thing),
        group = d.figureGroups.find((g) => g.id === thing);
      if (figure && anchor && anchorOf(figure))
        Object.assign(
          figure,
          moveAnchor(figure, anchor, (p, otherwise) => {
            const x = figure.rest[p];
            return typeof x === 'number' ? x : otherwise;
          }),
        );
      const on = figure ?? group;
      if (on) on.rest[parameter] = downwards ? largest : smallest;
      d.routes.push(route as Draft<Route>);
    },
  };
}

export interface Appear {
  readonly way: AppearWay;
  /** In which it comes, and goes. */
  readonly inMs: number;
  readonly outMs: number;
  /** It stays for so long after. */
  readonly holdMs: number;
}
export const USUAL_APPEAR: Appear = { way: 'fade', inMs: 180, outMs: 700, holdMs: 400 };

/**
 * Lets something be there only while a signal lets it in, or for a while after each event of it. It is a finish and a route; one
 * that it has already is used again.
 */
export function appear(
  show: Show,
  thing: string,
  signal: Signal,
  { way, inMs, outMs, holdMs }: Appear,
): { readonly command: Command; readonly route: string; readonly finish: string } {
  const there = show.finishes.find((f) => f.on === thing && f.form.kind === 'appear');
  const surface = surfaceOfThing(show, thing) ?? PICTURE_SURFACE,
    middle = middleOf(show, thing);
  const finish: Finish = there ?? {
    id: freeIds(show, 'appear')(),
    name: freeName(
      show.finishes.filter((f) => f.on === thing),
      'Appears',
    ),
    form: { kind: 'appear', way },
    on: thing,
    off: false,
    rest: {
      middleX: Math.round(Math.min(100, Math.max(0, (middle.x / surface.width) * 100))),
      middleY: Math.round(Math.min(100, Math.max(0, (middle.y / surface.height) * 100))),
      ...(way === 'wipe' && { far: Math.round(middle.half) }),
    },
  };
  const with_: Show = there ? show : { ...show, finishes: [...show.finishes, finish] },
    target = { thing: finish.id, parameter: 'in' };
  const made = newRoute(
    freeIds(show, 'route')(),
    signal,
    target,
    findParameter(with_, target)!.parameter,
    null,
    boundsOf(show, signal),
  );
  const route: Route = {
    ...made,
    shaping: {
      ...made.shaping,
      ...(made.shaping.strike
        ? { strike: { ...made.shaping.strike, holdMs, fallMs: outMs } }
        : { hold: { ms: holdMs } }),
      smooth: { attackMs: inMs, releaseMs: made.shaping.strike ? 0 : outMs },
    },
  };
  return {
    route: route.id,
    finish: finish.id,
    command: (d) => {
      const old = d.finishes.find((f) => f.id === finish.id);
      if (old) old.form = { kind: 'appear', way };
      else d.finishes.push(finish as Draft<Finish>);
      d.routes = d.routes.filter((r) => r.target.thing !== finish.id || r.target.parameter !== 'in');
      d.routes.push(route as Draft<Route>);
    },
  };
}
/** Where something stands on its surface, and half of how wide it is. */
function middleOf(show: Show, thing: string): { x: number; y: number; half: number } {
  const group = show.figureGroups.find((g) => g.id === thing),
    figures = show.figures.filter((f) => f.id === thing || (group && f.group === group.id));
  if (figures.length === 0) return { x: 640, y: 360, half: 640 };
  const boxes = figures.map((f) => {
    const b = boundsOfFigure(f, (p, otherwise) => {
      const x = f.rest[p];
      return typeof x === 'number' ? x : otherwise;
    });
    return { from: b.x, to: b.x + b.w, y: b.y + b.h / 2 };
  });
  const from = Math.min(...boxes.map((b) => b.from)),
    to = Math.max(...boxes.map((b) => b.to));
  return { x: (from + to) / 2, y: boxes.reduce((s, b) => s + b.y, 0) / boxes.length, half: (to - from) / 2 };
}
