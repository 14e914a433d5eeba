import { bandsOf } from '../ears/bandSet';
import { keyName } from '../notes/keys';
import { keysOf, measureOf, signalKindOf, usualHigh, type Measure, type SignalKind } from '../ears/listening';
import { givesEvents, isShare, makerSignalKind, makerUsual } from '../makers/making';
import { membersOfEar, memberSignal } from '../plan/names';
import type { ParameterDescription } from '../parameters/description';
import type { Ear, Maker, Show } from './types';

/** One live value that a show has, by the name that routes know it by. */
export interface Signal {
  readonly id: string;
  readonly name: string;
  readonly kind: SignalKind | 'colour';
  readonly measure: Measure;
  /** What it reads when it is loud. */
  readonly usual: number;
  /** The ear or the maker that gives it. */
  readonly ear: Ear | null;
  readonly maker: Maker | null;
  /** Which band of a set, or point of a vector, it is, or null. */
  readonly member: number | null;
}

const cache = new WeakMap<object, readonly Signal[]>();
function once(source: object, make: () => readonly Signal[]): readonly Signal[] {
  let list = cache.get(source);
  if (!list) cache.set(source, (list = make()));
  return list;
}

/** The signals of one ear: itself, and each band of a set or point of a short vector as a level of its own. */
export function signalsOfEar(ear: Ear): readonly Signal[] {
  return once(ear, () => {
    const { listening } = ear,
      usual = usualHigh(listening);
    const own: Signal = {
      id: ear.id,
      name: ear.name,
      kind: signalKindOf(listening),
      measure: measureOf(listening),
      usual,
      ear,
      maker: null,
      member: null,
    };
    const bands = listening.kind === 'bands' ? bandsOf(listening.set, listening.crossovers) : null;
    const low = listening.kind === 'notes' ? keysOf(listening).low : null;
    return [
      own,
      ...Array.from({ length: membersOfEar(ear) }, (_, member): Signal => ({
        id: memberSignal(ear.id, member),
        name: `${ear.name} · ${bands?.[member]?.name ?? (low === null ? member + 1 : keyName(low + member))}`,
        kind: 'level',
        measure: low === null ? 'amplitude' : 'strength',
        usual,
        ear,
        maker: null,
        member,
      })),
    ];
  });
}

export function signalOfMaker(maker: Maker): Signal {
  return once(maker, () => [
    {
      id: maker.id,
      name: maker.name,
      kind: makerSignalKind(maker.making),
      measure:
        makerSignalKind(maker.making) === 'event' ? 'strength' : isShare(maker.making) ? 'share' : 'count',
      usual: makerUsual(maker.making),
      ear: null,
      maker,
      member: null,
    },
  ])[0]!;
}

type Sources = Pick<Show, 'ears' | 'makers'>;
export function signalsOf(show: Sources): Signal[] {
  return [...show.ears.flatMap(signalsOfEar), ...show.makers.map(signalOfMaker)];
}

const byId = new WeakMap<readonly object[], ReadonlyMap<string, object>>();
/** A list by its ids, gone through once for each list. */
function idsOf<T extends { readonly id: string }>(list: readonly T[]): ReadonlyMap<string, T> {
  let ids = byId.get(list);
  if (!ids) byId.set(list, (ids = new Map(list.map((x) => [x.id, x]))));
  return ids as ReadonlyMap<string, T>;
}

export function findSignal(show: Sources, id: string): Signal | null {
  const maker = idsOf(show.makers).get(id);
  if (maker) return signalOfMaker(maker);
  const ear = idsOf(show.ears).get(id.split('/')[0]!);
  return (ear && signalsOfEar(ear).find((s) => s.id === id)) ?? null;
}

/** Whether a signal can move a parameter by itself: a row needs one that takes rows, or as many targets as it has points. */
export function isRoutable(signal: Signal, parameter?: ParameterDescription): boolean {
  return signal.kind !== 'vector' || (parameter?.kind === 'number' && parameter.takesRow === true);
}

/** Whether makers may take events from it. */
export function tellsEvents(signal: Signal): boolean {
  return signal.kind === 'event' || (signal.maker !== null && givesEvents(signal.maker.making));
}

/** Where a signal's number lies by its nature. */
export interface Bounds {
  readonly low: number;
  readonly high: number;
}
const SHARE: Bounds = { low: 0, high: 1 };
/** The keys of a piano. */
const KEYS: Bounds = { low: 21, high: 108 };

/** Between which numbers a signal lies by its nature; null where only listening can tell. What glides has the bounds of what it follows. */
export function boundsOf(show: Sources, signal: Signal): Bounds | null {
  let at: Signal | null = signal;
  // A ring of glides has none.
  for (let steps = 0; at && steps <= show.makers.length; steps++) {
    const { maker, ear, measure, kind } = at;
    if (measure === 'share' || kind === 'colour') return SHARE;
    if (ear?.listening.kind === 'notes')
      return ear.listening.reading === 'pitch'
        ? KEYS
        : { low: 0, high: ear.listening.reading === 'held' ? at.usual : 1 };
    if (!maker) return null;
    const { making } = maker;
    if (making.kind === 'list') return rangeOf(making.values);
    if (making.kind === 'prompter') return { low: 0, high: at.usual };
    if ((making.kind !== 'glide' && making.kind !== 'gate') || making.of === null) return null;
    at = findSignal(show, making.of);
  }
  return null;
}
function rangeOf(values: readonly number[]): Bounds | null {
  const low = Math.min(...values),
    high = Math.max(...values);
  if (high > low) return { low, high };
  return high === 0 || values.length === 0 ? null : { low: Math.min(0, low), high: Math.max(0, high) };
}

export function usualOfSignal(show: Sources, id: string): number {
  return findSignal(show, id)?.usual ?? 1;
}
