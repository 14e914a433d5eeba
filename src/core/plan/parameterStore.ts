import { toLinear } from '../parameters/colour';
import { parameterSize, type ParameterDescription, type ParameterValue } from '../parameters/description';
import { restOf, thingsOf, type Thing } from '../show/things';
import type { Show } from '../show/types';
import type { Seconds } from '../units';
import { grown } from './signalStore';
import { SlotTable } from './slots';

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
  readonly dark: boolean;
  readonly darkAt: number;
  readonly sumAt: number;
  readonly wrap: number;
  readonly takesEvents: boolean;
  readonly takesRow: boolean;
  sum: number;
}

/**
 * Every parameter's value, from its rest over what moves it to what is sent: hand, limits, freeze, and dark, in this order, so
 * that dark always wins. Ticks allocate nothing here; edits may.
 */
export class ParameterStore {
  /** What is sent. */
  values: Float32Array;
  rest: Float64Array;
  /** Rest and everything that moves it, before limits. */
  live: Float64Array;
  dark = false;
  freeze = false;
  /** 0 to 1: how far outputs are dark now. */
  darkness = 0;
  /** 0 to 1: how much of what is out is held. */
  held = 0;
  /** Seconds that the picture has lived; stands still under *freeze*. */
  pictureTime: Seconds = 0;
  runs = new Map<string, ParameterRun>();
  /** Events that came to parameters which take them in this tick: where, when, and how much in the parameter's unit. */
  readonly arrivalAt = new Int32Array(ARRIVALS_PER_TICK);
  readonly arrivalTime = new Float64Array(ARRIVALS_PER_TICK);
  readonly arrivalValue = new Float32Array(ARRIVALS_PER_TICK);
  arrivalCount = 0;
  #list: ParameterRun[] = [];
  /** Parameters whose events are summed, by their places. */
  readonly #summing = new Map<number, ParameterRun>();
  #hands: Hand[] = [];
  readonly #sums = new Map<string, number>();
  #slots: SlotTable;
  #held: Float64Array;
  #low: Float64Array;
  #high: Float64Array;
  #wasFrozen = false;

  /** @param beside - another store whose places this one shares: the same parameters with other values */
  constructor(capacity: number, beside: ParameterStore | null = null) {
    this.#slots = beside ? beside.#slots : new SlotTable(capacity);
    if (beside) {
      for (const [key, run] of beside.runs) this.#sums.set(key, run.sum);
      this.#hands = beside.#hands.map((h) => ({ ...h, value: h.value.slice() }));
    }
    this.values = new Float32Array(capacity);
    this.rest = new Float64Array(capacity);
    this.live = new Float64Array(capacity);
    this.#held = new Float64Array(capacity);
    this.#low = new Float64Array(capacity).fill(-Infinity);
    this.#high = new Float64Array(capacity).fill(Infinity);
  }

  get capacity(): number {
    return this.#slots.capacity;
  }

  hasRoom(show: Show): boolean {
    let used = this.#slots.used;
    for (const t of thingsOf(show))
      for (const p of t.parameters)
        if (!this.#slots.has(`${t.id}/${p.id}`)) used += parameterSize(p) + (wrapOf(p) > 0 ? 1 : 0);
    return used <= this.#slots.capacity;
  }

  /** Larger arrays, into which what is still wanted moves. */
  renew(show: Show): void {
    const keys = thingsOf(show).flatMap((t) =>
      t.parameters.flatMap((p): (readonly [string, number])[] => [
        [`${t.id}/${p.id}`, parameterSize(p)],
        ...(wrapOf(p) > 0 ? [[`${t.id}/${p.id}:sum`, 1] as const] : []),
      ]),
    );
    const slots = new SlotTable(
      grown(
        keys.reduce((n, [, size]) => n + size, 0),
        this.capacity,
      ),
    );
    const wide = (old: Float64Array, fill = 0): Float64Array => {
      const next = new Float64Array(slots.capacity).fill(fill);
      for (const [key, size] of keys) {
        const to = slots.place(key, size);
        const from = this.#slots.get(key);
        if (from !== undefined) for (let i = 0; i < size; i++) next[to + i] = old[from + i]!;
      }
      return next;
    };
    this.rest = wide(this.rest);
    this.live = wide(this.live);
    this.#held = wide(this.#held);
    this.#low = wide(this.#low, -Infinity);
    this.#high = wide(this.#high, Infinity);
    this.values = Float32Array.from(this.live);
    this.#slots = slots;
    for (const run of this.runs.values()) this.#sums.set(`${run.thing.id}/${run.parameter.id}`, run.sum);
    this.runs.clear();
  }

  forget(): void {
    this.runs.clear();
    this.#sums.clear();
    this.#hands = [];
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
  /** What is held by hand now, for the memory. */
  hands(): Record<string, number[]> {
    return Object.fromEntries(
      this.#hands.filter((h) => h.held && h.at >= 0).map((h) => [h.key, [...h.value.subarray(0, h.size)]]),
    );
  }
  #placeHand(hand: Hand): void {
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
    putValue(this.rest, at, restOf(thing, parameter));
    if (!old) {
      for (let i = 0; i < size; i++) {
        this.live[at + i] = this.#held[at + i] = this.rest[at + i]!;
        this.#low[at + i] = parameter.kind === 'number' ? parameter.min : 0;
        this.#high[at + i] = parameter.kind === 'number' ? parameter.max : 1;
      }
    }
    return {
      thing,
      parameter,
      at,
      size,
      dark: parameter.dark !== undefined,
      darkAt: typeof parameter.dark === 'number' ? parameter.dark : NaN,
      wrap,
      sum: old?.sum ?? this.#sums.get(key) ?? 0,
      sumAt: wrap > 0 ? this.#slots.place(`${key}:sum`) : -1,
      takesEvents: parameter.kind === 'number' && parameter.takesEvents === true,
      takesRow: parameter.kind === 'number' && parameter.takesRow === true,
    };
  }

  /** Everything to its rest, before routes move it. */
  begin(): void {
    this.arrivalCount = 0;
    const { live, rest } = this,
      used = this.#slots.used;
    for (let i = 0; i < used; i++) live[i] = rest[i]!;
  }

  /** An event for a parameter that takes them. Those beyond a tick's {@link ARRIVALS_PER_TICK} are not kept: more act at once than can be told apart. */
  arrive(at: number, time: Seconds, value: number): void {
    const n = this.arrivalCount;
    if (n >= ARRIVALS_PER_TICK) return;
    const low = this.#low[at]!,
      high = this.#high[at]!;
    this.arrivalAt[n] = at;
    this.arrivalTime[n] = time;
    this.arrivalValue[n] = value < low ? low : value > high ? high : value;
    this.arrivalCount = n + 1;
  }

  /** From what moves the parameters to what is sent. */
  settle(dt: Seconds): void {
    // What is dark or held still does nothing new.
    if (this.dark || this.freeze) this.arrivalCount = 0;
    for (let i = 0; i < this.arrivalCount; i++) {
      const run = this.#summing.get(this.arrivalAt[i]!);
      if (run) {
        run.sum = (run.sum + this.arrivalValue[i]!) % run.wrap;
        this.values[run.sumAt] = run.sum;
      }
    }
    if (this.freeze && !this.#wasFrozen)
      for (let i = 0; i < this.#held.length; i++) this.#held[i] = this.values[i]!;
    this.#wasFrozen = this.freeze;
    this.held = this.freeze ? 1 : Math.max(0, this.held - dt / FREEZE_BACK);
    this.darkness = this.dark ? 1 : Math.max(0, this.darkness - dt / DARK_BACK);
    this.pictureTime += dt * (1 - this.held);
    const used = this.#slots.used,
      { held, values, live } = this;
    for (let h = this.#hands.length - 1; h >= 0; h--) {
      const hand = this.#hands[h]!;
      if (!hand.held) {
        hand.weight -= dt / HAND_BACK;
        if (hand.weight <= 0) {
          this.#hands.splice(h, 1);
          continue;
        }
      }
      for (let k = 0; k < hand.size; k++)
        live[hand.at + k]! += (hand.value[k]! - live[hand.at + k]!) * hand.weight;
    }
    for (let i = 0; i < used; i++) {
      let x = live[i]!;
      const low = this.#low[i]!,
        high = this.#high[i]!;
      x = x < low ? low : x > high ? high : x;
      values[i] = held > 0 ? x + (this.#held[i]! - x) * held : x;
    }
    if (this.darkness > 0) {
      for (let p = 0; p < this.#list.length; p++) {
        const run = this.#list[p]!;
        if (!run.dark) continue;
        for (let at = run.at; at < run.at + run.size; at++) {
          const goal = run.darkAt === run.darkAt ? run.darkAt : this.rest[at]!;
          values[at]! += (goal - values[at]!) * this.darkness;
        }
      }
    }
    const flow = dt * (1 - held);
    for (let p = 0; p < this.#list.length; p++) {
      const run = this.#list[p]!;
      if (run.sumAt < 0) continue;
      if (!run.takesEvents) run.sum = (run.sum + values[run.at]! * flow) % run.wrap;
      values[run.sumAt] = run.sum;
    }
  }
}

function wrapOf(p: ParameterDescription): number {
  return p.kind === 'number' ? (p.wrap ?? 0) : 0;
}

export function putValue(to: Float64Array, at: number, value: ParameterValue): void {
  if (typeof value === 'number') to[at] = value;
  else toLinear(value, to, at);
}
