import type { Act } from '../acts';
import { usualHigh } from '../ears/ear';
import { MakerBank } from '../makers/makerBank';
import { makerSignalKind, makerUsual } from '../makers/making';
import type { RouteBank } from '../shaping/routeBank';
import { thingsOf } from '../show/things';
import type { Deed, Ear, Memory, Show, Song } from '../show/types';
import { Blink } from '../outlets/blink';
import { Leads } from '../show/leads';
import { playedInputs } from '../show/stems';
import { HOP, SAMPLE_RATE, type Seconds } from '../units';
import { InputBank, type HopSource } from './inputBank';
import { pointsOfEar, routeSignal, signalNames, vectorName } from './names';
import { filmKey, sumKey } from './frameNumbers';
import { ParameterStore } from './parameterStore';
import { RouteBoard, type SignalAt } from './routeBoard';
import { coveredParameters, coveredPlaces } from './rowBoard';
import { SignalStore, type VectorPlace } from './signalStore';
import { BarMemory, type Stood } from './barMemory';
import { rehearse } from './rehearse';
import { Stage } from './stage';
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
  readonly store: SignalStore;
  readonly inputs: InputBank;
  readonly makers: MakerBank;
  readonly #parameters: ParameterStore;
  readonly #routes: RouteBoard;
  readonly stage: Stage;
  readonly #bars: BarMemory;
  /** The look that the control window alone shows. */
  #rehearsed: string | null = null;
  #song: Song | null = null;
  /** What is tried unseen, beside what is sent: the same signals through other routes. */
  #unseen: {
    readonly parameters: ParameterStore;
    readonly routes: RouteBoard;
    readonly rows: Float32Array;
  } | null = null;
  #epoch = 0;
  #version = 0;
  #layout = 0;
  #mapped: PlanMap | null = null;
  #drafts: readonly Ear[] = [];
  #show: Show | null = null;
  /** The show as it was given. */
  #whole: Show | null = null;
  #tapped: string | null = null;

  /**
   * @param signalCapacity @param parameterCapacity - places to start with; more are made under a new epoch
   * @param makeTraces - where the history is kept, for callers who share it between threads
   */
  constructor(
    signalCapacity = 256,
    parameterCapacity = 1024,
    makeTraces: (rows: number) => Traces = Traces.make,
    vectorCapacity = 1024,
  ) {
    this.store = new SignalStore(signalCapacity, vectorCapacity, makeTraces);
    this.inputs = new InputBank(this.store);
    this.makers = new MakerBank(this.store, this.inputs.clock);
    this.#parameters = new ParameterStore(parameterCapacity);
    this.#routes = new RouteBoard(this.store, this.#parameters);
    this.stage = new Stage(this.#parameters, {
      share: (route, x) => {
        this.#routes.share(route, x);
        if (this.#rehearsed === null) this.#unseen?.routes.share(route, x);
      },
    });
    this.#bars = new BarMemory(this.#parameters, (r) => this.#routes.movesOf(r.id));
  }

  /** The shaping of all routes; of its numbers only `taps` is for others. */
  get bank(): RouteBank {
    return (this.#unseen ?? { routes: this.#routes }).routes.bank;
  }
  /** Parameters as the control window shows them while something is tried unseen; null when nothing is. */
  get preview(): Float32Array | null {
    return this.#unseen?.parameters.values ?? null;
  }
  /** Rows of values as the control window shows them meanwhile, at the same places as in `vectors`; what listens has no numbers there. */
  get previewVectors(): Float32Array | null {
    return this.#unseen?.rows ?? null;
  }
  /** Events that came to parameters in this tick; only its `arrival…` fields are for others. */
  get arrivals(): ParameterStore {
    return this.#parameters;
  }
  get signals(): Float32Array {
    return this.store.values;
  }
  get counts(): Uint32Array {
    return this.store.counts;
  }
  get vectors(): Float32Array {
    return this.store.vectors;
  }
  get traces(): Traces {
    return this.store.traces;
  }
  get parameters(): Float32Array {
    return this.#parameters.values;
  }
  get signalCapacity(): number {
    return this.store.capacity;
  }
  get parameterCapacity(): number {
    return this.#parameters.capacity;
  }
  get vectorCapacity(): number {
    return this.store.vectorCapacity;
  }
  get epoch(): number {
    return this.#epoch;
  }
  get version(): number {
    return this.#version;
  }
  /** Counts the times that {@link map} became another: while it stands still, so does every place. */
  get layout(): number {
    return this.#layout;
  }
  get dark(): boolean {
    return this.#parameters.dark;
  }
  get freeze(): boolean {
    return this.#parameters.freeze;
  }
  get pictureTime(): Seconds {
    return this.#parameters.pictureTime;
  }
  get darkness(): number {
    return this.#parameters.darkness;
  }
  get frozen(): number {
    return this.#parameters.frozen;
  }
  /** How far the picture as a whole is curtained: by *dark*, and by its masters. */
  get curtain(): number {
    return 1 - (1 - this.#parameters.darkness) * this.stage.light;
  }
  /** How far the look that comes in is in, 0 to 1. */
  get fade(): number {
    return this.stage.inBy;
  }
  /** What stood so many bars ago, sound apart; 0: what stands now. */
  stood(barsAgo: number): Stood {
    return this.#bars.stood(barsAgo, this.#routes.routes);
  }
  /** Which output blinks, to be measured. */
  get blink(): number {
    return this.#blink.value;
  }
  get blinkFrom(): Seconds {
    return this.#blink.from;
  }
  set dark(on: boolean) {
    this.#parameters.dark = on;
  }
  set freeze(on: boolean) {
    this.#parameters.freeze = on;
  }

  /** The map of places as it stands; the same object as before while no place changed. */
  map(): PlanMap {
    const now = this.#readMap(),
      before = this.#mapped;
    if (
      before &&
      before.epoch === now.epoch &&
      samePlaces(before.signals, now.signals) &&
      samePlaces(before.parameters, now.parameters) &&
      samePlaces(before.vectors, now.vectors)
    )
      return before;
    return (this.#mapped = now);
  }
  #readMap(): PlanMap {
    const signals: Record<string, number> = {},
      vectors: Record<string, readonly [number, number]> = {},
      parameters: Record<string, number> = {};
    this.inputs.map(signals, vectors);
    this.makers.map(signals);
    this.#routes.map(signals);
    this.#unseen?.routes.map(signals);
    for (const [key, p] of this.#parameters.runs) {
      parameters[key] = p.at;
      if (p.sumAt >= 0) parameters[sumKey(key)] = p.sumAt;
      if (p.filmAt >= 0) parameters[filmKey(key)] = p.filmAt;
    }
    this.#routes.mapRows(vectors, parameters);
    return { epoch: this.#epoch, version: this.#version, signals, parameters, vectors };
  }

  /** What a show has learned or holds, for what is at work and for what is yet to come. */
  setMemory(memory: Pick<Memory, 'fits' | 'dark' | 'freeze'> & Partial<Memory>): void {
    this.#routes.remember(memory.fits);
    this.makers.remember(memory.makers ?? {});
    for (const [key, value] of Object.entries(memory.hands ?? {})) this.#parameters.setHand(key, value);
    this.#rehearsed = null;
    if (memory.stage) this.stage.restore(memory.stage);
    this.dark = memory.dark;
    this.freeze = memory.freeze;
    // A show that was dark opens dark, without a flash.
    this.#parameters.darkness = memory.dark ? 1 : 0;
  }

  /** Everything is as another has it: who holds what, too. */
  follow(memory: Memory): void {
    for (const key of Object.keys(this.#parameters.hands())) if (!(key in memory.hands)) this.hand(key, null);
    this.setMemory(memory);
  }

  /** Before another show: nothing that was heard or is moving belongs to it, though its ids may be the same. */
  forget(): void {
    this.#show = null;
    this.inputs.forget();
    this.makers.forget();
    this.stage.forget();
    this.#parameters.forget();
    this.#routes.forget();
    this.#bars.forget();
    this.#rehearsed = null;
    this.#unseen = null;
    this.store.forget();
  }

  /** What it has learned and holds now. */
  remembered(): Pick<Memory, 'fits' | 'makers' | 'hands' | 'stage'> {
    return {
      fits: this.#routes.fits(),
      makers: this.makers.states(),
      hands: this.#parameters.hands(),
      stage: this.stage.state,
    };
  }

  /** Takes a parameter over by hand, or (null) gives it back with a fade. */
  hand(key: string, value: readonly number[] | null): void {
    this.#parameters.setHand(key, value);
    this.#unseen?.parameters.setHand(key, value);
  }
  /** Gives back everything that is held by hand. */
  giveBack(): void {
    for (const key of Object.keys(this.#parameters.hands())) this.hand(key, null);
  }

  /** Performs an act; it is there with the next tick. @returns false for what is not the conductor's: the transport */
  perform(act: Act): boolean {
    switch (act.do) {
      case 'dark':
        this.dark = act.on;
        this.#parameters.darkOver = act.over ?? this.#show?.darkOver ?? 0;
        return true;
      case 'freeze':
        this.freeze = act.on;
        this.#parameters.freezeOver = act.over ?? this.#show?.freezeOver ?? 0;
        return true;
      case 'go':
      case 'back':
      case 'cue':
      case 'next':
      case 'look':
      case 'home':
      case 'master':
      case 'flash':
      case 'alone':
      case 'page':
        return this.stage.perform(act);
      case 'rehearse':
        this.#rehearsed = act.look;
        if (this.#show) this.setShow(this.#whole!);
        return true;
      case 'hand':
        this.hand(act.key, act.value);
        return true;
      case 'hand place': {
        const key = `${act.thing}/${act.parameter}`,
          run = this.#parameters.runs.get(key);
        if (run?.parameter.kind !== 'number') return true;
        const { min, max } = run.parameter;
        this.hand(key, [min + (max - min) * act.place]);
        return true;
      }
      case 'give back':
        this.giveBack();
        return true;
      case 'touch':
        this.makers.touch(act.maker, act.value);
        return true;
      case 'beat now':
        this.inputs.clock.beatNow();
        return true;
      case 'tap':
        // What it makes of the tempo is an edit; where the beat is, is heard at once.
        if (this.#show?.tempo.source === 'tapped') this.inputs.clock.beatNow();
        return true;
      case 'blink':
        this.#blink.set(act.output);
        return true;
      case 'bar now':
        this.inputs.clock.barNow();
        return true;
      case 'bar found':
        this.inputs.clock.barFound();
        return true;
      case 'play':
      case 'seek':
        return false;
    }
  }

  /** Where what a deed moves stands, 0 to 1; 1 for what is on. NaN for what is gone, and for what stands nowhere. */
  stands(deed: Deed): number {
    switch (deed.do) {
      case 'dark':
        return Number(this.dark);
      case 'freeze':
        return Number(this.freeze);
      case 'master':
        return this.stage.masters.value(deed.master);
      case 'hand': {
        const run = this.#parameters.runs.get(`${deed.thing}/${deed.parameter}`);
        if (run?.parameter.kind !== 'number') return NaN;
        const { min, max } = run.parameter;
        return (this.parameters[run.at]! - min) / (max - min);
      }
      case 'give back':
        return Number(this.#parameters.isAnyHeld);
      default:
        return Number(this.stage.isIn(deed));
    }
  }

  /** Keeps the numbers of one route at each of its steps, in `bank.taps`. */
  tap(route: string | null): void {
    this.#tapped = route;
    this.#routes.tap(route);
    this.#unseen?.routes.tap(route);
  }

  /**
   * Takes a show in place of the one before. What did not change keeps its live state.
   * @param drafts - ears that are tried and not (yet) part of the show
   * @throws Error when it cannot be planned; the show before must then be set again
   */
  setShow(show: Show, drafts: readonly Ear[] = this.#drafts): void {
    try {
      this.#take(show, drafts);
    } catch (error) {
      // What was half taken is nothing to compare with: the next show is planned in as a whole.
      this.#show = null;
      throw error;
    }
  }
  #take(whole: Show, drafts: readonly Ear[]): void {
    const show = this.#leads.of(whole);
    this.#whole = whole;
    const before = this.#show,
      find = (signal: string): SignalAt | null => this.#find(signal);
    const settled =
      before !== null &&
      drafts === this.#drafts &&
      (Object.keys(show) as (keyof Show)[]).every(
        (k) => PERFORMED.has(k) || k === 'routes' || k === 'name' || show[k] === before[k],
      );
    this.#drafts = drafts;
    this.#show = show;
    this.#version++;
    // A setting of a few routes, by far the commonest edit: nothing else is gone through.
    if (
      settled &&
      this.#unseen === null &&
      this.#rehearsed === null &&
      this.#routes.patch(show.routes, find)
    ) {
      // Nor does a setting of a route concern what is performed.
      if ([...PERFORMED].some((k) => show[k] !== before[k])) this.stage.set(show);
      return;
    }
    const ears = [...show.ears, ...drafts],
      inputs = playedInputs(show.inputs, ears),
      names = signalNames({ inputs, makers: show.makers }, ears);
    const points = new Map(ears.map((e) => [e.id, pointsOfEar(e)]));
    const covered = coveredParameters(show, takesRows(show), (signal) => points.get(signal) ?? 0);
    const vectors = [
      ...ears
        .map((e): VectorPlace => [vectorName(e, pointsOfEar(e)), pointsOfEar(e)])
        .filter(([, n]) => n > 0),
      ...coveredPlaces(covered),
    ];
    if (!this.store.hasRoom(names, vectors, this.#routes.missing(show)) || !this.#parameters.hasRoom(show)) {
      this.store.renew([...names, ...show.routes.map((r) => [routeSignal(r.id), 1] as const)], vectors);
      this.#parameters.renew(show);
      this.inputs.moved();
      this.#routes.moved();
      this.#unseen = null;
      this.#epoch++;
    }
    this.inputs.set({ inputs, tempo: show.tempo }, ears);
    this.makers.set(show.makers, (signal) => {
      const at = this.#ear(signal);
      return at && !at.row ? at.slot : -1;
    });
    this.#parameters.set(show);
    this.#routes.set({ ...show, routes: show.routes.filter((r) => !r.unseen) }, find, covered);
    this.stage.set(show);
    this.#setUnseen(show, find, covered);
    const mapped = this.#mapped;
    if (this.map() !== mapped) this.#layout++;
  }

  #setUnseen(
    show: Show,
    find: (signal: string) => SignalAt | null,
    covered: ReadonlyMap<string, number>,
  ): void {
    const replaced = new Set(show.routes.flatMap((r) => (r.unseen?.of ? [r.unseen.of] : [])));
    if (!show.routes.some((r) => r.unseen) && this.#rehearsed === null) {
      this.#unseen = null;
      this.#routes.tap(this.#tapped);
      return;
    }
    if (!this.#unseen) {
      const parameters = new ParameterStore(this.#parameters.capacity, this.#parameters),
        rows = new Float32Array(this.store.vectorCapacity),
        routes = new RouteBoard(this.store, parameters, rows);
      routes.remember(this.#routes.fits());
      this.#unseen = { parameters, routes, rows };
    }
    this.#unseen.parameters.set(show);
    this.#unseen.routes.set(
      { ...show, routes: show.routes.filter((r) => !replaced.has(r.id)) },
      find,
      covered,
    );
    this.#unseen.routes.tap(this.#tapped);
    if (this.#rehearsed === null)
      for (const r of this.#routes.routes) this.#unseen.routes.share(r.id, this.#routes.shareOf(r.id));
    else rehearse(show.looks.find((l) => l.id === this.#rehearsed) ?? null, show, this.#unseen);
  }

  /** Where a signal stands; null for one that is not there. */
  #find(signal: string): SignalAt | null {
    if (signal.startsWith('route:')) {
      const slot = this.store.find(signal);
      return slot === undefined ? null : { slot, usual: 1, colour: false };
    }
    const maker = this.makers.find(signal);
    return maker
      ? {
          slot: maker.slot,
          usual: makerUsual(maker.making),
          colour: makerSignalKind(maker.making) === 'colour',
        }
      : this.#ear(signal);
  }
  #ear(signal: string): SignalAt | null {
    const [id = '', member] = signal.split('/');
    const ear = this.inputs.ears.get(id);
    if (!ear) return null;
    const usual = usualHigh(ear.source.listening);
    if (member === undefined && ear.vectorAt >= 0)
      return {
        slot: ear.hearing ? ear.slot : -1,
        usual,
        colour: false,
        row: { at: ear.vectorAt, points: ear.runner.vector!.length },
      };
    return {
      slot: ear.hearing ? (member === undefined ? ear.slot : (ear.members[Number(member)] ?? -1)) : -1,
      usual,
      colour: false,
    };
  }

  /**
   * One tick: a hop of sound from every input, to every parameter's value.
   * @param index - number of the hop since the show's time began; its time is `index × HOP / SAMPLE_RATE`
   * @param dt - time since the last tick; normally one hop
   */
  readonly #placeIn = (input: string | null): Seconds =>
    input === null ? -1 : (this.#source?.placeIn?.(input) ?? -1);
  #source: HopSource | null = null;
  readonly #slotOf = (signal: string): number | undefined => this.store.find(signal);
  readonly #leads = new Leads();
  readonly #blink = new Blink();

  tick(index: number, source: HopSource, dt: Seconds = HOP / SAMPLE_RATE): void {
    this.#source = source;
    this.store.eventCount = 0;
    this.store.traces.advance(columnOfTick(index));
    const from = (index * HOP) / SAMPLE_RATE;
    this.#blink.step(from);
    this.inputs.tick(source, from, dt);
    this.makers.tick(from + dt, dt, source.position ?? 0);
    const { clock } = this.inputs;
    this.stage.tick(dt, clock, this.store.counts, this.#slotOf, source.timeOfDay ?? NaN);
    if (this.stage.song !== this.#song) {
      this.#song = this.stage.song;
      this.inputs.song(this.#song);
    }
    if (this.stage.barFell) this.#bars.note(this.#routes.routes);
    this.#parameters.begin();
    this.#routes.tick(dt);
    this.#parameters.settle(dt, this.#placeIn);
    this.#routes.layRows();
    this.#routes.tapTogether();
    if (!this.#unseen) return;
    const { parameters, routes } = this.#unseen;
    parameters.dark = this.#parameters.dark;
    parameters.freeze = this.#parameters.freeze;
    parameters.darkness = this.#parameters.darkness;
    const { winning } = this.#parameters;
    parameters.winning.master.set(winning.master);
    if (this.#rehearsed === null) {
      parameters.winning.look.set(winning.look);
      parameters.winning.lookShare.set(winning.lookShare);
    }
    parameters.begin();
    routes.tick(dt);
    parameters.settle(dt, this.#placeIn);
    routes.layRows();
    routes.tapTogether();
  }

  /** A parameter's row of values, for tests and reports; empty when none is laid over it. */
  rowOf(key: string): Float32Array {
    const place = this.map().vectors[key];
    return place ? this.vectors.slice(place[0], place[0] + place[1]) : new Float32Array(0);
  }
  /** The present value of a parameter, for tests and reports; NaN when there is none. */
  valueOf(key: string, component = 0): number {
    const run = this.#parameters.runs.get(key);
    return run ? this.parameters[run.at + component]! : NaN;
  }
  signalOf(id: string): number {
    return this.signals[this.store.find(id) ?? -1] ?? NaN;
  }
  countOf(id: string): number {
    return this.counts[this.store.find(id) ?? -1] ?? 0;
  }
  /** Live state of one route's shaping, for tests of what an edit leaves alone. */
  stateOf(route: string): readonly number[] | null {
    return this.#routes.stateOf(route);
  }
}

/** Parts of a show that nothing of the board is planned by. */
const PERFORMED: ReadonlySet<keyof Show> = new Set(['looks', 'cues', 'songs', 'home', 'grips']);

type Places = Readonly<Record<string, number | readonly [at: number, points: number]>>;
function samePlaces(a: Places, b: Places): boolean {
  let n = 0;
  for (const key in a) {
    const x = a[key]!,
      y = b[key];
    if (x !== y && !(Array.isArray(x) && Array.isArray(y) && x[0] === y[0] && x[1] === y[1])) return false;
    n++;
  }
  return n === Object.keys(b).length;
}

/** Which parameters take rows, by key. */
function takesRows(show: Show): (key: string) => boolean {
  const keys = new Set(
    thingsOf(show).flatMap((t) =>
      t.parameters.filter((p) => p.kind === 'number' && p.takesRow).map((p) => `${t.id}/${p.id}`),
    ),
  );
  return (key) => keys.has(key);
}
