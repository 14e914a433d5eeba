import { HEALTH } from '../../core/ears';
import { sourcesOf } from '../../core/makers';
import { formatNumber, type NumberParameter } from '../../core/parameters';
import {
  findParameter,
  findSignal,
  parameterKey,
  restOf,
  type Route,
  type Show,
  type Signal,
  tellsEvents,
} from '../../core/show';
import { limitWords } from '../bench/limitWords';

/** What is known about the moment, beside the show. */
export interface Moment {
  readonly health: number;
  readonly paused: boolean;
  readonly dark: boolean;
  readonly freeze: boolean;
  /** Loudest that the signal was in the last two seconds. */
  readonly recent: number;
  /** The most of the route's shaped number in the last two seconds. */
  readonly shaped: number;
  readonly fitted: boolean;
  /** How far its signal lies below the usual, in dB, where the limit against hiss holds its fit back. */
  readonly quiet?: number | null;
  /** Its parameter is held by hand. */
  readonly byHand?: boolean;
  /** The route is tried in this window only. */
  readonly unseen?: boolean;
}
export type Remedy =
  | 'play'
  | 'light'
  | 'thaw'
  | 'unmute'
  | 'unmute the group'
  | 'end solo'
  | 'give back'
  | 'send'
  | 'add instead'
  | 'lower the floor'
  | 'fit'
  | 'fit past the limit'
  | 'raise the amount'
  | 'choose an input'
  | null;
export interface Answer {
  readonly words: string;
  readonly remedy: Remedy;
}

/** Why a route does not move its parameter, in words, from the sound to the output; or that it does. */
export function whyNot(show: Show, route: Route, m: Moment): Answer {
  const signal = findSignal(show, route.signal);
  const end = findParameter(show, route.target);
  if (!end)
    return { words: 'What it moved is gone. Drag its signal to something else, or delete it.', remedy: null };
  const what = `${end.thing.name} · ${end.parameter.label}`;
  if (!signal)
    return { words: `The signal that moved ${what} is gone. Choose another for it.`, remedy: null };
  const { name } = signal;
  const input = signal.ear ? show.inputs.find((i) => i.id === signal.ear!.input) : undefined;
  if (signal.ear && !input)
    return { words: `${name} listens to an input that is gone.`, remedy: 'choose an input' };
  const blocked = outOfTheWay(show, route, m, what);
  if (blocked) return blocked;
  const silent = signal.ear ? notSounding(signal, input!, m) : notMaking(show, signal);
  if (silent) return silent;
  if (signal.kind === 'colour' && end.parameter.kind !== 'colour')
    return { words: `${name} gives colours, and ${what} is none.`, remedy: null };
  if (end.parameter.kind === 'number' && end.parameter.takesEvents && !tellsEvents(signal))
    return {
      words: `${what} takes hits, and ${name} is a level. Put a crossing between them.`,
      remedy: null,
    };
  if (route.shaping.amount === 0)
    return { words: 'Its amount is 0: it stays at rest.', remedy: 'raise the amount' };
  if (route.shaping.floor && m.recent <= route.shaping.floor.at)
    return { words: `${name} is below its floor.`, remedy: 'lower the floor' };
  if (signal.kind === 'event' && m.recent === 0)
    return {
      words: `${name}: ${signal.ear?.listening.kind === 'hit' ? 'no hit' : 'nothing'} in the last two seconds.`,
      remedy: null,
    };
  if (m.quiet !== undefined && m.quiet !== null)
    return {
      words: limitWords(name, m.quiet),
      remedy: 'fit past the limit',
    };
  if (!m.fitted) return { words: 'Nothing heard yet: waiting for sound to fit to.', remedy: null };
  if (m.shaped < 0.02 && signal.maker === null)
    return { words: `${name} sounds, but below what the fit begins with.`, remedy: 'fit' };
  if (
    end.parameter.kind === 'number' &&
    signal.kind !== 'colour' &&
    Math.abs((route.reach as number) - (restOf(end.thing, end.parameter) as number)) < end.parameter.step / 2
  ) {
    return {
      words: `Rest and reach are both ${formatNumber(route.reach as number, end.parameter as NumberParameter)}: there is no way to go.`,
      remedy: null,
    };
  }
  return { words: `It moves: ${name} takes ${what} along.`, remedy: null };
}

/** What stands above the route: dark, freeze, hand, mute, solo, and a later route that replaces it. */
function outOfTheWay(show: Show, route: Route, m: Moment, what: string): Answer | null {
  if (m.dark) return { words: 'Dark is on: every output is out.', remedy: 'light' };
  if (m.freeze) return { words: 'Freeze is on: everything is held as it was.', remedy: 'thaw' };
  if (m.byHand) return { words: `${what} is held by hand.`, remedy: 'give back' };
  const group = show.groups.find((g) => g.id === route.group);
  if (route.muted) return { words: `This route to ${what} is muted.`, remedy: 'unmute' };
  if (group?.muted) return { words: `Its group, ${group.name}, is muted.`, remedy: 'unmute the group' };
  const solo = show.routes.find((r) => r.soloed),
    soloGroup = show.groups.find((g) => g.soloed);
  if ((solo || soloGroup) && !route.soloed && !group?.soloed)
    return {
      words: soloGroup
        ? `The group ${soloGroup.name} is soloed: only it moves anything.`
        : 'Another route is soloed: only soloed routes move anything.',
      remedy: 'end solo',
    };
  const key = parameterKey(route.target),
    after = show.routes.slice(show.routes.indexOf(route) + 1);
  const over = after.find(
    (r) =>
      r.combine === 'replace' && !r.muted && parameterKey(r.target) === key && findSignal(show, r.signal),
  );
  if (over)
    return {
      words: `${findSignal(show, over.signal)!.name} comes after it on ${what}, and replaces it.`,
      remedy: 'add instead',
    };
  return m.unseen ? { words: 'It is tried unseen: only this window shows it.', remedy: 'send' } : null;
}

function notSounding(signal: Signal, input: Show['inputs'][number], m: Moment): Answer | null {
  if ((input.kind === 'files' || (input.kind === 'notes' && input.from.kind === 'file')) && m.paused)
    return { words: `${input.name} is paused.`, remedy: 'play' };
  const health = HEALTH[m.health],
    kind = signal.ear!.listening.kind;
  return kind !== 'beat' && kind !== 'notes' && (health === 'off' || health === 'silent')
    ? { words: `No sound arrives from ${input.name}.`, remedy: null }
    : null;
}
function notMaking(show: Show, { maker, name }: Signal): Answer | null {
  const { making } = maker!,
    wanted = 'on' in making || 'of' in making ? ('and' in making ? 2 : 1) : 0,
    sources = sourcesOf(making);
  if (sources.length < wanted) return { words: `${name} waits for a signal to be chosen.`, remedy: null };
  return sources.every((id) => findSignal(show, id))
    ? null
    : { words: `The signal that ${name} takes from is gone. Choose another for it.`, remedy: null };
}
