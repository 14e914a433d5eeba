import type { Ear, Route, Show } from './types';

/** Longest lead. */
export const LEAD_MOST = 1000;

/** Whether what an ear tells can be told early: of a beat it is known where it will be. */
export const canLead = (ear: Ear | null | undefined): boolean =>
  ear?.listening.kind === 'beat' &&
  ear.listening.reading !== 'tempo' &&
  ear.listening.reading !== 'confidence';

const ledId = (ear: string, ms: number): string => `${ear}>${ms}`;
const earsLed = new WeakMap<Ear, Map<number, Ear>>();
const routesLed = new WeakMap<Route, Route>();
function ledEar(ear: Ear, leadMs: number): Ear {
  let known = earsLed.get(ear);
  if (!known) earsLed.set(ear, (known = new Map()));
  let led = known.get(leadMs);
  if (!led && ear.listening.kind === 'beat')
    known.set(leadMs, (led = { ...ear, id: ledId(ear.id, leadMs), listening: { ...ear.listening, leadMs } }));
  return led ?? ear;
}

/**
 * The show as it is computed: a route with a lead hears its beat by an ear of its own, which hears it so much earlier. What has no
 * lead is the same object as before; so is what has one, while it does not change.
 */
export class Leads {
  #extra: readonly Ear[] = [];
  #own: readonly Ear[] | null = null;
  #ears: readonly Ear[] = [];

  of(show: Show): Show {
    const routes = show.routes;
    if (!routes.some((r) => r.leadMs)) return show;
    const ears = new Map(show.ears.map((e) => [e.id, e])),
      extra = new Map<string, Ear>();
    const led = routes.map((route) => {
      const ear = route.leadMs ? ears.get(route.signal) : undefined;
      if (!ear || !canLead(ear)) return route;
      const early = ledEar(ear, route.leadMs!);
      extra.set(early.id, early);
      let known = routesLed.get(route);
      if (known?.signal !== early.id) routesLed.set(route, (known = { ...route, signal: early.id }));
      return known;
    });
    const all = [...extra.values()],
      same =
        this.#own === show.ears &&
        all.length === this.#extra.length &&
        all.every((e, i) => e === this.#extra[i]);
    if (!same) this.#ears = [...show.ears, ...all];
    this.#extra = all;
    this.#own = show.ears;
    return { ...show, ears: this.#ears, routes: led };
  }
}
