import { figureKindLabel, figureParameters } from '../figures/kinds';
import { cameraParameters, groupParameters } from '../finishes/groupsAndCamera';
import { finishLabel, finishParameters } from '../finishes/kinds';
import { kindOf } from '../lights/builtin';
import { shownUniverse, type Kind } from '../lights/kind';
import { kindParameters } from '../lights/parameters';
import { LASER_LABELS, laserParameters } from '../laser/kinds';
import { messageParameters, messageWords } from '../messages';
import { overlayParameters, restingInDark } from '../overlays/kinds';
import type { ParameterDescription, ParameterValue } from '../parameters/description';
import { WHOLE_PICTURE, type Figure, type Fixture, type LaserFigure, type Show, type Target } from './types';

export type ThingKind =
  'figure' | 'group' | 'finish' | 'camera' | 'overlay' | 'fixture' | 'message' | 'laser';

/** Anything whose parameters can be moved, seen alike by routing, interface and saving. */
export interface Thing {
  readonly id: string;
  readonly name: string;
  readonly kind: ThingKind;
  /** What it is, in words. */
  readonly what: string;
  readonly parameters: readonly ParameterDescription[];
  readonly rest: Readonly<Record<string, ParameterValue>>;
}

const cache = new WeakMap<object, Thing>();
/** Untouched things of a show keep their identity from edit to edit, so their views may too. */
function once<T extends object>(source: T, make: (source: T) => Thing): Thing {
  let thing = cache.get(source);
  if (!thing) cache.set(source, (thing = make(source)));
  return thing;
}

type Twinned = Figure | LaserFigure;
const twins = new WeakMap<object, { readonly original: Twinned; readonly thing: Thing }>();
/** A twin rests where its original does, but for what it overrides. */
function twinned<T extends Twinned>(
  figure: T,
  byId: ReadonlyMap<string, T>,
  what: string,
  more: Pick<Thing, 'kind' | 'parameters'>,
): Thing {
  const original = figure.twin ? byId.get(figure.twin.of) : undefined;
  const make = (rest: Thing['rest'], words: string): Thing => ({
    id: figure.id,
    name: figure.name,
    what: words,
    rest,
    ...more,
  });
  if (!original || original.id === figure.id) return once(figure, () => make(figure.rest, what));
  let made = twins.get(figure);
  if (made?.original !== original)
    twins.set(
      figure,
      (made = { original, thing: make({ ...original.rest, ...figure.rest }, `twin of ${original.name}`) }),
    );
  return made.thing;
}

const lamps = new WeakMap<Fixture, { readonly kind: Kind; readonly thing: Thing }>();
/** A lamp has what its kind has, which may be read anew. */
function lampThing(lamp: Fixture, kind: Kind): Thing {
  let made = lamps.get(lamp);
  if (made?.kind !== kind) {
    const { id, name, rest, universe, address } = lamp;
    const what = `${kind.label}, universe ${shownUniverse(universe)}, address ${address}`;
    lamps.set(
      lamp,
      (made = { kind, thing: { id, name, kind: 'fixture', what, parameters: kindParameters(kind), rest } }),
    );
  }
  return made.thing;
}

interface Things {
  readonly list: readonly Thing[];
  readonly byId: ReadonlyMap<string, Thing>;
}
const known = new WeakMap<Show, Things>();
function things(show: Show): Things {
  let all = known.get(show);
  if (!all) {
    const list = listThings(show);
    known.set(show, (all = { list, byId: new Map(list.map((t) => [t.id, t])) }));
  }
  return all;
}
/** Everything of a show whose parameters can be moved. Listed once for each show. */
export const thingsOf = (show: Show): readonly Thing[] => things(show).list;

function listThings(show: Show): Thing[] {
  const byId = new Map(show.figures.map((f) => [f.id, f])),
    lasersById = new Map(show.laserFigures.map((f) => [f.id, f]));
  const overlaid = onOverlays(show);
  const dark = (id: string, parameters: readonly ParameterDescription[]): readonly ParameterDescription[] =>
    overlaid.has(id) ? restingInDark(parameters) : parameters;
  return [
    ...show.figures.map((f) =>
      twinned(f, byId, figureKindLabel(f.form.kind), {
        kind: 'figure',
        parameters: dark(f.id, figureParameters(f.form.kind)),
      }),
    ),
    ...show.figureGroups.map((g) =>
      once(g, (x) => ({
        id: x.id,
        name: x.name,
        kind: 'group',
        what: 'group of figures',
        parameters: dark(x.id, groupParameters()),
        rest: x.rest,
      })),
    ),
    ...show.finishes.map((f) =>
      once(f, (x) => ({
        id: x.id,
        name: x.name,
        kind: 'finish',
        what: finishLabel(x.form.kind),
        parameters: dark(x.id, finishParameters(x.form.kind)),
        rest: x.rest,
      })),
    ),
    once(show.camera, (x) => ({
      id: x.id,
      name: x.name,
      kind: 'camera',
      what: 'what looks at the picture',
      parameters: cameraParameters(),
      rest: x.rest,
    })),
    ...show.fixtures.map((f) => lampThing(f, kindOf(f, show.kinds))),
    ...show.laserFigures.map((f) =>
      twinned(f, lasersById, `${LASER_LABELS[f.form.kind]} of the laser`, {
        kind: 'laser',
        parameters: laserParameters(),
      }),
    ),
    ...show.messages.map((m) =>
      once(m, (x) => ({
        id: x.id,
        name: x.name,
        kind: 'message',
        what: messageWords(x.form),
        parameters: messageParameters(x.form),
        rest: x.rest,
      })),
    ),
    ...show.overlays.map((o) =>
      once(o, (x) => ({
        id: x.id,
        name: x.name,
        kind: 'overlay',
        what: 'overlay',
        parameters: overlayParameters(),
        rest: x.rest,
      })),
    ),
  ];
}

/** Ids of all figures, groups and finishes that are on an overlay. */
function onOverlays(show: Show): ReadonlySet<string> {
  const ids = new Set<string>();
  if (show.overlays.length === 0) return ids;
  for (const o of show.overlays) ids.add(o.id);
  for (const f of show.figures) if (f.surface !== undefined) ids.add(f.id);
  for (const g of show.figureGroups) if (g.surface !== undefined) ids.add(g.id);
  for (const f of show.finishes) if (ids.has(f.on)) ids.add(f.id);
  return ids;
}

/** Everything of a show that bears an id. */
export function listsOf(show: Show): readonly (readonly { readonly id: string }[])[] {
  return [
    show.inputs,
    show.ears,
    show.makers,
    show.routes,
    show.figures,
    show.figureGroups,
    show.finishes,
    [show.camera],
    show.screens,
    show.overlays,
    show.fixtures,
    show.kinds,
    show.spots,
    show.messages,
    show.laserFigures,
    show.wires,
    show.groups,
    show.shapes,
    show.ramps,
    show.looks,
    show.cues,
    show.songs,
    show.grips,
    show.phone,
  ];
}

export function parameterKey(target: Target): string {
  return `${target.thing}/${target.parameter}`;
}

/** What a {@link parameterKey} names. */
export function targetOf(key: string): Target {
  const cut = key.indexOf('/');
  return { thing: key.slice(0, cut), parameter: key.slice(cut + 1) };
}

export function restOf(thing: Pick<Thing, 'rest'>, parameter: ParameterDescription): ParameterValue {
  return thing.rest[parameter.id] ?? parameter.rest;
}

export function findParameter(
  show: Show,
  target: Target,
): { thing: Thing; parameter: ParameterDescription } | null {
  const thing = things(show).byId.get(target.thing);
  const parameter = thing?.parameters.find((p) => p.id === target.parameter);
  return thing && parameter ? { thing, parameter } : null;
}

/** What a finish is on, by name. */
export function finishOn(show: Show, on: string): string {
  return on === WHOLE_PICTURE
    ? 'the whole picture'
    : (show.figures.find((f) => f.id === on)?.name ??
        show.figureGroups.find((g) => g.id === on)?.name ??
        show.overlays.find((o) => o.id === on)?.name ??
        'one gone');
}
