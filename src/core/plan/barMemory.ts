import { toHex } from '../parameters/colour';
import type { ParameterValue } from '../parameters/description';
import type { Route } from '../show/types';
import type { ParameterRun, ParameterStore } from './parameterStore';

/** What stood at a moment, sound apart: values as looks and hands had them, and how much each route moved. */
export interface Stood {
  /** By `thing/parameter`; only what did not rest. */
  readonly values: Readonly<Record<string, ParameterValue>>;
  /** By route; only those that had not all of their amount. */
  readonly routes: Readonly<Record<string, number>>;
}

/** How many bars back can still be kept. */
export const BARS_KEPT = 8;
const NOTHING = 1e-6;

interface Bar {
  values: Float64Array;
  shares: Float64Array;
  runs: ReadonlyMap<string, ParameterRun>;
  routes: readonly Route[];
}

/** What stood at the beginning of each of the last bars, and stands now. Ticks allocate nothing unless the frame has grown. */
export class BarMemory {
  readonly #bars: (Bar | null)[] = new Array<Bar | null>(BARS_KEPT + 1).fill(null);
  #newest = 0;

  constructor(
    readonly parameters: ParameterStore,
    readonly shareOf: (route: Route) => number,
  ) {}

  /** A bar begins. */
  note(routes: readonly Route[]): void {
    this.#newest = (this.#newest + 1) % this.#bars.length;
    this.#bars[this.#newest] = this.#stand(this.#bars[this.#newest] ?? null, routes);
  }
  #stand(into: Bar | null, routes: readonly Route[]): Bar {
    const { winning, runs, capacity } = this.parameters,
      { rest, look, lookShare, hand, handShare } = winning;
    let bar = into;
    if (!bar || bar.values.length !== capacity || bar.shares.length < routes.length)
      bar = {
        values: new Float64Array(capacity),
        shares: new Float64Array(routes.length * 2),
        runs,
        routes,
      };
    bar.runs = runs;
    bar.routes = routes;
    const { values, shares } = bar;
    for (let i = 0; i < capacity; i++) {
      const base = rest[i]! + (look[i]! - rest[i]!) * lookShare[i]!;
      values[i] = base + (hand[i]! - base) * handShare[i]!;
    }
    for (let i = 0; i < routes.length; i++) shares[i] = this.shareOf(routes[i]!);
    return bar;
  }
  forget(): void {
    this.#bars.fill(null);
  }

  /** @param ago - bars back, 0 for now; where that was not heard yet, the oldest there is */
  stood(ago: number, routes: readonly Route[]): Stood {
    let bar: Bar | null = null;
    for (let back = Math.min(ago, BARS_KEPT); back > 0 && !bar; back--)
      bar = this.#bars[(this.#newest - back + 1 + this.#bars.length) % this.#bars.length] ?? null;
    bar ??= this.#stand(null, routes);
    const values: Record<string, ParameterValue> = {},
      shares: Record<string, number> = {},
      { rest } = this.parameters.winning;
    for (const [key, then] of bar.runs) {
      const run = this.parameters.runs.get(key);
      if (!run || run.size !== then.size) continue;
      let differs = false;
      for (let k = 0; k < run.size; k++)
        if (Math.abs(bar.values[then.at + k]! - rest[run.at + k]!) > NOTHING) differs = true;
      if (!differs) continue;
      const v = bar.values;
      values[key] = run.size === 3 ? toHex(v[then.at]!, v[then.at + 1]!, v[then.at + 2]!) : v[then.at]!;
    }
    bar.routes.forEach((r, i) => {
      if (Math.abs(bar.shares[i]! - 1) > NOTHING) shares[r.id] = bar.shares[i]!;
    });
    return { values, routes: shares };
  }
}
