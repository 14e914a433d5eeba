import { usualHigh } from '../ears/ear';
import { RouteBank } from '../shaping/routeBank';
import { TAP_INDEX } from '../shaping/steps';
import { findParameter, parameterKey } from '../show/things';
import type { Ear, Memory, Route, Show } from '../show/types';
import { HOP, SAMPLE_RATE, type Seconds } from '../units';
import { InputBank, type HopSource } from './inputBank';
import { pointsOfEar, routeSignal, signalNames, vectorName } from './names';
import { ParameterStore, putValue } from './parameterStore';
import { SignalStore, type VectorPlace } from './signalStore';
import { columnOfTick, Traces } from './traces';

export type { HopSource } from './inputBank';
export { inputSignal, memberSignal, routeSignal, tempoSignal } from './names';

/** Where values stand in a frame; travels to readers whenever it changes. */
export interface PlanMap {
  readonly epoch: number;
  readonly version: number;
  readonly signals: Readonly<Record<string, number>>;
  readonly parameters: Readonly<Record<string, number>>;
  /** First place and number of points of each vector. */
  readonly vectors: Readonly<Record<string, readonly [at: number, points: number]>>;
}

/**
 * The whole computation of a show, one tick after the other: sound in, parameter values out. No clock, no thread, no
 * memory of its own beyond what it was given; the conductor worker, the command line and the tests all run this.
 *
 * `setShow` patches what changed and leaves the live state of everything else as it is. `tick` allocates nothing.
 */
export class Conductor {
  readonly bank = new RouteBank();
  readonly store: SignalStore;
  readonly inputs: InputBank;
  readonly #parameters: ParameterStore;
  #epoch = 0;
  #version = 0;
  #show: Show | null = null;
  #drafts: readonly Ear[] = [];
  #rows = new Map<string, { row: number; route: Route; usual: number }>();
  #freeRows: number[] = [];
  #rowCount = 0;
  #active = new Int32Array(64);
  #activeCount = 0;
  #rowSignal = new Int32Array(64);
  #rowOut = new Int32Array(64);
  #rowTarget = new Int32Array(64);
  #rowSize = new Uint8Array(64);
  #rowMuted = new Uint8Array(64);
  #rowSpan = new Float64Array(64 * 3);
  #tapped: string | null = null;
  #tappedTarget = -1;
  #learned: Memory['fits'] = {};

  /**
   * @param signalCapacity @param parameterCapacity - places to start with; more are made under a new epoch
   * @param makeTraces - where the history is kept, for callers who share it between threads
   */
  constructor(signalCapacity = 256, parameterCapacity = 1024, makeTraces: (rows: number) => Traces = Traces.make, vectorCapacity = 1024) {
    this.store = new SignalStore(signalCapacity, vectorCapacity, makeTraces);
    this.inputs = new InputBank(this.store);
    this.#parameters = new ParameterStore(parameterCapacity);
  }

  get signals(): Float32Array { return this.store.values; }
  get counts(): Uint32Array { return this.store.counts; }
  get vectors(): Float32Array { return this.store.vectors; }
  get traces(): Traces { return this.store.traces; }
  get parameters(): Float32Array { return this.#parameters.values; }
  get signalCapacity(): number { return this.store.capacity; }
  get parameterCapacity(): number { return this.#parameters.capacity; }
  get vectorCapacity(): number { return this.store.vectorCapacity; }
  get epoch(): number { return this.#epoch; }
  get version(): number { return this.#version; }
  get pictureTime(): Seconds { return this.#parameters.pictureTime; }
  get darkness(): number { return this.#parameters.darkness; }
  get held(): number { return this.#parameters.held; }
  set dark(on: boolean) { this.#parameters.dark = on; }
  set freeze(on: boolean) { this.#parameters.freeze = on; }

  /** The map of places as it stands. Allocates: for messages, not for ticks. */
  map(): PlanMap {
    const signals: Record<string, number> = {}, vectors: Record<string, readonly [number, number]> = {}, parameters: Record<string, number> = {};
    this.inputs.map(signals, vectors);
    for (const [id, { row }] of this.#rows) signals[routeSignal(id)] = this.#rowOut[row]!;
    for (const [key, p] of this.#parameters.runs) {
      parameters[key] = p.at;
      if (p.sumAt >= 0) parameters[`${key}:sum`] = p.sumAt;
    }
    return { epoch: this.#epoch, version: this.#version, signals, parameters, vectors };
  }

  /** Learned fits for routes that are yet to come; those that are at work keep theirs. */
  setMemory(memory: Pick<Memory, 'fits' | 'dark' | 'freeze'>): void {
    this.#learned = memory.fits;
    for (const [id, { row }] of this.#rows) { const fit = memory.fits[id]; if (fit) this.bank.teach(row, fit); }
    this.dark = memory.dark;
    this.freeze = memory.freeze;
    // A show that was dark opens dark, without a flash.
    this.#parameters.darkness = memory.dark ? 1 : 0;
  }

  /** Before another show: nothing that was heard or is moving belongs to it, though its ids may be the same. */
  forget(): void {
    this.inputs.forget();
    this.#parameters.forget();
    for (const { row } of this.#rows.values()) this.#freeRows.push(row);
    this.#rows.clear();
    this.store.forget();
  }

  fits(): Memory['fits'] {
    const out: Record<string, { low: number; high: number }> = {};
    for (const [id, { row, route }] of this.#rows) {
      const learned = route.shaping.fit?.mode === 'coming' ? this.bank.learned(row) : null;
      if (learned) out[id] = learned;
    }
    return out;
  }

  /** Keeps the numbers of one route at each of its steps, in `bank.taps`. */
  tap(route: string | null): void {
    this.#tapped = route;
    this.#applyTap();
  }
  #applyTap(): void {
    const run = this.#tapped === null ? undefined : this.#rows.get(this.#tapped);
    this.bank.tapped = run?.row ?? -1;
    this.bank.taps.fill(NaN);
    this.#tappedTarget = run ? this.#rowTarget[run.row]! : -1;
  }

  /**
   * Takes a show in place of the one before. What did not change keeps its live state.
   * @param drafts - ears that are tried and not (yet) part of the show
   */
  setShow(show: Show, drafts: readonly Ear[] = this.#drafts): void {
    this.#drafts = drafts;
    this.#version++;
    const ears = [...show.ears, ...drafts], names = signalNames(show, ears);
    const vectors = ears.map((e): VectorPlace => [vectorName(e, pointsOfEar(e)), pointsOfEar(e)]).filter(([, n]) => n > 0);
    if (!this.store.hasRoom(names, vectors) || !this.#parameters.hasRoom(show)) {
      this.store.renew(names, vectors);
      this.#parameters.renew(show);
      this.inputs.moved();
      this.#epoch++;
    }
    this.inputs.set(show, drafts);
    this.#parameters.set(show);
    this.#setRoutes(show);
    this.#show = show;
    this.#applyTap();
  }

  #setRoutes(show: Show): void {
    const wanted = new Set(show.routes.map((r) => r.id));
    for (const [id, { row }] of this.#rows) if (!wanted.has(id)) { this.#rows.delete(id); this.#freeRows.push(row); }
    if (this.#active.length < show.routes.length) this.#active = new Int32Array(show.routes.length * 2);
    this.#activeCount = 0;
    for (const route of show.routes) {
      const [earId = '', member] = route.signal.split('/');
      const ear = this.inputs.ears.get(earId);
      const usual = ear ? usualHigh(ear.source.listening) : 1;
      let run = this.#rows.get(route.id);
      if (!run) {
        const row = this.#freeRows.pop() ?? this.#rowCount++;
        this.#growRows(row);
        this.bank.reset(row);
        run = { row, route, usual };
        this.bank.set(row, route.shaping, usual);
        const learned = this.#learned[route.id];
        if (learned) this.bank.teach(row, learned);
      } else if (run.route.shaping !== route.shaping || run.usual !== usual) {
        this.bank.set(run.row, route.shaping, usual);
      }
      const { row } = run;
      this.#rows.set(route.id, { row, route, usual });
      this.#rowMuted[row] = route.muted ? 1 : 0;
      this.#rowOut[row] = this.store.place(routeSignal(route.id));
      this.#rowSignal[row] = ear?.hearing ? (member === undefined ? (ear.vectorAt < 0 ? ear.slot : -1) : ear.members[Number(member)] ?? -1) : -1;
      const target = this.#parameters.runs.get(parameterKey(route.target));
      this.#rowTarget[row] = target?.at ?? -1;
      this.#rowSize[row] = target?.size ?? 0;
      if (target) {
        putValue(this.#rowSpan, row * 3, route.reach);
        for (let i = 0; i < target.size; i++) this.#rowSpan[row * 3 + i]! -= this.#parameters.rest[target.at + i]!;
      }
      this.#active[this.#activeCount++] = row;
    }
  }

  #growRows(row: number): void {
    if (row < this.#rowSignal.length) return;
    const n = this.#rowSignal.length * 2;
    const grow = <T extends Int32Array | Uint8Array | Float64Array>(old: T, next: T): T => { next.set(old as never); return next; };
    this.#rowSignal = grow(this.#rowSignal, new Int32Array(n));
    this.#rowOut = grow(this.#rowOut, new Int32Array(n));
    this.#rowTarget = grow(this.#rowTarget, new Int32Array(n));
    this.#rowSize = grow(this.#rowSize, new Uint8Array(n));
    this.#rowMuted = grow(this.#rowMuted, new Uint8Array(n));
    this.#rowSpan = grow(this.#rowSpan, new Float64Array(n * 3));
  }

  /**
   * One tick: a hop of sound from every input, to every parameter's value.
   * @param index - number of the hop since the show's time began; its time is `index × HOP / SAMPLE_RATE`
   * @param dt - time since the last tick; normally one hop
   */
  tick(index: number, source: HopSource, dt: Seconds = HOP / SAMPLE_RATE): void {
    this.store.eventCount = 0;
    this.store.traces.advance(columnOfTick(index));
    this.inputs.tick(source, (index * HOP) / SAMPLE_RATE, dt);
    this.#parameters.begin();
    this.#shape(dt);
    this.#parameters.settle(dt);
    if (this.#tappedTarget >= 0) this.bank.taps[TAP_INDEX.together] = this.parameters[this.#tappedTarget]!;
  }

  #shape(dt: Seconds): void {
    const { live, rest } = this.#parameters, { values, strength } = this.store;
    this.bank.begin(dt, this.#rowCount);
    for (let i = 0; i < this.#activeCount; i++) {
      const row = this.#active[i]!;
      const slot = this.#rowSignal[row]!;
      if (slot < 0) continue;
      const y = this.bank.step(row, values[slot]!, strength[slot]!);
      values[this.#rowOut[row]!] = y;
      const target = this.#rowTarget[row]!;
      if (target < 0) continue;
      if (row === this.bank.tapped) this.bank.taps[TAP_INDEX.reach] = rest[target]! + y * this.#rowSpan[row * 3]!;
      if (this.#rowMuted[row]) continue;
      const size = this.#rowSize[row]!;
      for (let k = 0; k < size; k++) live[target + k]! += y * this.#rowSpan[row * 3 + k]!;
    }
  }

  /** The present value of a parameter, for tests and reports; NaN when there is none. */
  valueOf(key: string, component = 0): number {
    const run = this.#parameters.runs.get(key);
    return run ? this.parameters[run.at + component]! : NaN;
  }
  signalOf(id: string): number { return this.signals[this.store.find(id) ?? -1] ?? NaN; }
  countOf(id: string): number { return this.counts[this.store.find(id) ?? -1] ?? 0; }
  /** Live state of one route's shaping, for tests of what an edit leaves alone. */
  stateOf(route: string): readonly number[] | null {
    const run = this.#rows.get(route);
    return run ? this.bank.liveState(run.row) : null;
  }
  /** Whether a target exists in the show that is running. */
  isAlive(route: Route): boolean { return this.#show !== null && findParameter(this.#show, route.target) !== null; }
}
