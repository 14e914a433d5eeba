import { afterSource } from './afterSource';
import { STEP_NAMES, TAP_INDEX, type Shaping } from '../shaping/steps';
import { RouteBank } from '../shaping/routeBank';
import { parameterKey, thingsOf } from '../show/things';
import { COMBINES, type Combine, type Memory, type Route, type RouteGroup, type Show } from '../show/types';
import type { Seconds } from '../units';
import { routeSignal } from './names';
import { putValue, type ParameterRun, type ParameterStore } from './parameterStore';
import { RowBoard, type RowAt } from './rowBoard';
import type { SignalStore } from './signalStore';

/** Where a signal stands, what it reads when loud, and whether it is the three numbers of a colour. */
export interface SignalAt {
  readonly slot: number;
  readonly usual: number;
  readonly colour: boolean;
  /** For a row of numbers: where it stands; its slot has the greatest of them. */ readonly row?: RowAt;
}

interface Run {
  readonly row: number;
  readonly route: Route;
  readonly slot: number;
  readonly usual: number;
  readonly bypassed: boolean;
  readonly target: ParameterRun | undefined;
  readonly shaping: Shaping;
}

const OP: Readonly<Record<Combine, number>> = Object.fromEntries(COMBINES.map((c, i) => [c, i])) as Record<
  Combine,
  number
>;
const ADD = OP.add,
  SUBTRACT = OP.subtract,
  MULTIPLY = OP.multiply,
  GREATEST = OP.greatest,
  LEAST = OP.least,
  AVERAGE = OP.average,
  REPLACE = OP.replace;
/** What a bypassed route still has: without these it would be no number between rest and reach. */
const KEPT_IN_BYPASS = new Set(['strike', 'floor', 'fit', 'clamp']);

/**
 * The routes of a show: first every signal is shaped, each route after the one that moves its amount; then what comes out is
 * combined on each parameter, in the order of the show. Ticks allocate nothing; edits touch no other route's live state.
 */
export class RouteBoard {
  readonly bank = new RouteBank();
  readonly #runs = new Map<string, Run>();
  #routes: readonly Route[] = [];
  #groups = new Map<string, RouteGroup>();
  #learned: Memory['fits'] = {};
  #freeRows: number[] = [];
  #rowCount = 0;
  #order = new Int32Array(64);
  #sequence = new Int32Array(64);
  #count = 0;
  #signal = new Int32Array(64);
  #out = new Int32Array(64);
  #target = new Int32Array(64);
  #size = new Uint8Array(64);
  #silent = new Uint8Array(64);
  #op = new Uint8Array(64);
  #colour = new Uint8Array(64);
  /** 1 for a row whose target takes events one by one. */
  #oneByOne = new Uint8Array(64);
  #more = new Int32Array(64);
  #moreUsual = new Float64Array(64);
  /** How much of its amount each row has: looks and masters. */
  #share = new Float64Array(64).fill(1);
  #span = new Float64Array(64 * 3);
  #reach = new Float64Array(64 * 3);
  #met = new Uint16Array(0);
  /** Places of parameters that follow those of an original: from, to, size. */
  #follows = new Int32Array(0);
  #tapped: string | null = null;
  #tappedTarget = -1;

  readonly #rowBoard: RowBoard;
  /** 1 for a row that is laid over its parameter point by point, and moves it as a whole by nothing. */
  #laid = new Uint8Array(64);
  /** What a twin's numbers are called, and what those that it follows are. */
  #aliases: (readonly [string, string])[] = [];

  /** @param rows - where rows of values are written; among the store's vectors when it is left out */
  constructor(
    readonly store: SignalStore,
    readonly parameters: ParameterStore,
    rows: Float32Array | null = null,
  ) {
    this.#rowBoard = new RowBoard(store, parameters, rows);
  }

  remember(fits: Memory['fits']): void {
    this.#learned = fits;
    for (const [id, { row }] of this.#runs) {
      const fit = fits[id];
      if (fit) this.bank.teach(row, fit);
    }
  }
  fits(): Memory['fits'] {
    const out: Record<string, { low: number; high: number }> = {};
    for (const [id, { row, route }] of this.#runs) {
      const learned = route.shaping.fit?.mode === 'coming' ? this.bank.learned(row) : null;
      if (learned) out[id] = learned;
    }
    return out;
  }
  forget(): void {
    for (const { row } of this.#runs.values()) this.#freeRows.push(row);
    this.#runs.clear();
  }
  map(signals: Record<string, number>): void {
    for (const [id, { row }] of this.#runs) signals[routeSignal(id)] = this.#out[row]!;
  }
  /** Rows laid over parameters, by their keys; those of twins and their sums are those of what they follow. */
  mapRows(
    vectors: Record<string, readonly [at: number, points: number]>,
    parameters: Record<string, number>,
  ): void {
    this.#rowBoard.map(vectors);
    for (const [twin, original] of this.#aliases) {
      const row = vectors[original],
        sum = parameters[`${original}:sum`];
      if (row) vectors[twin] = row;
      if (sum !== undefined) parameters[`${twin}:sum`] = sum;
    }
  }
  /** How much of its amount a route has, 0 to 2: what looks and masters make of it. */
  share(route: string, x: number): void {
    const run = this.#runs.get(route);
    if (run) this.#share[run.row] = x;
  }
  shareOf(route: string): number {
    const run = this.#runs.get(route);
    return run ? this.#share[run.row]! : 1;
  }
  /** How much of its amount really moves something: a muted one has none. */
  movesOf(route: string): number {
    const run = this.#runs.get(route);
    return run && !this.#silent[run.row] ? this.#share[run.row]! : 0;
  }
  /** The routes as they were set last. */
  get routes(): readonly Route[] {
    return this.#routes;
  }
  /** Live state of one route's shaping, for tests of what an edit leaves alone. */
  stateOf(route: string): readonly number[] | null {
    const run = this.#runs.get(route);
    return run ? this.bank.liveState(run.row) : null;
  }

  /** Keeps the numbers of one route at each of its steps, in `bank.taps`. */
  tap(route: string | null): void {
    this.#tapped = route;
    const run = route === null ? undefined : this.#runs.get(route);
    this.bank.tapped = run?.row ?? -1;
    this.bank.taps.fill(NaN);
    this.#tappedTarget = run ? this.#target[run.row]! : -1;
  }

  /** How many of a show's routes have no place among the signals yet. */
  missing(show: Pick<Show, 'routes'>): number {
    let n = 0;
    for (const { id } of show.routes)
      if (!this.#runs.has(id) && this.store.find(routeSignal(id)) === undefined) n++;
    return n;
  }
  /** After the store's places were given anew: every route is planned in again, its live state untouched. */
  moved(): void {
    for (const [id, run] of this.#runs) this.#runs.set(id, { ...run, target: undefined, slot: NaN });
  }

  /** Takes a show's routes in place of those before; those that are the same object as before cost next to nothing. @param find - where a signal stands, or null when it is not there */
  set(
    show: Show,
    find: (signal: string) => SignalAt | null,
    covered: ReadonlyMap<string, number> = new Map(),
  ): void {
    this.#rowBoard.begin();
    const { routes } = show,
      wanted = new Set(routes.map((r) => r.id));
    for (const [id, { row }] of this.#runs)
      if (!wanted.has(id)) {
        this.#runs.delete(id);
        this.#freeRows.push(row);
      }
    if (this.#order.length < routes.length) {
      this.#order = new Int32Array(routes.length * 2);
      this.#sequence = new Int32Array(routes.length * 2);
    }
    if (this.#met.length < this.parameters.capacity) this.#met = new Uint16Array(this.parameters.capacity);
    const groups = (this.#groups = new Map(show.groups.map((g) => [g.id, g])));
    this.#routes = routes;
    const solo = routes.some((r) => r.soloed) || show.groups.some((g) => g.soloed);
    this.#count = routes.length;
    const known = new Map<string, SignalAt | null>();
    const at = (signal: string): SignalAt | null => {
      let s = known.get(signal);
      if (s === undefined) known.set(signal, (s = find(signal)));
      return s;
    };
    for (let i = 0; i < routes.length; i++) {
      const route = routes[i]!,
        group = route.group === null ? undefined : groups.get(route.group);
      this.#order[i] = this.#place(route, at(route.signal), route.bypassed || (group?.bypassed ?? false));
      const row = this.#order[i]!;
      this.#silent[row] = isSilent(route, group, solo);
      if (this.#laid[row]) this.#rowBoard.silence(route.id, this.#silent[row] === 1);
    }
    this.#rowBoard.end(routes, covered);
    this.#setAmounts(routes, find);
    this.#setTwins(show);
    this.tap(this.#tapped);
  }

  /**
   * The quick way of {@link set}: takes settings of a few routes when that is all that changed in the show.
   * @returns false, with nothing done, when it is more than that
   */
  patch(routes: readonly Route[], find: (signal: string) => SignalAt | null): boolean {
    const before = this.#routes,
      changed: number[] = [];
    if (routes.length !== before.length) return false;
    for (let i = 0; i < routes.length; i++) {
      const a = before[i]!,
        b = routes[i]!;
      if (a === b) continue;
      if (
        a.id !== b.id ||
        b.unseen ||
        a.group !== b.group ||
        a.soloed !== b.soloed ||
        a.amountBy !== b.amountBy ||
        a.signal !== b.signal ||
        parameterKey(a.target) !== parameterKey(b.target)
      )
        return false;
      changed.push(i);
    }
    const solo =
      changed.length > 0 &&
      (routes.some((r) => r.soloed) || [...this.#groups.values()].some((g) => g.soloed));
    for (const i of changed) {
      const route = routes[i]!,
        group = route.group === null ? undefined : this.#groups.get(route.group);
      const row = this.#place(route, find(route.signal), route.bypassed || (group?.bypassed ?? false));
      this.#silent[row] = isSilent(route, group, solo);
      if (this.#laid[row]) this.#rowBoard.silence(route.id, this.#silent[row] === 1);
    }
    this.#routes = routes;
    return true;
  }

  #place(route: Route, signal: SignalAt | null, bypassed: boolean): number {
    const target = this.parameters.runs.get(parameterKey(route.target));
    // A row moves what takes rows; anything else it needs as many of as it has points.
    const row = signal?.row && target?.takesRow ? signal.row : undefined;
    const usual = signal?.usual ?? 1,
      slot = signal?.row && !row ? -1 : (signal?.slot ?? -1);
    const index = this.#placeRow(route, signal, slot, usual, bypassed, target);
    this.#laid[index] = row ? 1 : 0;
    if (row)
      this.#rowBoard.place(
        route,
        row,
        target!,
        this.#runs.get(route.id)!.shaping,
        usual,
        this.#span[index * 3]!,
        index,
      );
    return index;
  }

  #placeRow(
    route: Route,
    signal: SignalAt | null,
    slot: number,
    usual: number,
    bypassed: boolean,
    target: ParameterRun | undefined,
  ): number {
    const old = this.#runs.get(route.id);
    if (
      old &&
      old.route === route &&
      old.slot === slot &&
      old.usual === usual &&
      old.bypassed === bypassed &&
      old.target === target
    )
      return old.row;
    const row = old?.row ?? this.#freeRows.pop() ?? this.#rowCount++;
    // The same shaping object as before needs no setting; a bypassed one is another.
    const shaping = !bypassed
      ? route.shaping
      : old && old.route.shaping === route.shaping && old.shaping !== old.route.shaping
        ? old.shaping
        : passedBy(route.shaping);
    if (!old) {
      this.#grow(row);
      this.#share[row] = 1;
      this.bank.reset(row);
      this.bank.set(row, shaping, usual);
      const learned = this.#learned[route.id];
      if (learned) this.bank.teach(row, learned);
    } else if (old.shaping !== shaping || old.usual !== usual) this.bank.set(row, shaping, usual);
    this.#runs.set(route.id, { row, route, slot, usual, bypassed, target, shaping });
    this.#out[row] = this.store.place(routeSignal(route.id));
    this.#signal[row] = slot;
    this.#op[row] = OP[route.combine];
    // A colour moves colours only.
    const fits = target && (!signal?.colour || target.size === 3);
    this.#colour[row] = signal?.colour ? 1 : 0;
    this.#target[row] = fits ? target.at : -1;
    this.#size[row] = fits ? target.size : 0;
    this.#oneByOne[row] = fits && target.takesEvents ? 1 : 0;
    if (fits) {
      putValue(this.#reach, row * 3, route.reach);
      for (let i = 0; i < target.size; i++)
        this.#span[row * 3 + i] = this.#reach[row * 3 + i]! - this.parameters.winning.rest[target.at + i]!;
    }
    return row;
  }

  /** What scales each amount, and an order in which every route comes after the one that does so to it. */
  #setAmounts(routes: readonly Route[], find: (signal: string) => SignalAt | null): void {
    let linked = false;
    for (let i = 0; i < routes.length; i++) {
      const { amountBy } = routes[i]!,
        row = this.#order[i]!;
      const by = amountBy === null ? null : find(amountBy);
      this.#more[row] = by && !by.colour && !by.row ? by.slot : -1;
      this.#moreUsual[row] = by?.usual ?? 1;
      if (amountBy?.startsWith('route:')) linked = true;
      this.#sequence[i] = row;
    }
    if (!linked) return;
    const byId = new Map(routes.map((r) => [r.id, r]));
    afterSource(
      routes,
      ({ amountBy }) => [byId.get(amountBy?.startsWith('route:') ? amountBy.slice(6) : '') ?? []].flat(),
      // By hand a loop is refused; in a damaged file it is cut.
      (route) => {
        this.#more[this.#runs.get(route.id)!.row] = -1;
      },
    ).forEach((route, n) => {
      this.#sequence[n] = this.#runs.get(route.id)!.row;
    });
  }

  /** A twin's parameter that it neither overrides nor routes itself follows its original's. */
  #setTwins(show: Show): void {
    const all = [...show.figures, ...show.laserFigures],
      figures = new Map(all.map((f) => [f.id, f] as const)),
      things = new Map(thingsOf(show).map((t) => [t.id, t] as const));
    const own = new Set(show.routes.map((r) => parameterKey(r.target)));
    const list: number[] = [];
    this.#aliases = [];
    // Where a twin's parameter comes from, for each that a chain of twins goes through: no chain is gone along twice.
    const origins = new Map<string, string>();
    const originOf = (figure: string, parameter: string): string => {
      const chain: string[] = [];
      let at = figure;
      for (;;) {
        const known = origins.get(`${at}/${parameter}`);
        if (known !== undefined) {
          at = known;
          break;
        }
        chain.push(at);
        const f = figures.get(at);
        if (!f?.twin || parameter in f.rest || own.has(`${at}/${parameter}`)) break;
        // A damaged file may have twins of each other.
        if (chain.length > figures.size) break;
        at = f.twin.of;
      }
      for (const id of chain) origins.set(`${id}/${parameter}`, at);
      return at;
    };
    for (const figure of all) {
      if (!figure.twin) continue;
      for (const { id: parameter } of things.get(figure.id)?.parameters ?? []) {
        const key = `${figure.id}/${parameter}`,
          run = this.parameters.runs.get(key),
          at = originOf(figure.id, parameter);
        const from = at === figure.id ? undefined : this.parameters.runs.get(`${at}/${parameter}`);
        if (run && from && from.size === run.size) {
          list.push(from.at, run.at, run.size);
          this.#aliases.push([key, `${at}/${parameter}`]);
        }
      }
    }
    this.#follows = Int32Array.from(list);
  }

  #grow(row: number): void {
    if (row < this.#signal.length) return;
    const n = this.#signal.length * 2;
    const grow = <T extends Int32Array | Uint8Array | Float64Array>(old: T, next: T): T => {
      next.set(old as never);
      return next;
    };
    this.#signal = grow(this.#signal, new Int32Array(n));
    this.#out = grow(this.#out, new Int32Array(n));
    this.#target = grow(this.#target, new Int32Array(n));
    this.#size = grow(this.#size, new Uint8Array(n));
    this.#silent = grow(this.#silent, new Uint8Array(n));
    this.#op = grow(this.#op, new Uint8Array(n));
    this.#laid = grow(this.#laid, new Uint8Array(n));
    this.#colour = grow(this.#colour, new Uint8Array(n));
    this.#oneByOne = grow(this.#oneByOne, new Uint8Array(n));
    this.#more = grow(this.#more, new Int32Array(n));
    this.#moreUsual = grow(this.#moreUsual, new Float64Array(n));
    this.#share = grow(this.#share, new Float64Array(n).fill(1));
    this.#span = grow(this.#span, new Float64Array(n * 3));
    this.#reach = grow(this.#reach, new Float64Array(n * 3));
  }

  /** One tick: from the signals to what moves each parameter. */
  tick(dt: Seconds): void {
    this.bank.begin(dt, this.#rowCount);
    this.#shape();
    this.#rowBoard.tick(dt, this.bank);
    this.#met.fill(0);
    this.#combine();
    this.#rowBoard.combine(this.#met);
    const { live } = this.parameters.winning;
    for (let i = 0; i < this.#follows.length; i += 3) {
      const from = this.#follows[i]!,
        to = this.#follows[i + 1]!,
        size = this.#follows[i + 2]!;
      for (let k = 0; k < size; k++) live[to + k] = live[from + k]!;
    }
  }

  // In the two loops over all routes every array is named once, before them: a field is looked up anew after each call.
  #shape(): void {
    const { values, strength } = this.store,
      { bank } = this,
      { x, strength: struck, more: scaled, y } = bank;
    const sequence = this.#sequence,
      signal = this.#signal,
      more = this.#more,
      moreUsual = this.#moreUsual,
      share = this.#share,
      colour = this.#colour,
      out = this.#out,
      count = this.#count;
    for (let i = 0; i < count; i++) {
      const row = sequence[i]!,
        slot = signal[row]!;
      if (slot < 0) continue;
      const by = more[row]!;
      let scale = share[row]!;
      if (by >= 0) {
        const m = values[by]! / moreUsual[row]!;
        scale *= m > 0 ? (m < 1 ? m : 1) : 0;
      }
      x[row] = colour[row] ? 1 : values[slot]!;
      struck[row] = strength[slot]!;
      scaled[row] = scale;
      bank.stepRow(row);
      values[out[row]!] = y[row]!;
    }
  }

  #combine(): void {
    const { live, rest } = this.parameters.winning,
      { values, strength } = this.store,
      { bank } = this,
      { y, tapped } = bank;
    const order = this.#order,
      signal = this.#signal,
      targets = this.#target,
      sizes = this.#size,
      ops = this.#op,
      silent = this.#silent,
      laid = this.#laid,
      oneByOne = this.#oneByOne,
      colour = this.#colour,
      span = this.#span,
      metAt = this.#met,
      count = this.#count;
    for (let i = 0; i < count; i++) {
      const row = order[i]!,
        slot = signal[row]!,
        target = targets[row]!;
      if (slot < 0 || target < 0) continue;
      const shaped = y[row]!,
        at = row * 3;
      if (row === tapped) bank.taps[TAP_INDEX.reach] = rest[target]! + shaped * span[at]!;
      if (silent[row] || laid[row]) continue;
      if (oneByOne[row] && strength[slot]! > 0) this.#arrive(row, slot, target);
      const met = metAt[target]!++,
        op = ops[row]!,
        size = sizes[row]!;
      for (let k = 0; k < size; k++) {
        const r = rest[target + k]!,
          x = live[target + k]!;
        const move = shaped * (colour[row] ? values[slot + k]! - r : span[at + k]!);
        const v = r + move;
        // In place: as a function that rows call too, its numbers became objects now and then.
        live[target + k] =
          op === ADD
            ? x + move
            : op === SUBTRACT
              ? x - move
              : op === MULTIPLY
                ? x * (r !== 0 ? v / r : shaped)
                : op === GREATEST
                  ? v > x
                    ? v
                    : x
                  : op === LEAST
                    ? v < x
                      ? v
                      : x
                    : op === AVERAGE
                      ? (x * met + v) / (met + 1)
                      : op === REPLACE
                        ? v
                        : x;
      }
    }
  }

  /** Every event of this tick, each by itself. */
  #arrive(row: number, slot: number, target: number): void {
    const { store, parameters } = this;
    for (let i = 0; i < store.eventCount; i++) {
      if (store.eventSlot[i] !== slot) continue;
      const y = this.bank.once(row, store.eventStrength[i]!);
      if (y > 0)
        parameters.arrive(
          target,
          store.eventTime[i]!,
          parameters.winning.rest[target]! + y * this.#span[row * 3]!,
        );
    }
  }

  /** Rows over parameters, once the parameters are settled. */
  layRows(): void {
    this.#rowBoard.settle();
  }

  /** After limits and dark: what is really sent for the tapped route's parameter. */
  tapTogether(): void {
    if (this.#tappedTarget >= 0)
      this.bank.taps[TAP_INDEX.together] = this.parameters.values[this.#tappedTarget]!;
  }
}

function isSilent(route: Route, group: RouteGroup | undefined, solo: boolean): 0 | 1 {
  return route.muted || group?.muted || (solo && !route.soloed && !group?.soloed) ? 1 : 0;
}
function passedBy(shaping: Shaping): Shaping {
  const kept: Record<string, unknown> = { amount: shaping.amount };
  for (const step of STEP_NAMES)
    if (KEPT_IN_BYPASS.has(step) && shaping[step] !== undefined) kept[step] = shaping[step];
  return kept as unknown as Shaping;
}

/**
 * The way by which a route's amount would come to be moved by itself if `signal` moved it: ids of routes from the route back to
 * itself, or null when it would not.
 */
export function amountLoop(
  show: Pick<Show, 'routes'>,
  route: string,
  signal: string,
): readonly string[] | null {
  const byId = new Map(show.routes.map((r) => [r.id, r]));
  const path = [route];
  for (let at = signal; at.startsWith('route:');) {
    const id = at.slice(6);
    path.push(id);
    if (id === route) return path;
    const next = byId.get(id)?.amountBy;
    if (!next || path.length > show.routes.length + 2) return null;
    at = next;
  }
  return null;
}
