import type { BeatClock } from '../beat/beatClock';
import { afterSource } from '../plan/afterSource';
import type { SignalStore } from '../plan/signalStore';
import { isNth, type Nth } from '../nth';
import type { Seconds } from '../units';
import { Maker, type MakerTick } from './maker';
import { makerSignalKind, nthOfMaking, otherSourceOf, sourceOf, sourcesOf, type Making } from './making';

/** A maker of a show: gives a signal of the same id. */
export interface MakerSource {
  readonly id: string;
  readonly name: string;
  readonly making: Making;
}

interface Run {
  readonly source: MakerSource;
  readonly maker: Maker;
  readonly slot: number;
  from: number;
  and: number;
  readonly nth: Nth | null;
  readonly event: boolean;
  readonly colour: boolean;
}

const EVENTS = 64;

/** The makers of a show, each after what it takes from. A loop cannot be made by hand; in a damaged file it is cut. */
export class MakerBank {
  readonly #runs = new Map<string, Run>();
  #order: Run[] = [];
  #remembered: Readonly<Record<string, readonly number[]>> = {};
  readonly #touched: { id: string; value: number }[] = [];
  #open: Seconds = 0;
  readonly #tick: MakerTick;

  constructor(
    readonly store: SignalStore,
    clock: BeatClock,
  ) {
    this.#tick = {
      time: 0,
      dt: 0,
      position: 0,
      open: 0,
      clock,
      level: 0,
      other: 0,
      events: 0,
      at: new Float64Array(EVENTS),
      strength: new Float32Array(EVENTS),
    };
  }

  /** Takes the makers of a show in place of those before; each goes on from where it is. @param placeOf - where a signal's number stands, −1 for none */
  set(makers: readonly MakerSource[], placeOf: (signal: string) => number): void {
    const before = new Map(this.#runs);
    this.#runs.clear();
    for (const source of makers) {
      const old = before.get(source.id),
        kind = makerSignalKind(source.making);
      const same = old && old.source.making.kind === source.making.kind;
      const maker = same ? old.maker : new Maker(source.id, source.making);
      if (!same && !old && this.#remembered[source.id]) maker.restore(this.#remembered[source.id]!);
      if (same && old.source.making !== source.making) maker.set(source.making);
      this.#runs.set(source.id, {
        source,
        maker,
        slot: this.store.place(source.id, kind === 'colour' ? 3 : 1),
        from: -1,
        and: -1,
        nth: nthOfMaking(source.making),
        event: kind === 'event',
        colour: kind === 'colour',
      });
    }
    for (const [id, { slot }] of before) if (!this.#runs.has(id)) this.store.values[slot] = NaN;
    for (const run of this.#runs.values()) {
      const slotOf = (id: string | null): number =>
        id === null ? -1 : (this.#runs.get(id)?.slot ?? placeOf(id));
      run.from = slotOf(sourceOf(run.source.making));
      run.and = slotOf(otherSourceOf(run.source.making));
    }
    this.#order = inOrder(this.#runs);
  }

  find(id: string): { readonly slot: number; readonly making: Making } | null {
    const run = this.#runs.get(id);
    return run ? { slot: run.slot, making: run.source.making } : null;
  }
  map(signals: Record<string, number>): void {
    for (const [id, { slot }] of this.#runs) signals[id] = slot;
  }

  /** States for makers that are yet to come, and for those that are there. */
  remember(states: Readonly<Record<string, readonly number[]>>): void {
    this.#remembered = states;
    for (const [id, { maker }] of this.#runs) if (states[id]) maker.restore(states[id]);
  }
  states(): Record<string, number[]> {
    return Object.fromEntries([...this.#runs].map(([id, { maker }]) => [id, [...maker.state]]));
  }
  forget(): void {
    this.#runs.clear();
    this.#order = [];
    this.#remembered = {};
    this.#open = 0;
  }

  /** A hand, a key or a controller moved a control; it acts at the next tick. */
  touch(id: string, value: number): void {
    if (this.#touched.length < 1024) this.#touched.push({ id, value });
  }

  /** One tick. @param time - of its end, in show time */
  tick(time: Seconds, dt: Seconds, position: Seconds): void {
    const { store } = this,
      tick = this.#tick;
    this.#open += dt;
    tick.time = time;
    tick.dt = dt;
    tick.position = position;
    tick.open = this.#open;
    for (let i = 0; i < this.#order.length; i++) store.strength[this.#order[i]!.slot] = 0;
    for (let i = 0; i < this.#touched.length; i++) {
      const { id, value } = this.#touched[i]!,
        run = this.#runs.get(id);
      if (!run) continue;
      store.current = run.slot;
      run.maker.touch(value, tick, store);
    }
    this.#touched.length = 0;
    for (let i = 0; i < this.#order.length; i++) this.#step(this.#order[i]!);
  }

  #levelAt(slot: number): number {
    const x = slot >= 0 ? this.store.values[slot]! : 0;
    return x - x === 0 ? x : 0;
  }
  #step(run: Run): void {
    const { store } = this,
      tick = this.#tick,
      { maker, slot, from, nth } = run;
    tick.level = this.#levelAt(from);
    tick.other = this.#levelAt(run.and);
    tick.events = 0;
    if (from >= 0 && store.strength[from]! > 0) {
      for (let i = 0; i < store.eventCount && tick.events < EVENTS; i++) {
        if (store.eventSlot[i] !== from) continue;
        if (nth && !isNth(store.eventNumber[i]!, nth)) continue;
        tick.at[tick.events] = store.eventTime[i]!;
        tick.strength[tick.events++] = store.eventStrength[i]!;
      }
    }
    store.current = slot;
    maker.step(tick, store);
    if (run.colour) {
      for (let c = 0; c < 3; c++) store.values[slot + c] = maker.colour[c]!;
      store.traces.put(slot, store.strength[slot]!);
      return;
    }
    const value = run.event ? store.strength[slot]! : maker.value;
    store.values[slot] = value;
    store.traces.put(slot, value);
  }
}

/** Each after what it takes from. */
function inOrder(runs: ReadonlyMap<string, Run>): Run[] {
  return afterSource(
    [...runs.values()],
    ({ source }) => sourcesOf(source.making).flatMap((id) => runs.get(id) ?? []),
    (run, source) => {
      if (run.from === source.slot) run.from = -1;
      if (run.and === source.slot) run.and = -1;
    },
  );
}
