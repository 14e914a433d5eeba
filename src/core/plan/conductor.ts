import type { Hop } from '../audio/hop';
import { makeHop } from '../audio/hop';
import { Spectrum } from '../audio/spectrum';
import { makeEarRunner, signalKindOf, usualHigh, type EarRunner, type EventSink } from '../ears/ear';
import { InputMeter } from '../ears/inputMeter';
import { toLinear } from '../parameters/colour';
import { parameterSize, type ParameterDescription, type ParameterValue } from '../parameters/description';
import { RouteBank } from '../shaping/routeBank';
import { TAP_INDEX } from '../shaping/steps';
import { findParameter, parameterKey, restOf, thingsOf, type Thing } from '../show/things';
import type { Ear, Input, Memory, Route, Show } from '../show/types';
import { dbToGain, HOP, SAMPLE_RATE, type Seconds } from '../units';
import { SlotTable } from './slots';
import { columnOfTick, Traces } from './traces';

/** Gives each input's sound. */
export interface HopSource {
  /**
   * Fills `hop` with one hop of an input, before trim, and sets its `mono`.
   * @returns false when this input gives nothing now; the hop then counts as silence
   */
  fill(input: string, hop: Hop): boolean;
}

/** Where values stand in a frame; travels to readers whenever it changes. */
export interface PlanMap {
  readonly epoch: number;
  readonly version: number;
  readonly signals: Readonly<Record<string, number>>;
  readonly parameters: Readonly<Record<string, number>>;
}

/** Names of the signals that every input gives by itself. */
/** A route's shaped number, 0 at rest and 1 at reach, stands among the signals under this name. */
export const routeSignal = (route: string): string => `route:${route}`;
export const inputSignal = (input: string, what: 'peak' | 'rms' | 'health'): string => `${input}:${what}`;

const DARK_BACK: Seconds = 1;
const FREEZE_BACK: Seconds = 0.6;
const EVENTS_PER_TICK = 64;

interface InputRun { source: Input; gain: number; meter: InputMeter; hop: Hop; ears: EarRun[]; peak: number; rms: number; health: number }
interface EarRun { source: Ear; key: string; runner: EarRunner; slot: number; event: boolean }
interface ParameterRun { thing: Thing; parameter: ParameterDescription; at: number; size: number; dark: boolean; darkAt: number; sumAt: number; wrap: number; sum: number }

/**
 * The whole computation of a show, one tick after the other: sound in, parameter values out. No clock, no thread, no
 * memory of its own beyond what it was given; the conductor worker, the command line and the tests all run this.
 *
 * `setShow` patches what changed and leaves the live state of everything else as it is. `tick` allocates nothing.
 */
export class Conductor implements EventSink {
  signals: Float32Array;
  counts: Uint32Array;
  parameters: Float32Array;
  traces: Traces;
  /** Events of the last tick. */
  readonly eventSlot = new Int32Array(EVENTS_PER_TICK);
  readonly eventTime = new Float64Array(EVENTS_PER_TICK);
  readonly eventStrength = new Float32Array(EVENTS_PER_TICK);
  eventCount = 0;
  lostEvents = 0;
  /** Seconds that the picture has lived; stands still under *freeze*. */
  pictureTime: Seconds = 0;
  /** 0 to 1: how far outputs are dark now. */
  darkness = 0;
  /** 0 to 1: how much of what is out is held. */
  held = 0;
  dark = false;
  freeze = false;
  /** The field of this input is computed, into `field`, while it is not null. */
  watched: string | null = null;
  readonly bank = new RouteBank();

  #epoch = 0;
  #version = 0;
  #signalSlots: SlotTable;
  #parameterSlots: SlotTable;
  #show: Show | null = null;
  #inputs: InputRun[] = [];
  #ears = new Map<string, EarRun>();
  #drafts: readonly Ear[] = [];
  #params = new Map<string, ParameterRun>();
  #paramList: ParameterRun[] = [];
  readonly #sums = new Map<string, number>();
  #rest: Float64Array;
  #live: Float64Array;
  #heldValues: Float64Array;
  #limitLow: Float64Array;
  #limitHigh: Float64Array;
  #strength: Float32Array;
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
  #spectrum: { input: string; spectrum: Spectrum } | null = null;
  readonly #makeTraces: (rows: number) => Traces;
  #slotNow = 0;
  #wasFrozen = false;

  /**
   * @param signalCapacity @param parameterCapacity - places to start with; more are made under a new epoch
   * @param makeTraces - where the history is kept, for callers who share it between threads
   */
  constructor(signalCapacity = 256, parameterCapacity = 1024, makeTraces: (rows: number) => Traces = Traces.make) {
    this.#makeTraces = makeTraces;
    this.#signalSlots = new SlotTable(signalCapacity);
    this.#parameterSlots = new SlotTable(parameterCapacity);
    this.signals = new Float32Array(signalCapacity);
    this.counts = new Uint32Array(signalCapacity);
    this.#strength = new Float32Array(signalCapacity);
    this.traces = makeTraces(signalCapacity);
    this.parameters = new Float32Array(parameterCapacity);
    this.#rest = new Float64Array(parameterCapacity);
    this.#live = new Float64Array(parameterCapacity);
    this.#heldValues = new Float64Array(parameterCapacity);
    this.#limitLow = new Float64Array(parameterCapacity).fill(-Infinity);
    this.#limitHigh = new Float64Array(parameterCapacity).fill(Infinity);
  }

  get signalCapacity(): number { return this.#signalSlots.capacity; }
  get parameterCapacity(): number { return this.#parameterSlots.capacity; }
  get epoch(): number { return this.#epoch; }
  get version(): number { return this.#version; }

  /** The map of places as it stands. Allocates: for messages, not for ticks. */
  map(): PlanMap {
    const signals: Record<string, number> = {};
    for (const input of this.#inputs) {
      signals[inputSignal(input.source.id, 'peak')] = input.peak;
      signals[inputSignal(input.source.id, 'rms')] = input.rms;
      signals[inputSignal(input.source.id, 'health')] = input.health;
    }
    for (const [id, ear] of this.#ears) signals[id] = ear.slot;
    for (const [id, { row }] of this.#rows) signals[routeSignal(id)] = this.#rowOut[row]!;
    const parameters: Record<string, number> = {};
    for (const [key, p] of this.#params) {
      parameters[key] = p.at;
      if (p.sumAt >= 0) parameters[`${key}:sum`] = p.sumAt;
    }
    return { epoch: this.#epoch, version: this.#version, signals, parameters };
  }

  /** Learned fits for routes that are yet to come; those that are at work keep theirs. */
  setMemory(memory: Pick<Memory, 'fits' | 'dark' | 'freeze'>): void {
    this.#learned = memory.fits;
    for (const [id, { row }] of this.#rows) { const fit = memory.fits[id]; if (fit) this.bank.teach(row, fit); }
    this.dark = memory.dark;
    this.freeze = memory.freeze;
    // A show that was dark opens dark, without a flash.
    this.darkness = memory.dark ? 1 : 0;
  }

  /** Before another show: nothing that was heard or is moving belongs to it, though its ids may be the same. */
  forget(): void {
    this.#ears.clear();
    this.#inputs = [];
    this.#params.clear();
    this.#sums.clear();
    for (const { row } of this.#rows.values()) this.#freeRows.push(row);
    this.#rows.clear();
    for (let i = 0; i < this.#signalSlots.used; i++) this.traces.clear(i);
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
    if (!this.#fits(show, drafts)) this.#renew(show, drafts);
    this.#setInputs(show);
    this.#setEars(show, drafts);
    this.#setParameters(show);
    this.#setRoutes(show);
    this.#show = show;
    this.#applyTap();
  }

  /** Whether every value has a place, or can still get one. */
  #fits(show: Show, drafts: readonly Ear[]): boolean {
    let signals = this.#signalSlots.used;
    for (const i of show.inputs) if (!this.#signalSlots.has(inputSignal(i.id, 'peak'))) signals += 3;
    for (const e of show.ears) if (!this.#signalSlots.has(e.id)) signals++;
    for (const e of drafts) if (!this.#signalSlots.has(e.id)) signals++;
    for (const r of show.routes) if (!this.#signalSlots.has(routeSignal(r.id))) signals++;
    let parameters = this.#parameterSlots.used;
    for (const t of thingsOf(show)) for (const p of t.parameters) if (!this.#parameterSlots.has(`${t.id}/${p.id}`)) parameters += parameterSize(p) + (wrapOf(p) > 0 ? 1 : 0);
    return signals <= this.#signalSlots.capacity && parameters <= this.#parameterSlots.capacity;
  }

  /** Larger arrays under a new epoch, with what is still wanted moved over. */
  #renew(show: Show, drafts: readonly Ear[]): void {
    const names = [...show.inputs.flatMap((i) => (['peak', 'rms', 'health'] as const).map((w) => inputSignal(i.id, w))), ...show.ears.map((e) => e.id), ...drafts.map((e) => e.id), ...show.routes.map((r) => routeSignal(r.id))];
    const keys = thingsOf(show).flatMap((t) => t.parameters.flatMap((p): (readonly [string, number])[] => [[`${t.id}/${p.id}`, parameterSize(p)], ...(wrapOf(p) > 0 ? [[`${t.id}/${p.id}:sum`, 1] as const] : [])]));
    const grown = (used: number, from: number): number => { let n = from; while (n < used * 1.5) n *= 2; return n; };
    const signalSlots = new SlotTable(grown(names.length, this.signalCapacity));
    const parameterSlots = new SlotTable(grown(keys.reduce((n, [, size]) => n + size, 0), this.parameterCapacity));
    const signals = new Float32Array(signalSlots.capacity);
    const counts = new Uint32Array(signalSlots.capacity);
    const traces = this.#makeTraces(signalSlots.capacity);
    traces.advance(this.traces.newest);
    const column = new Float32Array(1024).subarray(0, 576);
    for (const name of names) {
      const to = signalSlots.place(name);
      const from = this.#signalSlots.get(name);
      if (from === undefined) continue;
      signals[to] = this.signals[from]!;
      counts[to] = this.counts[from]!;
      const newest = this.traces.read(from, column);
      column.forEach((x, i) => traces.fill(to, newest - column.length + 1 + i, x));
    }
    const wide = (old: Float64Array, fill = 0): Float64Array => {
      const next = new Float64Array(parameterSlots.capacity).fill(fill);
      for (const [key, size] of keys) {
        const to = parameterSlots.place(key, size);
        const from = this.#parameterSlots.get(key);
        if (from !== undefined) for (let i = 0; i < size; i++) next[to + i] = old[from + i]!;
      }
      return next;
    };
    this.#rest = wide(this.#rest);
    this.#live = wide(this.#live);
    this.#heldValues = wide(this.#heldValues);
    this.#limitLow = wide(this.#limitLow, -Infinity);
    this.#limitHigh = wide(this.#limitHigh, Infinity);
    this.parameters = Float32Array.from(this.#live);
    this.signals = signals;
    this.counts = counts;
    this.traces = traces;
    this.#strength = new Float32Array(signalSlots.capacity);
    this.#signalSlots = signalSlots;
    this.#parameterSlots = parameterSlots;
    this.#epoch++;
    for (const run of this.#params.values()) this.#sums.set(`${run.thing.id}/${run.parameter.id}`, run.sum);
    this.#params.clear();
    for (const ear of this.#ears.values()) ear.slot = signalSlots.get(ear.source.id) ?? -1;
    this.#inputs = this.#inputs.filter((i) => signalSlots.has(inputSignal(i.source.id, 'peak')));
    for (const [id, run] of this.#rows) this.#rows.set(id, { ...run, route: { ...run.route } });
  }

  #signalSlot(name: string): number {
    const known = this.#signalSlots.get(name);
    if (known !== undefined) return known;
    const at = this.#signalSlots.place(name);
    this.traces.clear(at);
    return at;
  }

  #setInputs(show: Show): void {
    const before = new Map(this.#inputs.map((i) => [i.source.id, i]));
    this.#inputs = show.inputs.map((source) => {
      const old = before.get(source.id);
      // Another kind of source is another sound: its meter starts anew.
      const same = old && old.source.kind === source.kind;
      return {
        source, gain: dbToGain(source.trimDb), meter: same ? old.meter : new InputMeter(), hop: old?.hop ?? makeHop(HOP), ears: [],
        peak: this.#signalSlot(inputSignal(source.id, 'peak')), rms: this.#signalSlot(inputSignal(source.id, 'rms')), health: this.#signalSlot(inputSignal(source.id, 'health')),
      };
    });
  }

  #setEars(show: Show, drafts: readonly Ear[]): void {
    const before = this.#ears;
    this.#ears = new Map();
    const inputs = new Map(this.#inputs.map((i) => [i.source.id, i]));
    for (const source of [...show.ears, ...drafts]) {
      const key = `${source.input} ${JSON.stringify(source.listening)}`;
      const old = before.get(source.id);
      const slot = this.#signalSlot(source.id);
      let run: EarRun;
      if (old && old.key === key) run = { ...old, source, slot };
      else {
        if (old) this.traces.clear(slot); // the old trace says nothing about what is listened for now
        run = { source, key, runner: makeEarRunner(source.listening, SAMPLE_RATE), slot, event: signalKindOf(source.listening) === 'event' };
      }
      this.#ears.set(source.id, run);
      const input = inputs.get(source.input);
      if (input) input.ears.push(run);
      else this.signals[slot] = 0;
    }
    for (const [id, old] of before) if (!this.#ears.has(id)) this.signals[old.slot] = NaN;
  }

  #setParameters(show: Show): void {
    const before = this.#params;
    this.#params = new Map();
    this.#paramList = [];
    for (const thing of thingsOf(show)) {
      for (const parameter of thing.parameters) {
        const key = `${thing.id}/${parameter.id}`;
        const old = before.get(key);
        let run = old;
        if (!old || old.thing !== thing) {
          const size = parameterSize(parameter);
          const at = this.#parameterSlots.place(key, size);
          put(this.#rest, at, restOf(thing, parameter));
          if (!old) {
            for (let i = 0; i < size; i++) {
              this.#live[at + i] = this.#heldValues[at + i] = this.#rest[at + i]!;
              this.#limitLow[at + i] = parameter.kind === 'number' ? parameter.min : 0;
              this.#limitHigh[at + i] = parameter.kind === 'number' ? parameter.max : 1;
            }
          }
          run = { thing, parameter, at, size, dark: parameter.dark !== undefined, darkAt: typeof parameter.dark === 'number' ? parameter.dark : NaN, wrap: wrapOf(parameter), sum: old?.sum ?? this.#sums.get(key) ?? 0, sumAt: wrapOf(parameter) > 0 ? this.#parameterSlots.place(`${key}:sum`) : -1 };
        }
        this.#params.set(key, run!);
        this.#paramList.push(run!);
      }
    }
  }

  #setRoutes(show: Show): void {
    const wanted = new Set(show.routes.map((r) => r.id));
    for (const [id, { row }] of this.#rows) if (!wanted.has(id)) { this.#rows.delete(id); this.#freeRows.push(row); }
    if (this.#active.length < show.routes.length) this.#active = new Int32Array(show.routes.length * 2);
    this.#activeCount = 0;
    for (const route of show.routes) {
      const ear = this.#ears.get(route.signal);
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
      this.#rowOut[row] = this.#signalSlot(routeSignal(route.id));
      this.#rowSignal[row] = ear && this.#inputs.some((i) => i.source.id === ear.source.input) ? ear.slot : -1;
      const target = this.#params.get(parameterKey(route.target));
      this.#rowTarget[row] = target?.at ?? -1;
      this.#rowSize[row] = target?.size ?? 0;
      if (target) {
        put(this.#rowSpan, row * 3, route.reach);
        for (let i = 0; i < target.size; i++) this.#rowSpan[row * 3 + i]! -= this.#rest[target.at + i]!;
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

  /** Called by the ears. @internal */
  event(time: Seconds, strength: number): void {
    const slot = this.#slotNow;
    this.counts[slot]!++;
    if (strength > this.#strength[slot]!) this.#strength[slot] = strength;
    if (this.eventCount >= EVENTS_PER_TICK) { this.lostEvents++; return; }
    this.eventSlot[this.eventCount] = slot;
    this.eventTime[this.eventCount] = time;
    this.eventStrength[this.eventCount] = strength;
    this.eventCount++;
  }

  /**
   * One tick: a hop of sound from every input, to every parameter's value.
   * @param index - number of the hop since the show's time began; its time is `index × HOP / SAMPLE_RATE`
   * @param dt - time since the last tick; normally one hop
   */
  tick(index: number, source: HopSource, dt: Seconds = HOP / SAMPLE_RATE): void {
    this.eventCount = 0;
    this.traces.advance(columnOfTick(index));
    const time = (index * HOP) / SAMPLE_RATE;
    for (let i = 0; i < this.#inputs.length; i++) this.#listen(this.#inputs[i]!, source, time, dt);
    this.#shape(dt);
    this.#settle(dt);
  }

  #listen(input: InputRun, source: HopSource, time: Seconds, dt: Seconds): void {
    const { hop } = input;
    hop.time = time;
    hop.frames = HOP;
    const there = source.fill(input.source.id, hop);
    if (!there) { hop.left.fill(0); hop.right.fill(0); hop.mono = true; }
    const gain = input.gain;
    if (gain !== 1 && there) for (let i = 0; i < HOP; i++) { hop.left[i]! *= gain; hop.right[i]! *= gain; }
    input.meter.process(hop, dt, gain);
    this.signals[input.peak] = input.meter.peak;
    this.signals[input.rms] = input.meter.rms;
    this.signals[input.health] = there ? input.meter.health : 0;
    this.traces.put(input.peak, input.meter.peak);
    this.traces.put(input.rms, input.meter.rms);
    for (let i = 0; i < input.ears.length; i++) {
      const ear = input.ears[i]!;
      this.#slotNow = ear.slot;
      this.#strength[ear.slot] = 0;
      ear.runner.process(hop, this);
      const value = ear.event ? this.#strength[ear.slot]! : ear.runner.value;
      this.signals[ear.slot] = value;
      this.traces.put(ear.slot, value);
    }
    if (this.watched === input.source.id) {
      if (this.#spectrum?.input !== this.watched) this.#spectrum = { input: this.watched, spectrum: new Spectrum(SAMPLE_RATE) };
      this.#spectrum.spectrum.push(hop.left, hop.right, HOP);
    }
  }

  /** Writes the watched input's field. @returns false when none is watched or heard */
  readField(out: Float32Array, offset: number): boolean {
    if (!this.#spectrum || this.#spectrum.input !== this.watched) return false;
    this.#spectrum.spectrum.read(out, offset);
    return true;
  }

  #shape(dt: Seconds): void {
    const live = this.#live, rest = this.#rest;
    const used = this.#parameterSlots.used;
    for (let i = 0; i < used; i++) live[i] = rest[i]!;
    this.bank.begin(dt, this.#rowCount);
    for (let i = 0; i < this.#activeCount; i++) {
      const row = this.#active[i]!;
      const slot = this.#rowSignal[row]!;
      if (slot < 0) continue;
      const y = this.bank.step(row, this.signals[slot]!, this.#strength[slot]!);
      this.signals[this.#rowOut[row]!] = y;
      const target = this.#rowTarget[row]!;
      if (target < 0) continue;
      if (row === this.bank.tapped) this.bank.taps[TAP_INDEX.reach] = rest[target]! + y * this.#rowSpan[row * 3]!;
      if (this.#rowMuted[row]) continue;
      const size = this.#rowSize[row]!;
      for (let k = 0; k < size; k++) live[target + k]! += y * this.#rowSpan[row * 3 + k]!;
    }
  }

  /** Limits, freeze and dark, in this order: dark always wins. */
  #settle(dt: Seconds): void {
    if (this.freeze && !this.#wasFrozen) {
      for (let i = 0; i < this.#heldValues.length; i++) this.#heldValues[i] = this.parameters[i]!;
    }
    this.#wasFrozen = this.freeze;
    this.held = this.freeze ? 1 : Math.max(0, this.held - dt / FREEZE_BACK);
    this.darkness = this.dark ? 1 : Math.max(0, this.darkness - dt / DARK_BACK);
    this.pictureTime += dt * (1 - this.held);
    const used = this.#parameterSlots.used;
    const { held } = this;
    for (let i = 0; i < used; i++) {
      let x = this.#live[i]!;
      const low = this.#limitLow[i]!, high = this.#limitHigh[i]!;
      x = x < low ? low : x > high ? high : x;
      this.parameters[i] = held > 0 ? x + (this.#heldValues[i]! - x) * held : x;
    }
    if (this.darkness > 0) {
      for (let p = 0; p < this.#paramList.length; p++) {
        const run = this.#paramList[p]!;
        if (!run.dark) continue;
        for (let k = 0; k < run.size; k++) {
          const at = run.at + k;
          const goal = run.darkAt === run.darkAt ? run.darkAt : this.#rest[at]!;
          this.parameters[at]! += (goal - this.parameters[at]!) * this.darkness;
        }
      }
    }
    const flow = dt * (1 - held);
    for (let p = 0; p < this.#paramList.length; p++) {
      const run = this.#paramList[p]!;
      if (run.sumAt < 0) continue;
      run.sum = (run.sum + this.parameters[run.at]! * flow) % run.wrap;
      this.parameters[run.sumAt] = run.sum;
    }
    if (this.#tappedTarget >= 0) this.bank.taps[TAP_INDEX.together] = this.parameters[this.#tappedTarget]!;
  }

  /** The present value of a parameter, for tests and reports; NaN when there is none. */
  valueOf(key: string, component = 0): number {
    const run = this.#params.get(key);
    return run ? this.parameters[run.at + component]! : NaN;
  }
  signalOf(id: string): number {
    return this.signals[this.#signalSlots.get(id) ?? -1] ?? NaN;
  }
  countOf(id: string): number {
    return this.counts[this.#signalSlots.get(id) ?? -1] ?? 0;
  }
  /** Live state of one route's shaping, for tests of what an edit leaves alone. */
  stateOf(route: string): readonly number[] | null {
    const run = this.#rows.get(route);
    return run ? this.bank.liveState(run.row) : null;
  }
  /** Whether a target exists in the show that is running. */
  isAlive(route: Route): boolean {
    return this.#show !== null && findParameter(this.#show, route.target) !== null;
  }
}

function wrapOf(p: ParameterDescription): number {
  return p.kind === 'number' ? p.wrap ?? 0 : 0;
}

function put(to: Float64Array, at: number, value: ParameterValue): void {
  if (typeof value === 'number') to[at] = value;
  else toLinear(value, to, at);
}
