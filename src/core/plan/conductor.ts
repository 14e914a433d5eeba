import type { Hop } from '../audio/hop';
import { makeHop } from '../audio/hop';
import { AutoGain } from '../audio/autoGain';
import { DelayLine } from '../audio/delayLine';
import { Spectrum } from '../audio/spectrum';
import { BeatClock } from '../beat/beatClock';
import { bandsOf } from '../ears/bandSet';
import { makeEarRunner, signalKindOf, usualHigh, type EarRunner, type EventSink } from '../ears/ear';
import { InputMeter } from '../ears/inputMeter';
import { POINTS_LEAST } from '../ears/vector';
import { InputHearing, takeChannel } from '../hearing/hearing';
import { NoteState } from '../notes/noteState';
import { toLinear } from '../parameters/colour';
import { parameterSize, type ParameterDescription, type ParameterValue } from '../parameters/description';
import { RouteBank } from '../shaping/routeBank';
import { TAP_INDEX } from '../shaping/steps';
import { findParameter, parameterKey, restOf, thingsOf, type Thing } from '../show/things';
import { inInputOrder } from '../show/inputs';
import type { Ear, Input, Memory, Route, Show, Tempo } from '../show/types';
import { dbToGain, HOP, SAMPLE_RATE, type Seconds } from '../units';
import { INPUT_SIGNALS, inputSignal, memberSignal, routeSignal, TEMPO_SIGNALS, tempoSignal } from './names';
import { SlotTable } from './slots';
import { columnOfTick, Traces } from './traces';

export { inputSignal, memberSignal, routeSignal, tempoSignal } from './names';

/** Gives each input's sound. */
export interface HopSource {
  /**
   * Fills `hop` with one hop of an input, before trim, and sets its `mono`.
   * @returns false when this input gives nothing now; the hop then counts as silence
   */
  fill(input: string, hop: Hop): boolean;
  /** Hands over the notes of this hop. */
  notes?(input: string, into: NoteState): void;
  /** The show's position in seconds at the end of this hop, and whether it moves. */
  readonly position?: Seconds;
  readonly playing?: boolean;
}

/** Where values stand in a frame; travels to readers whenever it changes. */
export interface PlanMap {
  readonly epoch: number;
  readonly version: number;
  readonly signals: Readonly<Record<string, number>>;
  readonly parameters: Readonly<Record<string, number>>;
  /** First place and number of points of each vector. */
  readonly vectors: Readonly<Record<string, readonly [at: number, points: number]>>;
}

const DARK_BACK: Seconds = 1;
const FREEZE_BACK: Seconds = 0.6;
const EVENTS_PER_TICK = 64;

interface MixedPart { input: InputRun; gain: number; part: Extract<Input, { kind: 'mix' }>['parts'][number] }
interface InputRun {
  source: Input; gain: number; meter: InputMeter; hop: Hop; ears: EarRun[]; hearing: InputHearing; there: boolean;
  auto: AutoGain | null; delay: DelayLine | null; notes: NoteState | null; parts: MixedPart[]; scratch: Hop | null;
  peak: number; rms: number; health: number; autoDb: number;
}
interface EarRun { source: Ear; key: string; runner: EarRunner; hearing: InputHearing | null; slot: number; event: boolean; /** Places of a set's members. */ members: Int32Array; vectorAt: number }
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
  vectors: Float32Array;
  traces: Traces;
  readonly clock = new BeatClock();
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
  #vectorSlots: SlotTable;
  #tempoAt: Readonly<Record<(typeof TEMPO_SIGNALS)[number], number>> = { bpm: -1, confidence: -1, bar: -1, perBar: -1, mark: -1 };
  #tempo: Tempo | null = null;
  #tempoInput: InputRun | null = null;
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
  constructor(signalCapacity = 256, parameterCapacity = 1024, makeTraces: (rows: number) => Traces = Traces.make, vectorCapacity = 1024) {
    this.#makeTraces = makeTraces;
    this.#vectorSlots = new SlotTable(vectorCapacity);
    this.vectors = new Float32Array(vectorCapacity);
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
  get vectorCapacity(): number { return this.#vectorSlots.capacity; }
  get epoch(): number { return this.#epoch; }
  get version(): number { return this.#version; }

  /** The map of places as it stands. Allocates: for messages, not for ticks. */
  map(): PlanMap {
    const signals: Record<string, number> = {};
    for (const input of this.#inputs) for (const what of INPUT_SIGNALS) signals[inputSignal(input.source.id, what)] = this.#signalSlots.get(inputSignal(input.source.id, what))!;
    for (const what of TEMPO_SIGNALS) signals[tempoSignal(what)] = this.#tempoAt[what];
    const vectors: Record<string, readonly [number, number]> = {};
    for (const [id, ear] of this.#ears) {
      signals[id] = ear.slot;
      ear.members.forEach((at, k) => { signals[memberSignal(id, k)] = at; });
      if (ear.vectorAt >= 0) vectors[id] = [ear.vectorAt, ear.runner.vector!.length];
    }
    for (const [id, { row }] of this.#rows) signals[routeSignal(id)] = this.#rowOut[row]!;
    const parameters: Record<string, number> = {};
    for (const [key, p] of this.#params) {
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
    for (const name of signalNames(show, drafts)) if (!this.#signalSlots.has(name)) signals++;
    let vectors = this.#vectorSlots.used;
    for (const e of [...show.ears, ...drafts]) { const n = pointsOf(e); if (n > 0 && !this.#vectorSlots.has(vectorName(e, n))) vectors += n; }
    let parameters = this.#parameterSlots.used;
    for (const t of thingsOf(show)) for (const p of t.parameters) if (!this.#parameterSlots.has(`${t.id}/${p.id}`)) parameters += parameterSize(p) + (wrapOf(p) > 0 ? 1 : 0);
    return signals <= this.#signalSlots.capacity && parameters <= this.#parameterSlots.capacity && vectors <= this.#vectorSlots.capacity;
  }

  /** Larger arrays under a new epoch, with what is still wanted moved over. */
  #renew(show: Show, drafts: readonly Ear[]): void {
    const names = signalNames(show, drafts);
    const keys = thingsOf(show).flatMap((t) => t.parameters.flatMap((p): (readonly [string, number])[] => [[`${t.id}/${p.id}`, parameterSize(p)], ...(wrapOf(p) > 0 ? [[`${t.id}/${p.id}:sum`, 1] as const] : [])]));
    const grown = (used: number, from: number): number => { let n = from; while (n < used * 1.5) n *= 2; return n; };
    const signalSlots = new SlotTable(grown(names.length, this.signalCapacity));
    const parameterSlots = new SlotTable(grown(keys.reduce((n, [, size]) => n + size, 0), this.parameterCapacity));
    const rows = [...show.ears, ...drafts].map((e) => [e, pointsOf(e)] as const).filter(([, n]) => n > 0);
    const vectorSlots = new SlotTable(grown(rows.reduce((n, [, points]) => n + points, 0), this.vectorCapacity));
    for (const [e, n] of rows) vectorSlots.place(vectorName(e, n), n);
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
    this.#vectorSlots = vectorSlots;
    this.vectors = new Float32Array(vectorSlots.capacity);
    this.#epoch++;
    for (const run of this.#params.values()) this.#sums.set(`${run.thing.id}/${run.parameter.id}`, run.sum);
    this.#params.clear();
    for (const ear of this.#ears.values()) { ear.slot = signalSlots.get(ear.source.id) ?? -1; ear.vectorAt = -1; }
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
    const { order, loops } = inInputOrder(show.inputs);
    const made = new Map<string, InputRun>();
    this.#inputs = order.map((source) => {
      const old = before.get(source.id);
      // Another kind of source is another sound: its meter and all that was heard of it start anew.
      const same = old && old.source.kind === source.kind ? old : null;
      const late = Math.round((source.delayMs / 1000) * SAMPLE_RATE);
      const run: InputRun = {
        source, gain: dbToGain(source.trimDb), meter: same?.meter ?? new InputMeter(), hop: old?.hop ?? makeHop(HOP), ears: [], hearing: same?.hearing ?? new InputHearing(SAMPLE_RATE, HOP), there: false,
        auto: source.autoGain ? same?.auto ?? new AutoGain() : null,
        delay: late > 0 ? (same?.delay?.frames === late ? same.delay : new DelayLine(late)) : null,
        notes: source.kind === 'notes' ? same?.notes ?? new NoteState() : null,
        parts: source.kind === 'mix' ? source.parts.filter((p) => !loops.has(`${source.id} ${p.input}`)).flatMap((part) => { const input = made.get(part.input); return input ? [{ input, part, gain: dbToGain(part.gainDb) }] : []; }) : [],
        scratch: source.kind === 'mix' ? makeHop(HOP) : null,
        peak: this.#signalSlot(inputSignal(source.id, 'peak')), rms: this.#signalSlot(inputSignal(source.id, 'rms')), health: this.#signalSlot(inputSignal(source.id, 'health')), autoDb: this.#signalSlot(inputSignal(source.id, 'gain')),
      };
      made.set(source.id, run);
      return run;
    });
    this.#tempo = show.tempo;
    this.#tempoAt = { bpm: this.#signalSlot(tempoSignal('bpm')), confidence: this.#signalSlot(tempoSignal('confidence')), bar: this.#signalSlot(tempoSignal('bar')), perBar: this.#signalSlot(tempoSignal('perBar')), mark: this.#signalSlot(tempoSignal('mark')) };
    this.#tempoInput = show.tempo.source === 'found' ? made.get(show.tempo.input ?? show.inputs.find((i) => i.kind !== 'notes')?.id ?? '') ?? null : null;
    void this.#tempoInput?.hearing.of('sum').beat; // makes the stage
  }

  #setEars(show: Show, drafts: readonly Ear[]): void {
    const before = this.#ears;
    this.#ears = new Map();
    const inputs = new Map(this.#inputs.map((i) => [i.source.id, i]));
    for (const source of [...show.ears, ...drafts]) {
      const input = inputs.get(source.input);
      const key = `${source.input} ${source.channel} ${JSON.stringify(source.listening)}`;
      const old = before.get(source.id);
      const slot = this.#signalSlot(source.id);
      // An ear on an input that now is another kind of sound listens to that one's hearing.
      const hearing = input?.hearing ?? null;
      let run: EarRun;
      if (old && old.key === key && old.hearing === hearing) run = { ...old, source, slot };
      else {
        if (old && old.key !== key) this.traces.clear(slot); // the old trace says nothing about what is listened for now
        const runner = makeEarRunner(source.listening, { hearing: (hearing ?? new InputHearing(SAMPLE_RATE, HOP)).of(source.channel), clock: this.clock, notes: input?.notes ?? undefined });
        run = { source, key, runner, hearing, slot, event: signalKindOf(source.listening) === 'event', members: new Int32Array(0), vectorAt: -1 };
      }
      const points = run.runner.vector?.length ?? 0;
      if (points > 0) run.vectorAt = this.#vectorSlots.place(vectorName(source, points), points);
      run.members = source.listening.kind === 'bands' ? Int32Array.from({ length: points }, (_, k) => this.#signalSlot(memberSignal(source.id, k))) : run.members;
      this.#ears.set(source.id, run);
      if (input) input.ears.push(run);
      else this.signals[slot] = 0;
    }
    for (const [id, old] of before) if (!this.#ears.has(id)) { this.signals[old.slot] = NaN; for (const m of old.members) this.signals[m] = NaN; }
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
      const [earId = '', member] = route.signal.split('/');
      const ear = this.#ears.get(earId);
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
      this.#rowSignal[row] = ear?.hearing ? (member === undefined ? (ear.vectorAt < 0 ? ear.slot : -1) : ear.members[Number(member)] ?? -1) : -1;
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
    for (let i = 0; i < this.#inputs.length; i++) this.#takeIn(this.#inputs[i]!, source, time, dt);
    this.#beat(source, dt);
    for (let i = 0; i < this.#inputs.length; i++) this.#listen(this.#inputs[i]!);
    this.#shape(dt);
    this.#settle(dt);
  }

  /** One hop of an input: its sound or its notes, turned up, delayed, measured, and run through what its ears share. */
  #takeIn(input: InputRun, source: HopSource, time: Seconds, dt: Seconds): void {
    const { hop } = input;
    hop.time = time;
    hop.frames = HOP;
    if (input.notes) { input.notes.begin(); source.notes?.(input.source.id, input.notes); }
    const there = input.source.kind === 'mix' ? sum(input) : source.fill(input.source.id, hop);
    input.there = there;
    if (!there) { hop.left.fill(0); hop.right.fill(0); hop.mono = true; }
    const gain = input.gain;
    if (gain !== 1 && there) for (let i = 0; i < HOP; i++) { hop.left[i]! *= gain; hop.right[i]! *= gain; }
    // Health is that of what the device gave; what it sounds like after automatic gain is what the meter shows.
    input.auto?.process(hop, dt);
    const auto = input.auto ? dbToGain(input.auto.db) : 1;
    input.delay?.process(hop);
    input.meter.process(hop, dt, gain * auto);
    this.signals[input.peak] = input.meter.peak;
    this.signals[input.rms] = input.meter.rms;
    this.signals[input.health] = there ? input.meter.health : 0;
    this.signals[input.autoDb] = input.auto?.db ?? 0;
    this.traces.put(input.peak, input.meter.peak);
    this.traces.put(input.rms, input.meter.rms);
    input.hearing.process(hop);
    if (this.watched === input.source.id) {
      if (this.#spectrum?.input !== this.watched) this.#spectrum = { input: this.watched, spectrum: new Spectrum(SAMPLE_RATE) };
      this.#spectrum.spectrum.push(hop.left, hop.right, HOP);
    }
  }

  /** Moves the show's tempo on by a tick, and marks its beats in their trace. */
  #beat(source: HopSource, dt: Seconds): void {
    if (!this.#tempo) return;
    const { clock, signals } = this, at = this.#tempoAt;
    clock.step(this.#tempo, dt, source.position ?? 0, source.playing ?? false, this.#tempoInput?.hearing.of('sum').beat ?? null);
    signals[at.bpm] = clock.bpm;
    signals[at.confidence] = clock.confidence;
    signals[at.bar] = clock.bar;
    signals[at.perBar] = clock.beatsPerBar;
    this.traces.put(at.mark, clock.beatAgo === clock.beatAgo ? (clock.isBar ? 2 : 1) : 0);
    this.traces.put(at.bpm, clock.bpm);
  }

  #listen(input: InputRun): void {
    const { hop, hearing } = input;
    for (let i = 0; i < input.ears.length; i++) {
      const ear = input.ears[i]!;
      this.#slotNow = ear.slot;
      this.#strength[ear.slot] = 0;
      ear.runner.process(hearing.hopOf(ear.source.channel, hop), this);
      const value = ear.event ? this.#strength[ear.slot]! : ear.runner.value;
      this.signals[ear.slot] = value;
      this.traces.put(ear.slot, value);
      if (ear.vectorAt < 0) continue;
      const vector = ear.runner.vector!;
      this.vectors.set(vector, ear.vectorAt);
      for (let k = 0; k < ear.members.length; k++) {
        const m = ear.members[k]!;
        this.signals[m] = vector[k]!;
        this.traces.put(m, vector[k]!);
      }
    }
    hearing.finish(hop);
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

/** Sums the parts of a mix into its hop. @returns whether any of them gives something */
function sum({ parts, hop, scratch }: InputRun): boolean {
  hop.left.fill(0);
  hop.right.fill(0);
  hop.mono = true;
  let there = false;
  for (let k = 0; k < parts.length; k++) {
    const { input, gain, part } = parts[k]!;
    if (!input.there) continue;
    there = true;
    let from = input.hop;
    if (part.channel !== 'sum') { takeChannel(from, part.channel, scratch!); from = scratch!; }
    if (!from.mono) hop.mono = false;
    for (let i = 0; i < hop.frames; i++) { hop.left[i]! += from.left[i]! * gain; hop.right[i]! += from.right[i]! * gain; }
  }
  return there;
}

/** Every signal that a show has, by name. */
function signalNames(show: Show, drafts: readonly Ear[]): string[] {
  const ears = [...show.ears, ...drafts];
  return [
    ...TEMPO_SIGNALS.map(tempoSignal), ...show.inputs.flatMap((i) => INPUT_SIGNALS.map((w) => inputSignal(i.id, w))), ...ears.map((e) => e.id),
    ...ears.flatMap((e) => (e.listening.kind === 'bands' ? bandsOf(e.listening.set, e.listening.crossovers).map((_, k) => memberSignal(e.id, k)) : [])), ...show.routes.map((r) => routeSignal(r.id)),
  ];
}
/** Points of an ear's vector; 0 for what is none. */
function pointsOf({ listening }: Ear): number {
  return listening.kind === 'bands' ? bandsOf(listening.set, listening.crossovers).length : listening.kind === 'vector' ? Math.max(POINTS_LEAST, listening.points) : 0;
}
/** A vector that changes its length gets another place. */
const vectorName = (ear: Ear, points: number): string => `${ear.id}#${points}`;

function wrapOf(p: ParameterDescription): number {
  return p.kind === 'number' ? p.wrap ?? 0 : 0;
}

function put(to: Float64Array, at: number, value: ParameterValue): void {
  if (typeof value === 'number') to[at] = value;
  else toLinear(value, to, at);
}
