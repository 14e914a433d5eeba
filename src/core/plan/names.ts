import { bandsOf } from '../ears/bandSet';
import { keysOf } from '../ears/listening';
import { POINTS_LEAST } from '../ears/vector';
import { makerSignalKind } from '../makers/making';
import type { Ear, Show } from '../show/types';
import type { SignalPlace } from './signalStore';

/** Names of the signals that are not ears. */

/** A route's shaped number, 0 at rest and 1 at reach, stands among the signals under this name. */
export const routeSignal = (route: string): string => `route:${route}`;
/** What every input gives by itself: peak, RMS, health (its place in `HEALTH`), and automatic gain in dB. */
export const INPUT_SIGNALS = ['peak', 'rms', 'health', 'gain'] as const;
export const inputSignal = (input: string, what: (typeof INPUT_SIGNALS)[number]): string =>
  `${input}:${what}`;
/** A member of a set of bands is a level of its own, counted from 0. */
export const memberSignal = (ear: string, member: number): string => `${ear}/${member}`;
/** The show's tempo: beats a minute, confidence, place in the bar (0 to 1), beats to a bar; and a trace with 1 at each beat, 2 at each bar. */
export const TEMPO_SIGNALS = ['bpm', 'confidence', 'bar', 'perBar', 'mark'] as const;
export const tempoSignal = (what: (typeof TEMPO_SIGNALS)[number]): string => `tempo:${what}`;

/** Points of an ear's vector; 0 for what is none. */
export function pointsOfEar({ listening }: Ear): number {
  return listening.kind === 'bands'
    ? bandsOf(listening.set, listening.crossovers).length
    : listening.kind === 'vector'
      ? Math.max(POINTS_LEAST, listening.points)
      : listening.kind === 'notes' && listening.reading === 'keys'
        ? keysOf(listening).high - keysOf(listening).low + 1
        : 0;
}
/** A vector that changes its length gets another place. */
export const vectorName = (ear: Ear, points: number): string => `${ear.id}#${points}`;

/** Points from which on a vector's members are no signals of their own. */
const MEMBERS_MOST = 64;
/** How many members of a vector stand as levels of their own. */
export function membersOfEar(ear: Ear): number {
  const points = pointsOfEar(ear);
  return points <= MEMBERS_MOST ? points : 0;
}

/** Every signal that a show has but for its routes', by name, and how many numbers each is. */
export function signalNames(show: Pick<Show, 'inputs' | 'makers'>, ears: readonly Ear[]): SignalPlace[] {
  return [
    ...TEMPO_SIGNALS.map(tempoSignal),
    ...show.inputs.flatMap((i) => INPUT_SIGNALS.map((w) => inputSignal(i.id, w))),
    ...ears.map((e) => e.id),
    ...ears.flatMap((e) => Array.from({ length: membersOfEar(e) }, (_, k) => memberSignal(e.id, k))),
  ]
    .map((name): SignalPlace => [name, 1])
    .concat(show.makers.map((m): SignalPlace => [m.id, makerSignalKind(m.making) === 'colour' ? 3 : 1]));
}
