import { pointsOfEar } from '../plan/names';
import { STEMS_HEARD_MOST, stemsHeard } from './stems';
import type { Show } from './types';

/**
 * How much a show may have: what the application was measured to bear on two cores, with time left for drawing. Ticks come every
 * 5.3 ms; each of these alone takes about half of that.
 */
export const LIMITS = {
  routes: 10000,
  makers: 2500,
  ears: 1000,
  figures: 2000,
  figureGroups: 1000,
  finishes: 500,
  fixtures: 4096,
  kinds: 200,
  spots: 500,
  merges: 512,
  messages: 128,
  laserFigures: 64,
  groups: 1000,
  shapes: 1000,
  ramps: 200,
  looks: 1000,
  cues: 2000,
  songs: 200,
  grips: 500,
  phone: 60,
  overlays: 100,
  screens: 32,
  wires: 64,
  inputs: 16,
} as const satisfies Partial<Record<keyof Show, number>>;
/** Bands of all sets together, a single ear counting as one, and a row of points as four. */
export const LISTENING_MOST = 1200;

const WORDS: Readonly<Record<keyof typeof LIMITS, string>> = {
  routes: 'routes',
  makers: 'makers',
  ears: 'ears',
  figures: 'figures',
  figureGroups: 'groups of figures',
  finishes: 'finishes',
  fixtures: 'lamps',
  kinds: 'kinds of lamps',
  spots: 'spots',
  merges: 'shared universes',
  messages: 'messages to other programs',
  laserFigures: 'figures of the laser',
  groups: 'groups of routes',
  shapes: 'kept shapes',
  ramps: 'kept ramps',
  looks: 'looks',
  cues: 'cues',
  songs: 'songs',
  grips: 'grips',
  phone: 'things on a phone’s page',
  overlays: 'overlays',
  screens: 'screens',
  wires: 'wires',
  inputs: 'inputs',
};

/** Why a show is more than can be played, in words; null when it is not. */
export function tooMuch(show: Pick<Show, keyof typeof LIMITS>): string | null {
  for (const key of Object.keys(LIMITS) as (keyof typeof LIMITS)[])
    if (show[key].length > LIMITS[key])
      return `A show may have ${LIMITS[key]} ${WORDS[key]}; this would be ${show[key].length}.`;
  const stems = stemsHeard(show);
  if (stems > STEMS_HEARD_MOST)
    return `Ears may hear ${STEMS_HEARD_MOST} stems by themselves; this would be ${stems}. Make those that are heard an input of their own, without the others.`;
  const heard = show.ears.reduce(
    (n, e) => n + (e.listening.kind === 'bands' ? pointsOfEar(e) : e.listening.kind === 'vector' ? 4 : 1),
    0,
  );
  return heard > LISTENING_MOST
    ? `All ears together may hear ${LISTENING_MOST} bands; this would be ${heard}. Listen for fewer, or with fewer bands.`
    : null;
}
