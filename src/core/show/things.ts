import { figureKindLabel, figureParameters } from '../figures/kinds';
import { FIXTURE_MODES, fixtureParameters } from '../lights/fixtures';
import { overlayParameters } from '../overlays/kinds';
import type { ParameterDescription, ParameterValue } from '../parameters/description';
import type { Show, Target } from './types';

export type ThingKind = 'figure' | 'overlay' | 'fixture';

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

export function thingsOf(show: Show): Thing[] {
  return [
    ...show.figures.map((f) => once(f, (x) => ({ id: x.id, name: x.name, kind: 'figure', what: figureKindLabel(x.form.kind), parameters: figureParameters(x.form.kind), rest: x.rest }))),
    ...show.fixtures.map((f) => once(f, (x) => ({ id: x.id, name: x.name, kind: 'fixture', what: `${FIXTURE_MODES[x.mode].label}, universe ${x.universe}, address ${x.address}`, parameters: fixtureParameters(), rest: x.rest }))),
    ...show.overlays.map((o) => once(o, (x) => ({ id: x.id, name: x.name, kind: 'overlay', what: 'overlay', parameters: overlayParameters(), rest: x.rest }))),
  ];
}

export function parameterKey(target: Target): string {
  return `${target.thing}/${target.parameter}`;
}

export function restOf(thing: Pick<Thing, 'rest'>, parameter: ParameterDescription): ParameterValue {
  return thing.rest[parameter.id] ?? parameter.rest;
}

export function findParameter(show: Show, target: Target): { thing: Thing; parameter: ParameterDescription } | null {
  const thing = thingsOf(show).find((t) => t.id === target.thing);
  const parameter = thing?.parameters.find((p) => p.id === target.parameter);
  return thing && parameter ? { thing, parameter } : null;
}
