import { RouteBank } from '../shaping/routeBank';
import type { Shaping } from '../shaping/steps';
import { parameterKey } from '../show/things';
import type { Combine, Route, Show } from '../show/types';
import type { Seconds } from '../units';
import type { ParameterRun, ParameterStore } from './parameterStore';
import type { SignalStore, VectorPlace } from './signalStore';
import { Winning } from './winning';

/** Where a row of numbers stands among the vectors. */
export interface RowAt {
  readonly at: number;
  readonly points: number;
}

/** One route that lays a row over a parameter: each of its points is shaped by a row of the bank of its own. */
interface Laid {
  readonly route: Route;
  readonly from: RowAt;
  readonly first: number;
  readonly target: ParameterRun;
  readonly span: number;
  op: Combine;
  silent: boolean;
  more: number;
  lead: number;
}
/** A parameter over which rows are laid, and where its values, one for each point, are written. */
interface Covered {
  readonly target: ParameterRun;
  readonly at: number;
  readonly points: number;
  readonly laid: Laid[];
  /** Nothing of it went out yet: under *freeze* its first values are what is held. */
  fresh: boolean;
}

const coveredName = (key: string, points: number): string => `${key}#${points}`;

/** Parameters over which a show lays rows, with the points of the longest of them. */
export function coveredParameters(
  show: Show,
  takesRow: (key: string) => boolean,
  pointsOf: (signal: string) => number,
): Map<string, number> {
  const out = new Map<string, number>();
  for (const route of show.routes) {
    const key = parameterKey(route.target),
      points = pointsOf(route.signal);
    if (points > 0 && takesRow(key)) out.set(key, Math.max(points, out.get(key) ?? 0));
  }
  return out;
}
export function coveredPlaces(covered: ReadonlyMap<string, number>): VectorPlace[] {
  return [...covered].map(([key, points]): VectorPlace => [coveredName(key, points), points]);
}

/**
 * Rows laid over parameters: a spectrum over the heights of copies, a waveform over a line. Every point goes through the route's
 * whole shaping by itself; a fit that learns is learnt from the loudest point and shared. What comes out is combined as routes
 * are, upon what the parameter has by itself. Ticks allocate nothing.
 */
export class RowBoard {
  readonly #bank = new RouteBank();
  #laid = new Map<string, Laid>();
  #kept = new Map<string, Laid>();
  #list: Laid[] = [];
  #covered: Covered[] = [];
  #rows = 0;
  readonly #free = new Map<number, number[]>();
  /** The points of all rows, by their places among the vectors. */
  #cells = new Winning(0);

  /** @param into - where rows of values are written, as many places as the store has for vectors; the store's own when it is left out */
  constructor(
    readonly store: SignalStore,
    readonly parameters: ParameterStore,
    readonly into: Float32Array | null = null,
  ) {}

  /** Before the routes of a show are placed. */
  begin(): void {
    this.#kept = this.#laid;
    this.#laid = new Map();
  }
  /** One route whose signal is a row. @param lead - its own row in the board's bank, from which a learning fit is shared */
  place(
    route: Route,
    from: RowAt,
    target: ParameterRun,
    shaping: Shaping,
    usual: number,
    span: number,
    lead: number,
  ): void {
    const old = this.#laid.get(route.id) ?? this.#kept.get(route.id);
    const keep = old !== undefined && old.from.points === from.points;
    const first = keep ? old.first : this.#take(from.points);
    for (let i = 0; i < from.points; i++) {
      if (!keep) this.#bank.reset(first + i);
      this.#bank.set(first + i, shaping, usual);
    }
    if (keep) this.#kept.delete(route.id);
    const laid: Laid = {
      route,
      from,
      first,
      target,
      span,
      op: route.combine,
      silent: old?.silent ?? false,
      more: 1,
      lead,
    };
    // A setting alone leaves the plan as it is.
    const at = this.#list.findIndex((l) => l.route.id === route.id);
    if (at >= 0) this.#list[at] = laid;
    for (const c of this.#covered) {
      const k = c.laid.findIndex((l) => l.route.id === route.id);
      if (k >= 0) c.laid[k] = laid;
    }
    this.#laid.set(route.id, laid);
  }
  /** After the last route. @param covered - the parameters that rows are laid over, and their points */
  end(routes: readonly Route[], covered: ReadonlyMap<string, number>): void {
    for (const gone of this.#kept.values()) this.#give(gone.first, gone.from.points);
    this.#kept.clear();
    this.#list = routes.flatMap((r) => this.#laid.get(r.id) ?? []);
    const laidOn = new Map<ParameterRun, Laid[]>();
    for (const laid of this.#list) {
      const list = laidOn.get(laid.target);
      if (list) list.push(laid);
      else laidOn.set(laid.target, [laid]);
    }
    const before = new Map(this.#covered.map((c) => [c.at, c.points]));
    this.#covered = [...covered].flatMap(([key, points]): Covered[] => {
      const target = this.parameters.runs.get(key);
      if (!target) return [];
      const at = this.store.placeVector(coveredName(key, points), points);
      return [{ target, at, points, laid: laidOn.get(target) ?? [], fresh: before.get(at) !== points }];
    });
  }
  silence(route: string, silent: boolean): void {
    const laid = this.#laid.get(route);
    if (laid) laid.silent = silent;
  }

  #take(points: number): number {
    const first = this.#free.get(points)?.pop();
    if (first !== undefined) return first;
    this.#rows += points;
    return this.#rows - points;
  }
  #give(first: number, points: number): void {
    let list = this.#free.get(points);
    if (!list) this.#free.set(points, (list = []));
    list.push(first);
  }

  /** Adds the places of covered parameters, by their keys. */
  map(vectors: Record<string, readonly [at: number, points: number]>): void {
    for (const { target, at, points } of this.#covered)
      vectors[`${target.thing.id}/${target.parameter.id}`] = [at, points];
  }

  /** Every point one tick further. @param lead - the bank in which each route has its own row, stepped already */
  tick(dt: Seconds, lead: RouteBank): void {
    const bank = this.#bank,
      { vectors } = this.store;
    bank.begin(dt, this.#rows);
    for (let k = 0; k < this.#list.length; k++) {
      const laid = this.#list[k]!,
        { at, points } = laid.from,
        more = lead.more[laid.lead]!;
      for (let i = 0; i < points; i++) {
        const row = laid.first + i;
        bank.shareFit(row, lead, laid.lead);
        bank.x[row] = vectors[at + i]!;
        bank.more[row] = more;
        bank.stepRow(row);
      }
    }
  }

  /** What each point is moved to, upon what its parameter is moved to by then. @param met - by a parameter's place: routes that moved it as a whole, which an average counts too */
  combine(met: Uint16Array): void {
    const { rest, live } = this.parameters.winning,
      cells = this.store.vectors.length === this.#cells.capacity ? this.#cells : this.#grown();
    for (let c = 0; c < this.#covered.length; c++) {
      const { target, at, points, laid } = this.#covered[c]!,
        base = live[target.at]!,
        r = rest[target.at]!;
      for (let i = 0; i < points; i++) {
        let x = base,
          before = met[target.at]!;
        for (let k = 0; k < laid.length; k++) {
          const l = laid[k]!;
          if (l.silent) continue;
          const y = this.#point(l, i, points),
            move = y * l.span,
            v = r + move;
          switch (l.op) {
            case 'add':
              x += move;
              break;
            case 'subtract':
              x -= move;
              break;
            case 'multiply':
              x *= r !== 0 ? v / r : y;
              break;
            case 'greatest':
              x = v > x ? v : x;
              break;
            case 'least':
              x = v < x ? v : x;
              break;
            case 'average':
              x = (x * before + v) / (before + 1);
              break;
            case 'replace':
              x = v;
              break;
          }
          before++;
        }
        cells.live[at + i] = x;
      }
    }
  }

  /** From there to what is sent: a point is won over by all that its parameter is won over by. After {@link ParameterStore.settle}. */
  settle(): void {
    const { winning, frozen, darkness, justFrozen } = this.parameters,
      out = this.into ?? this.store.vectors,
      cells = this.#cells;
    for (let c = 0; c < this.#covered.length; c++) {
      const { target, at, points } = this.#covered[c]!,
        from = target.at,
        to = at + points;
      cells.hand.fill(winning.hand[from]!, at, to);
      cells.handShare.fill(winning.handShare[from]!, at, to);
      cells.master.fill(winning.master[from]!, at, to);
      cells.still.fill(winning.still[from]!, at, to);
      cells.low.fill(winning.low[from]!, at, to);
      cells.high.fill(winning.high[from]!, at, to);
      cells.dark.fill(winning.dark[from]!, at, to);
      if (this.#covered[c]!.fresh) cells.settle(out, at, to, 0, 0);
      if (justFrozen || this.#covered[c]!.fresh) cells.hold(out, at, to);
      this.#covered[c]!.fresh = false;
      cells.settle(out, at, to, frozen, darkness);
    }
  }
  #grown(): Winning {
    for (const c of this.#covered) c.fresh = true;
    return (this.#cells = new Winning(this.store.vectors.length));
  }
  /** A row that is shorter than another on the same parameter is drawn out to its length. */
  #point({ first, from }: Laid, i: number, points: number): number {
    const { y } = this.#bank;
    if (from.points === points) return y[first + i]!;
    const along = points > 1 ? (i * (from.points - 1)) / (points - 1) : 0,
      k = Math.min(from.points - 1, Math.floor(along)),
      n = Math.min(from.points - 1, k + 1);
    return y[first + k]! + (y[first + n]! - y[first + k]!) * (along - k);
  }
}
