import { current, type Draft } from 'immer';
import { type RowOrder, wayOver } from '../lights/rowOver';
import type { ParameterDescription, ParameterValue } from '../parameters/description';
import type { RampStop } from '../parameters/ramp';
import { clamp } from '../units';
import type { LearnedFit } from '../shaping/learnFit';
import type { Fit, Shaping } from '../shaping/steps';
import type { Command } from './history';
import { boundsOf, signalsOfEar, type Bounds, type Signal } from './signals';
import { findParameter, listsOf, restOf } from './things';
import {
  CAMERA_ID,
  WHOLE_PICTURE,
  type Ear,
  type Figure,
  type Input,
  type Maker,
  type Route,
  type RouteGroup,
  type SavedRamp,
  type SavedShape,
  type Show,
  type Target,
  type Tempo,
} from './types';

/** Every edit of a show goes through one of these. Each works on a draft; the history keeps its inverse. */

export function find<T extends { id: string }>(list: T[], id: string): T | undefined {
  return list.find((x) => x.id === id);
}
export function remove(list: { id: string }[], id: string): void {
  const at = list.findIndex((x) => x.id === id);
  if (at >= 0) list.splice(at, 1);
}
/** Moves one of a list to before another, or (null) to the end. */
export function moveBefore<T extends { id: string }>(list: T[], id: string, before: string | null): void {
  const from = list.findIndex((x) => x.id === id);
  if (from < 0 || before === id) return;
  const [one] = list.splice(from, 1);
  const to = before === null ? -1 : list.findIndex((x) => x.id === before);
  list.splice(to < 0 ? list.length : to, 0, one!);
}

export const renameShow =
  (name: string): Command =>
  (d) => {
    d.name = name;
  };
export const setTempo =
  (tempo: Partial<Tempo>): Command =>
  (d) => {
    Object.assign(d.tempo, tempo);
  };

export const addInput =
  (input: Input): Command =>
  (d) => {
    d.inputs.push(input as Draft<Input>);
  };
export const changeInput =
  (id: string, change: (input: Draft<Input>) => void): Command =>
  (d) => {
    const x = find(d.inputs, id);
    if (x) change(x);
  };
/** Gives an input another source; its id stays, so every ear and route that follows it does too. */
export const replaceInput =
  (id: string, source: Input): Command =>
  (d) => {
    const at = d.inputs.findIndex((x) => x.id === id);
    if (at < 0) return;
    const { name } = d.inputs[at]!;
    d.inputs[at] = { ...source, id } as Draft<Input>;
    // A stem that is no longer there is heard by itself no longer.
    const stems = source.kind === 'files' ? source.stems.map((s) => s.media) : [];
    for (const ear of d.ears) if (ear.input === id && ear.stem && !stems.includes(ear.stem)) delete ear.stem;
    // An ear that was named after its input goes with it.
    for (const ear of d.ears)
      if (ear.input === id && ear.name.startsWith(`${name} · `))
        ear.name = `${source.name}${ear.name.slice(name.length)}`.slice(0, 80);
  };
/** Takes an input away. Its ears stay, silent, until they are given another. */
export const removeInput =
  (id: string): Command =>
  (d) => {
    remove(d.inputs, id);
  };

export const addEar =
  (ear: Ear): Command =>
  (d) => {
    d.ears.push(ear as Draft<Ear>);
  };
export const changeEar =
  (id: string, change: Partial<Omit<Ear, 'id'>>): Command =>
  (d) => {
    const x = find(d.ears, id);
    if (x) Object.assign(x, change);
  };
/** Takes an ear away. Its routes stay with a torn end, and can be aimed at another signal. */
export const removeEar =
  (id: string): Command =>
  (d) => {
    remove(d.ears, id);
  };

export const addRoute =
  (route: Route): Command =>
  (d) => {
    d.routes.push(route as Draft<Route>);
  };
export const removeRoutes =
  (ids: readonly string[]): Command =>
  (d) => {
    for (const id of ids) remove(d.routes, id);
  };
export const muteRoute =
  (id: string, muted: boolean): Command =>
  (d) => {
    const x = find(d.routes, id);
    if (x) x.muted = muted;
  };
export const changeShaping =
  (id: string, change: Partial<{ [K in keyof Shaping]: Shaping[K] | undefined }>): Command =>
  (d) => {
    const x = find(d.routes, id);
    if (!x) return;
    for (const [step, setting] of Object.entries(change)) {
      if (setting === undefined) delete (x.shaping as Record<string, unknown>)[step];
      else (x.shaping as Record<string, unknown>)[step] = setting;
    }
  };
/** Changes several routes alike: solo, bypass, combining, group, what moves the amount. */
export const changeRoutes =
  (
    ids: readonly string[],
    change: Partial<
      Pick<Route, 'muted' | 'soloed' | 'bypassed' | 'combine' | 'group' | 'amountBy' | 'leadMs'>
    >,
  ): Command =>
  (d) => {
    for (const id of ids) {
      const x = find(d.routes, id);
      if (x) Object.assign(x, change);
    }
  };
/** Tries a route unseen: a copy that only the control window shows in its place. @returns the copy's id */
export function tryUnseen(
  show: Show,
  id: string,
): { readonly command: Command; readonly route: string } | null {
  const route = show.routes.find((r) => r.id === id);
  if (!route || route.unseen) return null;
  const copy = freeId(show, 'route');
  return {
    route: copy,
    command: (d) => {
      d.routes.splice(d.routes.findIndex((r) => r.id === id) + 1, 0, {
        ...route,
        id: copy,
        unseen: { of: id },
      } as Draft<Route>);
    },
  };
}
/** Sends what is tried unseen: a copy takes its original's place and id, a new route becomes one like any other. */
export const sendUnseen =
  (ids: readonly string[]): Command =>
  (d) => {
    for (const id of ids) {
      const x = find(d.routes, id);
      if (!x?.unseen) continue;
      const original = x.unseen.of === null ? undefined : find(d.routes, x.unseen.of);
      x.unseen = null;
      if (!original) continue;
      const { id: _, ...rest } = x;
      Object.assign(original, rest);
      remove(d.routes, id);
    }
  };
/** Nothing is soloed any more. */
export const endSolo: Command = (d) => {
  for (const r of d.routes) if (r.soloed) r.soloed = false;
  for (const g of d.groups) if (g.soloed) g.soloed = false;
};
/** Moves a route among those of its parameter: to before another, or to the end. */
export const orderRoute =
  (id: string, before: string | null): Command =>
  (d) => {
    moveBefore(d.routes, id, before);
  };

export const addMaker =
  (maker: Maker): Command =>
  (d) => {
    d.makers.push(maker as Draft<Maker>);
  };
export const changeMaker =
  (id: string, change: Partial<Omit<Maker, 'id'>>): Command =>
  (d) => {
    const x = find(d.makers, id);
    if (!x) return;
    Object.assign(x, change);
    const text = textOf(x.making);
    if (text !== null)
      for (const f of d.figures) if (f.form.kind === 'letters' && f.form.of === id) f.form.text = text;
  };
/** The lines of a maker of timed text, as letters have them; null of any other. */
export const textOf = (making: Maker['making']): string | null =>
  making.kind === 'prompter' ? making.lines.map((l) => l.text.replace(/\n/g, ' ')).join('\n') : null;
/** Takes a maker away. Its routes stay with a torn end, and what took from it waits for another signal. */
export const removeMaker =
  (id: string): Command =>
  (d) => {
    remove(d.makers, id);
  };

export const addGroup =
  (group: RouteGroup, routes: readonly string[]): Command =>
  (d) => {
    d.groups.push(group);
    for (const r of d.routes) if (routes.includes(r.id)) r.group = group.id;
  };
export const changeGroup =
  (id: string, change: Partial<Omit<RouteGroup, 'id'>>): Command =>
  (d) => {
    const x = find(d.groups, id);
    if (x) Object.assign(x, change);
  };
/** Dissolves a group; its routes stay. */
export const removeGroup =
  (id: string): Command =>
  (d) => {
    remove(d.groups, id);
    for (const r of d.routes) if (r.group === id) r.group = null;
  };

export const addRamp =
  (ramp: SavedRamp): Command =>
  (d) => {
    d.ramps.push(ramp as Draft<SavedRamp>);
  };
export const removeRamp =
  (id: string): Command =>
  (d) => {
    remove(d.ramps, id);
  };
/** Sets how a figure's or a finish's inks run, and what its own inks rest at. */
export const setRamp =
  (id: string, ramp: readonly RampStop[] | null, rests: Readonly<Record<string, string>> = {}): Command =>
  (d) => {
    const x = find(d.figures, id) ?? find(d.finishes, id);
    if (!x) return;
    (x as { ramp?: readonly RampStop[] | null }).ramp = ramp;
    Object.assign(x.rest, rests);
  };
export const addShape =
  (shape: SavedShape): Command =>
  (d) => {
    d.shapes.push(shape as Draft<SavedShape>);
  };
export const removeShape =
  (id: string): Command =>
  (d) => {
    remove(d.shapes, id);
  };
/** Takes over everything of a shape but floor and fit, which belong to the signal; an event keeps a strike. */
export const applyShape =
  (routes: readonly string[], shape: Shaping): Command =>
  (d) => {
    for (const id of routes) {
      const x = find(d.routes, id);
      if (!x) continue;
      const { strike, floor, fit } = x.shaping,
        kept = strike ? { strike: shape.strike ?? strike } : {};
      x.shaping = { ...shape, ...kept, ...(floor && { floor }), ...(fit && { fit }) } as Draft<Shaping>;
      if (!strike) delete x.shaping.strike;
      if (!floor) delete x.shaping.floor;
      if (!fit) delete x.shaping.fit;
    }
  };

/**
 * One route from each member of a row to the same parameter of each thing, in order, all in a group of their own. Each is added
 * to what its own thing rests at. A row that is longer or shorter than the things is spread over them.
 */
export function fanOut(
  show: Show,
  ear: Ear,
  things: readonly string[],
  parameter: string,
  heard: (signal: string) => LearnedFit | null,
  order: RowOrder = 'along',
): { readonly command: Command; readonly group: string; readonly routes: readonly Route[] } {
  const members = signalsOfEar(ear).slice(1);
  const group: RouteGroup = {
    id: freeId(show, 'group'),
    name: freeName(show.groups, ear.name),
    muted: false,
    soloed: false,
    bypassed: false,
    folded: true,
  };
  const taken = new Set(listsOf(show).flatMap((list) => list.map((x) => x.id)));
  let n = 1;
  const routes =
    members.length === 0
      ? []
      : things.flatMap((to, i): Route[] => {
          const signal = members[Math.round(wayOver(order, i, things.length) * (members.length - 1))]!;
          const target = { thing: to, parameter },
            end = findParameter(show, target);
          if (!end) return [];
          while (taken.has(`route-${n}`)) n++;
          const id = `route-${n++}`;
          const route = newRoute(id, signal, target, end.parameter, heard(signal.id), boundsOf(show, signal));
          const rest = restOf(end.thing, end.parameter),
            d = end.parameter;
          return [
            {
              ...route,
              group: group.id,
              reach: d.kind === 'number' ? clamp((rest as number) + d.reach - d.rest, d.min, d.max) : d.reach,
            },
          ];
        });
  return {
    command: (d) => {
      d.groups.push(group);
      for (const r of routes) d.routes.push(r as Draft<Route>);
    },
    group: group.id,
    routes,
  };
}

export const mirrorTwin =
  (id: string, mirrored: boolean): Command =>
  (d) => {
    const x = find(d.figures, id);
    if (x?.twin) x.twin.mirrored = mirrored;
  };
/** A rest goes back to the original's, or to the description's. */
export const clearRest =
  (target: Target): Command =>
  (d) => {
    const x = thing(d, target.thing);
    if (x) delete x.rest[target.parameter];
  };

/** Sets the floors of several routes at once. */
export const changeRouteFloors =
  (floors: Readonly<Record<string, number>>): Command =>
  (d) => {
    for (const r of d.routes) {
      const at = floors[r.id];
      if (at !== undefined) r.shaping.floor = { at };
    }
  };
export const setReach =
  (id: string, reach: ParameterValue): Command =>
  (d) => {
    const x = find(d.routes, id);
    if (x) x.reach = reach;
  };
/**
 * Where a new route goes to: the parameter's own reach, unless the thing rests there already; then what the parameter usually rests
 * at, or its other end. Of a text's lines, to the last that it has.
 */
export function firstReach(show: Show, target: Target): ParameterValue {
  const end = findParameter(show, target);
  if (end?.parameter.kind !== 'number') return end?.parameter.reach ?? 0;
  const p = end.parameter,
    rest = restOf(end.thing, p) as number;
  const form = show.figures.find((f) => f.id === target.thing)?.form;
  if (form?.kind === 'text' && p.id === 'line') return form.text.split('\n').length;
  const far = (x: number): boolean => Math.abs(x - rest) >= p.step / 2;
  return [p.reach, p.rest, p.max].find(far) ?? p.min;
}
/** Aims routes at another parameter; what shapes them stays. */
export const aimRoutes =
  (ids: readonly string[], target: Target): Command =>
  (d) => {
    const show = current(d) as Show;
    for (const x of d.routes)
      if (ids.includes(x.id)) {
        x.target = { ...target };
        // Another parameter has another unit: the old reach says nothing there.
        if (findParameter(show, target)) x.reach = firstReach(show, target);
      }
  };

function thing(
  d: Draft<Show>,
  id: string,
): { rest: Record<string, ParameterValue>; name: string } | undefined {
  if (id === CAMERA_ID) return d.camera as never;
  return (
    (find(d.figures as { id: string }[], id) as never) ??
    (find(d.figureGroups as { id: string }[], id) as never) ??
    (find(d.finishes as { id: string }[], id) as never) ??
    (find(d.overlays as { id: string }[], id) as never) ??
    (find(d.fixtures as { id: string }[], id) as never) ??
    (find(d.messages as { id: string }[], id) as never) ??
    (find(d.laserFigures as { id: string }[], id) as never)
  );
}
export const setRest =
  (target: Target, rest: ParameterValue): Command =>
  (d) => {
    const x = thing(d, target.thing);
    if (x) x.rest[target.parameter] = rest;
  };
export const renameThing =
  (id: string, name: string): Command =>
  (d) => {
    const x = thing(d, id);
    if (x) x.name = name;
  };

export const addFigure =
  (figure: Figure): Command =>
  (d) => {
    d.figures.push(figure as Draft<Figure>);
  };
export const changeFigure =
  (
    id: string,
    change: Partial<
      Pick<Figure, 'at' | 'hidden' | 'locked' | 'group' | 'blend' | 'form' | 'anchor' | 'cover'>
    >,
  ): Command =>
  (d) => {
    const x = find(d.figures, id);
    if (x) Object.assign(x, change);
  };
/** Takes a thing away, with the routes to it and the finishes on it. */
export const removeThing =
  (id: string): Command =>
  (d) => {
    for (const list of [
      d.figures,
      d.figureGroups,
      d.finishes,
      d.overlays,
      d.fixtures,
      d.messages,
      d.laserFigures,
    ])
      remove(list, id);
    // With an overlay goes what is drawn on it.
    const drawn =
        id === WHOLE_PICTURE ? [] : [...d.figures, ...d.figureGroups].filter((f) => f.surface === id),
      gone = new Set([id, ...drawn.map((f) => f.id)]);
    if (id !== WHOLE_PICTURE) for (const f of d.finishes) if (gone.has(f.on)) gone.add(f.id);
    d.routes = d.routes.filter((r) => !gone.has(r.target.thing));
    d.finishes = d.finishes.filter((f) => !gone.has(f.id));
    d.figures = d.figures.filter((f) => !gone.has(f.id));
    d.figureGroups = d.figureGroups.filter((g) => !gone.has(g.id));
    for (const f of d.figures) if (f.group === id) f.group = null;
    dropEmptyGroups(d);
  };
/** A group of figures is there as long as it has any; finishes on it go with it. */
export const dropEmptyGroups: Command = (d) => {
  const empty = d.figureGroups.filter((g) => !d.figures.some((f) => f.group === g.id)).map((g) => g.id);
  if (empty.length === 0) return;
  d.figureGroups = d.figureGroups.filter((g) => !empty.includes(g.id));
  d.finishes = d.finishes.filter((f) => !empty.includes(f.on));
};

/**
 * A route that moves something on the next sound: fitted to where its signal lies by its nature, to what was heard, or else to what
 * comes, with the smoothing that suits its parameter. A hit gets the strike that makes a level of it.
 * @param bounds - see {@link boundsOf}
 */
export function newRoute(
  id: string,
  signal: Signal,
  target: Target,
  parameter: ParameterDescription,
  heard: LearnedFit | null,
  bounds: Bounds | null = boundsOf({ ears: [], makers: [] }, signal),
): Route {
  const event = signal.kind === 'event';
  const smooth = { attackMs: parameter.attackMs, releaseMs: parameter.releaseMs };
  const listening = signal.member === null ? signal.ear?.listening : undefined;
  // A wave goes both ways from nothing, and is not smoothed, or it would be another.
  if (listening?.kind === 'vector' && listening.of === 'waveform') {
    const shaping: Shaping = {
      fit: { mode: 'hand', low: 0, high: Math.max(0.02, heard?.high ?? signal.usual) },
      clamp: { low: -1, high: 1 },
      amount: 1,
    };
    return {
      id,
      signal: signal.id,
      target,
      muted: false,
      soloed: false,
      bypassed: false,
      combine: 'add',
      group: null,
      amountBy: null,
      unseen: null,
      shaping,
      reach: parameter.reach,
    };
  }
  const whole = { low: 0, high: 1 };
  const fit = bounds ? fitOfBounds(bounds) : firstFit(signal, heard);
  const shaping: Shaping = event
    ? { strike: { holdMs: 0, fallMs: Math.max(60, parameter.releaseMs) }, clamp: whole, amount: 1 }
    : {
        ...(fit && { fit }),
        clamp: whole,
        ...(signal.kind !== 'colour' && !signal.maker && { smooth }),
        amount: 1,
      };
  return {
    id,
    signal: signal.id,
    target,
    muted: false,
    soloed: false,
    bypassed: false,
    combine: 'add',
    group: null,
    amountBy: null,
    unseen: null,
    shaping,
    reach: parameter.reach,
  };
}

/** What is between 0 and 1 by its nature needs no fit. */
function fitOfBounds({ low, high }: Bounds): Fit | undefined {
  return low === 0 && high === 1 ? undefined : { mode: 'hand', low, high };
}
/** Fitted to what was heard, else to what comes; pitches and tempi, which silence does not make small, to where they usually lie. */
function firstFit({ measure, ear, maker, usual }: Signal, heard: LearnedFit | null): Fit {
  // How far a clock goes until somebody looks again.
  if (maker?.making.kind === 'clock') return { mode: 'hand', low: 0, high: usual };
  if (heard) return { mode: 'heard', low: heard.low, high: heard.high };
  if (measure === 'note') return { mode: 'hand', low: 48, high: 84 };
  if (measure === 'bpm') return { mode: 'hand', low: 60, high: 180 };
  if (measure === 'hz') {
    const listening = ear?.listening;
    return listening?.kind === 'band'
      ? { mode: 'hand', low: listening.low, high: listening.high }
      : { mode: 'hand', low: 200, high: 6000 };
  }
  return { mode: 'coming', forgetS: 30 };
}

/** An id that is not yet in the show: `kind-n`. */
export function freeId(show: Show, kind: string): string {
  return freeIds(show, kind)();
}

/** Ids that are not yet in the show, each of them once: `kind-n`. */
export function freeIds(show: Show, kind: string): () => string {
  const taken = new Set(listsOf(show).flatMap((list) => list.map((x) => x.id)));
  let n = 0;
  return () => {
    do n++;
    while (taken.has(`${kind}-${n}`));
    return `${kind}-${n}`;
  };
}

/** A name that no other in the list bears: "Low drum", "Low drum 2". */
export function freeName(list: readonly { readonly name: string }[], wish: string): string {
  let name = wish;
  for (let n = 2; list.some((x) => x.name === name); n++) name = `${wish} ${n}`;
  return name;
}

/** A name for one more of the same: “Dial, 2”, and of that “Dial, 3”. */
export function copyName(list: readonly { readonly name: string }[], name: string): string {
  const own = name.replace(/, \d+$/, '');
  let n = 2;
  while (list.some((x) => x.name === `${own}, ${n}`)) n++;
  return `${own}, ${n}`;
}

export function isTargetAlive(show: Show, target: Target): boolean {
  return findParameter(show, target) !== null;
}
