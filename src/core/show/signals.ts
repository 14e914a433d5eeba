import { bandsOf } from '../ears/bandSet';
import { signalKindOf, usualHigh, type Measure, type SignalKind, measureOf } from '../ears/listening';
import { memberSignal } from '../plan/names';
import type { Ear, Show } from './types';

/** One live value that a show has, by the name that routes know it by. */
export interface Signal {
  readonly id: string;
  readonly name: string;
  readonly kind: SignalKind;
  readonly measure: Measure;
  readonly ear: Ear;
  /** Which band of a set it is, or null. */
  readonly member: number | null;
}

const cache = new WeakMap<Ear, readonly Signal[]>();

/** The signals of one ear: itself, and each band of a set as a level of its own. */
export function signalsOfEar(ear: Ear): readonly Signal[] {
  let list = cache.get(ear);
  if (!list) {
    const { listening } = ear;
    const own: Signal = { id: ear.id, name: ear.name, kind: signalKindOf(listening), measure: measureOf(listening), ear, member: null };
    const members = listening.kind === 'bands' ? bandsOf(listening.set, listening.crossovers).map((band, member): Signal => ({ id: memberSignal(ear.id, member), name: `${ear.name} · ${band.name}`, kind: 'level', measure: 'amplitude', ear, member })) : [];
    cache.set(ear, (list = [own, ...members]));
  }
  return list;
}

export function signalsOf(show: Pick<Show, 'ears'>): Signal[] {
  return show.ears.flatMap(signalsOfEar);
}

export function findSignal(show: Pick<Show, 'ears'>, id: string): Signal | null {
  const ear = show.ears.find((e) => e.id === id.split('/')[0]);
  return (ear && signalsOfEar(ear).find((s) => s.id === id)) ?? null;
}

/** Whether a signal can move a parameter by itself: a vector needs as many targets as it has points. */
export function isRoutable(signal: Signal): boolean { return signal.kind !== 'vector'; }

export function usualOfSignal(show: Pick<Show, 'ears'>, id: string): number {
  const signal = findSignal(show, id);
  return signal ? usualHigh(signal.ear.listening) : 1;
}
