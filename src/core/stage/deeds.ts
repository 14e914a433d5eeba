import { findParameter } from '../show/things';
import type { Deed, PhoneThing, Show } from '../show/types';
import { cueWords } from './words';
import { mastersOf } from './masters';

const GONE = 'one that is gone';

/** What a deed does, in a few words, by the names of the show. */
export function deedWords(deed: Deed, show: Show): string {
  switch (deed.do) {
    case 'look':
      return show.looks.find((l) => l.id === deed.look)?.name ?? GONE;
    case 'cue': {
      const cue = show.cues.find((c) => c.id === deed.cue);
      return cue ? cueWords(cue) : GONE;
    }
    case 'master':
      return mastersOf(show).find((m) => m.id === deed.master)?.label ?? GONE;
    case 'flash':
    case 'alone':
      return `${mastersOf(show).find((m) => m.id === deed.master)?.label ?? GONE} ${deed.do}`;
    case 'hand': {
      const found = findParameter(show, deed);
      return found ? `${found.thing.name} ${found.parameter.label}` : GONE;
    }
    case 'page':
      return `page ${deed.page}`;
    default:
      return deed.do;
  }
}

/** What a phone has that nobody laid out: go, the way back, the two that save a night, looks, masters; those looks first that have a key. */
export function usualPhone(show: Show): readonly PhoneThing[] {
  const looks = [...show.looks.filter((l) => l.key !== null), ...show.looks.filter((l) => l.key === null)],
    thing = (id: string, deed: PhoneThing['deed'], size: PhoneThing['size'] = 'half'): PhoneThing => ({
      id,
      deed,
      size,
    });
  return [
    thing('go', { do: 'go' }, 'large'),
    ...(['back', 'home', 'dark', 'freeze'] as const).map((what) => thing(what, { do: what })),
    ...looks.slice(0, LOOKS_MOST).map((l) => thing(`look-${l.id}`, { do: 'look', look: l.id })),
    ...mastersOf(show)
      .slice(0, MASTERS_MOST)
      .map((m, i) => thing(`master-${i}`, { do: 'master', master: m.id }, 'whole')),
    thing('tap', { do: 'tap' }, 'whole'),
  ];
}
/** Of more, a thumb finds none. */
const LOOKS_MOST = 24,
  MASTERS_MOST = 16;

/** The page that phones have. */
export const phoneThings = (show: Show): readonly PhoneThing[] =>
  show.phone.length > 0 ? show.phone : usualPhone(show);
