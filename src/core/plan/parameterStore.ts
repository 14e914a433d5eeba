import { toLinear } from '../parameters/colour';
import { parameterSize, type ParameterDescription, type ParameterValue } from '../parameters/description';
import { restOf, thingsOf, type Thing } from '../show/things';
import type { Input, Show } from '../show/types';
import type { Seconds } from '../units';
import { grown } from './signalStore';
import { SlotTable } from './slots';
import { filmKey, frameNumbers, isFilm, sumKey, wrapOf } from './frameNumbers';
import { Winning } from './winning';

const DARK_BACK: Seconds = 1;
const FREEZE_BACK: Seconds = 0.6;
const HAND_BACK: Seconds = 0.8;
const ARRIVALS_PER_TICK = 256;

/** A parameter that is held by hand, or on its way back from it. */
interface Hand {
  readonly key: string;
  readonly value: Float64Array;
  weight: number;
  held: boolean;
  at: number;
  size: number;
}

export interface ParameterRun {
  readonly thing: Thing;
  readonly parameter: ParameterDescription;
  /** Its first place, and how many it has. */
  readonly at: number;
  readonly size: number;
  readonly sumAt: number;
  /** Of the pace of a film: where its sound’s place stands; else −1. */
  readonly filmAt: number;
  readonly wrap: number;
  readonly takesEvents: boolean;
  readonly takesRow: boolean;
  sum: number;
}

/** Every parameter's value, from its rest to what is sent, by {@link Winning}. Ticks allocate nothing here; edits may. */
export class ParameterStore {
  /** What is sent. */
  values: Float32Array;
  /** What wins over what, by the parameters' places. */
  winning: Winning;
  dark = false;
  freeze = false;
  /** How long the next *dark* or *freeze* takes to come in; 0: within the tick. */
  darkOver: Seconds = 0;
  freezeOver: Seconds = 0;
  /** 0 to 1: how far outputs are dark now. */
  darkness = 0;
  /** 0 to 1: how much of what is out is held. */
  frozen = 0;
  /** Seconds that the picture has lived; stands still under *freeze*. */
  pictureTime: Seconds = 0;
  runs = new Map<string, ParameterRun>();
  /** Events that came to parameters which take them in this tick: where, when, and how much in the parameter's unit. */
  readonly arrivalAt = new Int32Array(ARRIVALS_PER_TICK);
  readonly arrivalTime = new Float64Array(ARRIVALS_PER_TICK);
  readonly arrivalValue = new Float32Array(ARRIVALS_PER_TICK);
  arrivalCount = 0;
  #list: ParameterRun[] = [];
  #films: readonly { readonly at: number; readonly input: string | null }[] = [];
  /** Parameters whose events are summed, by their places. */
  readonly #summing = new Map<number, ParameterRun>();
  #hands: Hand[] = [];
  readonly #sums = new Map<string, number>();
  #slots: SlotTable;
  #wasFrozen = false;
  /** Whether *freeze* was pressed in this very tick. */
  justFrozen = false;

  /** @param beside - another store whose places this one shares: the same parameters with other values */
  constructor(capacity: number, beside: ParameterStore | null = null) {
    this.#slots = beside ? beside.#slots : new SlotTable(capacity);
    if (beside) {
      for (const [key, run] of beside.runs) this.#sums.set(key, run.sum);
      this.#hands = beside.#hands.map((h) => ({ ...h, value: h.value.slice() }));
    }
    this.values = new Float32Array(capacity);
    this.winning = new Winning(capacity);
  }

  get capacity(): number {
    return this.#slots.capacity;
  }

  hasRoom(show: Show): boolean {
    let used = this.#slots.used;
    for (const t of thingsOf(show))
      for (const [key, size] of frameNumbers(t)) if (!this.#slots.has(key)) used += size;
    return used <= this.#slots.capacity;
  }

  /** Larger arrays, into which what is still wanted moves. */
  renew(show: Show): void {
    const keys = thingsOf(show).flatMap(frameNumbers);
    const slots = new SlotTable(
      grown(
        keys.reduce((n, [, size]) => n + size, 0),
        this.capacity,
      ),
    );
    const winning = new Winning(slots.capacity);
    for (const [key, size] of keys) {
      const to = slots.place(key, size),
        from = this.#slots.get(key);
      if (from !== undefined) winning.take(this.winning, from, to, size);
    }
    this.winning = winning;
    this.values = Float32Array.from(winning.live);
    this.#slots = slots;
    for (const run of this.runs.values()) this.#sums.set(`${run.thing.id}/${run.parameter.id}`, run.sum);
    this.runs.clear();
  }

  forget(): void {
    this.runs.clear();
    this.#sums.clear();
    for (const hand of this.#hands) hand.size = 0;
    this.#hands = [];
    this.winning.handShare.fill(0);
  }

  /** Takes a parameter over by hand, or (with null) gives it back with a fade. Allocates; between ticks. @param value - one number, or three of a colour in linear light */
  setHand(key: string, value: readonly number[] | null): void {
    let hand = this.#hands.find((h) => h.key === key);
    if (value === null) {
      if (hand) hand.held = false;
      return;
    }
    if (!hand)
      this.#hands.push((hand = { key, value: new Float64Array(3), weight: 1, held: true, at: -1, size: 0 }));
    for (let i = 0; i < 3; i++) {
      const x = value[i] ?? 0;
      hand.value[i] = Number.isFinite(x) ? x : 0;
    }
    hand.held = true;
    hand.weight = 1;
    this.#placeHand(hand);
  }
  get isAnyHeld(): boolean {
    return this.#hands.some((h) => h.held);
  }
  /** What is held by hand now, for the memory. */
  hands(): Record<string, number[]> {
    return Object.fromEntries(
      this.#hands.filter((h) => h.held && h.at >= 0).map((h) => [h.key, [...h.value.subarray(0, h.size)]]),
    );
  }
  #placeHand(hand: Hand): void {
    for (let k = 0; k < hand.size; k++) this.winning.handShare[hand.at + k] = 0;
    const run = this.runs.get(hand.key);
    hand.at = run?.at ?? -1;
    hand.size = run?.size ?? 0;
  }

  set(show: Show): void {
    const before = this.runs;
    this.runs = new Map();
    this.#list = [];
    this.#summing.clear();
    for (const thing of thingsOf(show)) {
      for (const parameter of thing.parameters) {
        const key = `${thing.id}/${parameter.id}`;
        const old = before.get(key);
        const run = old && old.thing === thing ? old : this.#place(key, thing, parameter, old);
        this.runs.set(key, run);
        this.#list.push(run);
        if (run.takesEvents && run.sumAt >= 0) this.#summing.set(run.at, run);
      }
    }
    for (const hand of this.#hands) this.#placeHand(hand);
    this.#films = filmsOf(show).flatMap(({ figure, input }) => {
      const at = this.runs.get(`${figure}/pace`)?.filmAt ?? -1;
      return at < 0 ? [] : [{ at, input }];
    });
  }

  #place(
    key: string,
    thing: Thing,
    parameter: ParameterDescription,
    old: ParameterRun | undefined,
  ): ParameterRun {
    const size = parameterSize(parameter),
      wrap = wrapOf(parameter);
    const at = this.#slots.place(key, size);
    const w = this.winning;
    putValue(w.rest, at, restOf(thing, parameter));
    for (let i = at; i < at + size; i++) {
      if (!old) w.live[i] = w.frozenAt[i] = w.rest[i]!;
      // A thing that changed its kind may have other limits under the same name.
      w.low[i] = parameter.kind === 'number' ? parameter.min : 0;
      w.high[i] = parameter.kind === 'number' ? parameter.max : 1;
      w.dark[i] =
        parameter.dark === undefined ? NaN : typeof parameter.dark === 'number' ? parameter.dark : w.rest[i]!;
      w.still[i] = w.dark[i] === w.dark[i] ? w.dark[i]! : w.rest[i]!;
    }
    return {
      thing,
      parameter,
      at,
      size,
      wrap,
      sum: old?.sum ?? this.#sums.get(key) ?? 0,
      sumAt: wrap > 0 ? this.#slots.place(sumKey(key)) : -1,
      filmAt: isFilm(parameter) ? this.#slots.place(filmKey(key)) : -1,
      takesEvents: parameter.kind === 'number' && parameter.takesEvents === true,
      takesRow: parameter.kind === 'number' && parameter.takesRow === true,
    };
  }

  /** Everything to its rest, before routes move it. */
  begin(): void {
    this.arrivalCount = 0;
    this.winning.begin(this.#slots.used);
  }

  /** An event for a parameter that takes them. Those beyond a tick's {@link ARRIVALS_PER_TICK} are not kept: more act at once than can be told apart. */
  arrive(at: number, time: Seconds, value: number): void {
    const n = this.arrivalCount;
    if (n >= ARRIVALS_PER_TICK) return;
    const low = this.winning.low[at]!,
      high = this.winning.high[at]!;
    this.arrivalAt[n] = at;
    this.arrivalTime[n] = time;
    this.arrivalValue[n] = value < low ? low : value > high ? high : value;
    this.arrivalCount = n + 1;
  }

  /** From what moves the parameters to what is sent. @param placeIn - where an input is in its file, in seconds; less than 0 for none */
  settle(dt: Seconds, placeIn?: (input: string | null) => Seconds): void {
    // What is dark or held still does nothing new.
    if (this.dark || this.freeze) this.arrivalCount = 0;
    for (let i = 0; i < this.arrivalCount; i++) {
      const run = this.#summing.get(this.arrivalAt[i]!);
      if (run) {
        run.sum = (run.sum + this.arrivalValue[i]!) % run.wrap;
        this.values[run.sumAt] = run.sum;
      }
    }
    const used = this.#slots.used,
      { values, winning } = this;
    this.justFrozen = this.freeze && !this.#wasFrozen;
    if (this.justFrozen) winning.hold(values, 0, used);
    this.#wasFrozen = this.freeze;
    this.frozen = this.freeze
      ? Math.min(1, this.frozen + inOne(dt, this.freezeOver))
      : Math.max(0, this.frozen - dt / FREEZE_BACK);
    this.darkness = this.dark
      ? Math.min(1, this.darkness + inOne(dt, this.darkOver))
      : Math.max(0, this.darkness - dt / DARK_BACK);
    this.pictureTime += dt * (1 - this.frozen);
    for (let h = this.#hands.length - 1; h >= 0; h--) {
      const hand = this.#hands[h]!;
      if (!hand.held) hand.weight = Math.max(0, hand.weight - dt / HAND_BACK);
      for (let k = 0; k < hand.size; k++) {
        winning.hand[hand.at + k] = hand.value[k]!;
        winning.handShare[hand.at + k] = hand.weight;
      }
      if (hand.weight === 0) this.#hands.splice(h, 1);
    }
    winning.settle(values, 0, used, this.frozen, this.darkness);
    const flow = dt * (1 - this.frozen);
    for (let p = 0; p < this.#list.length; p++) {
      const run = this.#list[p]!;
      if (run.sumAt < 0) continue;
      if (!run.takesEvents) run.sum = (run.sum + values[run.at]! * flow) % run.wrap;
      values[run.sumAt] = run.sum;
    }
    // What is frozen stands where it was.
    if (this.frozen < 1)
      for (let i = 0; i < this.#films.length; i++) {
        const { at, input } = this.#films[i]!;
        values[at] = placeIn?.(input) ?? -1;
      }
  }
}

/** How much of the way is gone in a tick that takes `over` seconds as a whole. */
const inOne = (dt: Seconds, over: Seconds): number => (over > 0 ? dt / over : 1);

/** Films of the show, each with the input that plays its sound, if any does. */
function filmsOf({ figures, inputs }: Show): { readonly figure: string; readonly input: string | null }[] {
  return figures.flatMap(({ id, form }) => {
    if (form.kind !== 'video') return [];
    const plays = (i: Input): boolean => i.kind === 'files' && i.stems.some((s) => s.media === form.media);
    return [{ figure: id, input: inputs.find(plays)?.id ?? null }];
  });
}

export function putValue(to: Float64Array, at: number, value: ParameterValue): void {
  if (typeof value === 'number') to[at] = value;
  else toLinear(value, to, at);
}
