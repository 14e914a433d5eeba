import { HEALTH } from '../../core/ears/inputMeter';
import { formatNumber, type NumberParameter } from '../../core/parameters/description';
import { findSignal } from '../../core/show/signals';
import { findParameter, restOf } from '../../core/show/things';
import type { Route, Show } from '../../core/show/types';

/** What is known about the moment, beside the show. */
export interface Moment {
  readonly health: number;
  readonly paused: boolean;
  readonly dark: boolean;
  readonly freeze: boolean;
  /** Loudest that the signal was in the last two seconds. */
  readonly recent: number;
  /** The route's shaped number now, and its highest of the last two seconds. */
  readonly shaped: number;
  readonly fitted: boolean;
}
export type Remedy = 'play' | 'light' | 'thaw' | 'unmute' | 'lower the floor' | 'fit' | 'raise the amount' | 'choose an input' | null;
export interface Answer { readonly words: string; readonly remedy: Remedy }

/** Why a route does not move its parameter, in words, from the sound to the output; or that it does. */
export function whyNot(show: Show, route: Route, m: Moment): Answer {
  const signal = findSignal(show, route.signal);
  const end = findParameter(show, route.target);
  if (!end) return { words: 'What it moved is gone. Drag its signal to something else, or delete it.', remedy: null };
  const what = `${end.thing.name} · ${end.parameter.label}`;
  if (!signal) return { words: `The signal that moved ${what} is gone. Choose another ear for it.`, remedy: null };
  const { ear, name } = signal;
  const input = show.inputs.find((i) => i.id === ear.input);
  if (!input) return { words: `${name} listens to an input that is gone.`, remedy: 'choose an input' };
  if (m.dark) return { words: 'Dark is on: every output is out.', remedy: 'light' };
  if (m.freeze) return { words: 'Freeze is on: everything is held as it was.', remedy: 'thaw' };
  if (route.muted) return { words: `This route to ${what} is muted.`, remedy: 'unmute' };
  if ((input.kind === 'files' || (input.kind === 'notes' && input.from.kind === 'file')) && m.paused) return { words: `${input.name} is paused.`, remedy: 'play' };
  const health = HEALTH[m.health];
  const soundless = ear.listening.kind === 'beat' || ear.listening.kind === 'notes';
  if (!soundless && (health === 'off' || health === 'silent')) return { words: `No sound arrives from ${input.name}.`, remedy: null };
  if (route.shaping.amount === 0) return { words: 'Its amount is 0: it stays at rest.', remedy: 'raise the amount' };
  if (route.shaping.floor && m.recent <= route.shaping.floor.at) return { words: `${name} is below its floor.`, remedy: 'lower the floor' };
  if (signal.kind === 'event' && m.recent === 0) return { words: `${name}: ${ear.listening.kind === 'hit' ? 'no hit' : 'nothing'} in the last two seconds.`, remedy: null };
  if (!m.fitted) return { words: 'Nothing heard yet: waiting for sound to fit to.', remedy: null };
  if (m.shaped < 0.02) return { words: `${name} sounds, but below what the fit begins with.`, remedy: 'fit' };
  if (end.parameter.kind === 'number' && Math.abs((route.reach as number) - (restOf(end.thing, end.parameter) as number)) < end.parameter.step / 2) {
    return { words: `Rest and reach are both ${formatNumber(route.reach as number, end.parameter as NumberParameter)}: there is no way to go.`, remedy: null };
  }
  return { words: `It moves: ${name} takes ${what} along.`, remedy: null };
}
