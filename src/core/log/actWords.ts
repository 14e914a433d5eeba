import type { Act } from '../acts/act';
import { findParameter, type Show, targetOf } from '../show';
import { cueWords, mastersOf } from '../stage';

type Named = { readonly id: string; readonly name: string };
const nameIn = (all: readonly Named[], id: string): string =>
  all.find((x) => x.id === id)?.name ?? `${id} (gone)`;
const share = (x: number): string => `${Math.round(x * 100)} %`;

/** A parameter as people call it: the thing, then what of it. */
export function parameterName(show: Show, key: string): string {
  const target = targetOf(key),
    found = findParameter(show, target);
  return found ? `${found.thing.name} ${found.parameter.label}` : `${key} (gone)`;
}
/** A cue by its number and its name. */
export function cueName(show: Pick<Show, 'cues'>, id: string): string {
  const cue = show.cues.find((c) => c.id === id);
  return cue ? `cue ${cueWords(cue)}` : `${id} (gone)`;
}

/** What was performed, in words, by the names that the show has now. */
export function actWords(show: Show, act: Act): string {
  switch (act.do) {
    case 'dark':
    case 'freeze':
      return `${act.do} ${act.on ? 'on' : 'off'}${act.over ? ` over ${act.over} s` : ''}`;
    case 'cue':
      return cueName(show, act.cue);
    case 'next':
      return act.cue === null ? 'next: the one after' : `next: ${cueName(show, act.cue)}`;
    case 'look':
      return act.look === null ? 'everything as it rests' : `look ${nameIn(show.looks, act.look)}`;
    case 'rehearse':
      return act.look === null ? 'try nothing' : `try ${nameIn(show.looks, act.look)} unseen`;
    case 'master':
      return `master ${masterName(show, act.master)} ${share(act.value)}`;
    case 'flash':
    case 'alone':
      return `${act.do} ${masterName(show, act.master)} ${act.on ? 'held' : 'let go'}`;
    case 'hand':
      return act.value === null
        ? `${parameterName(show, act.key)} given back`
        : `${parameterName(show, act.key)} held at ${act.value.map((x) => Number(x.toFixed(3))).join(', ')}`;
    case 'hand place':
      return `${parameterName(show, `${act.thing}/${act.parameter}`)} held at ${share(act.place)} of its way`;
    case 'give back':
      return 'everything given back';
    case 'touch':
      return `${nameIn(show.makers, act.maker)} ${share(act.value)}`;
    case 'play':
      return act.on ? 'play' : 'pause';
    case 'seek':
      return `to ${act.to.toFixed(1)} s`;
    case 'blink':
      return act.output === 0 ? 'blink off' : `blink output ${act.output}`;
    case 'page':
      return `controllers to page ${act.page}`;
    default:
      return act.do;
  }
}
const masterName = (show: Show, id: string): string =>
  mastersOf(show).find((m) => m.id === id)?.label ?? `${id} (gone)`;
