import type { EventSink } from '../ears/runner';
import type { Seconds } from '../units';
import { SlotTable } from './slots';
import { Traces } from './traces';

const EVENTS_PER_TICK = 256;

/** A signal by name, and how many numbers it is: three for a colour. */
export type SignalPlace = readonly [name: string, size: number];
/** A row of numbers by name: a set of bands, a spectrum, a waveform. */
export type VectorPlace = readonly [name: string, points: number];

/**
 * Every signal's value, count of events, trace and vector, each at a place that keeps its meaning for as long as the epoch
 * lasts; and the events of this tick. Ticks allocate nothing here; edits may.
 */
export class SignalStore implements EventSink {
  values: Float32Array;
  counts: Uint32Array;
  /** The strongest event of this tick, for signals that give events. */
  strength: Float32Array;
  vectors: Float32Array;
  traces: Traces;
  readonly eventSlot = new Int32Array(EVENTS_PER_TICK);
  readonly eventTime = new Float64Array(EVENTS_PER_TICK);
  readonly eventStrength = new Float32Array(EVENTS_PER_TICK);
  /** Which one of its signal it is. */
  readonly eventNumber = new Float64Array(EVENTS_PER_TICK);
  eventCount = 0;
  lostEvents = 0;
  /** Whose events are taken now. */
  current = 0;
  #slots: SlotTable;
  #vectorSlots: SlotTable;
  readonly #makeTraces: (rows: number) => Traces;

  constructor(capacity: number, vectorCapacity: number, makeTraces: (rows: number) => Traces) {
    this.#makeTraces = makeTraces;
    this.#slots = new SlotTable(capacity);
    this.#vectorSlots = new SlotTable(vectorCapacity);
    this.values = new Float32Array(capacity);
    this.counts = new Uint32Array(capacity);
    this.strength = new Float32Array(capacity);
    this.vectors = new Float32Array(vectorCapacity);
    this.traces = makeTraces(capacity);
  }

  get capacity(): number {
    return this.#slots.capacity;
  }
  get vectorCapacity(): number {
    return this.#vectorSlots.capacity;
  }

  find(name: string): number | undefined {
    return this.#slots.get(name);
  }
  /** The place of a signal, new if need be. @returns −1 when there is no room, which {@link hasRoom} tells before */
  place(name: string, size = 1): number {
    const known = this.#slots.get(name);
    if (known !== undefined) return known;
    const at = this.#slots.place(name, size);
    if (at >= 0) this.traces.clear(at);
    return at;
  }
  placeVector(name: string, points: number): number {
    return this.#vectorSlots.place(name, points);
  }

  /** @param more - places beside those that are named */
  hasRoom(names: readonly SignalPlace[], vectors: readonly VectorPlace[], more = 0): boolean {
    let used = this.#slots.used + more,
      points = this.#vectorSlots.used;
    for (const [name, size] of names) if (!this.#slots.has(name)) used += size;
    for (const [name, n] of vectors) if (!this.#vectorSlots.has(name)) points += n;
    return used <= this.#slots.capacity && points <= this.#vectorSlots.capacity;
  }

  /** Larger arrays, into which what is still wanted moves. */
  renew(names: readonly SignalPlace[], vectors: readonly VectorPlace[]): void {
    const slots = new SlotTable(
      grown(
        names.reduce((n, [, size]) => n + size, 0),
        this.capacity,
      ),
    );
    const vectorSlots = new SlotTable(
      grown(
        vectors.reduce((n, [, points]) => n + points, 0),
        this.vectorCapacity,
      ),
    );
    for (const [name, n] of vectors) vectorSlots.place(name, n);
    const values = new Float32Array(slots.capacity),
      counts = new Uint32Array(slots.capacity);
    const traces = this.#makeTraces(slots.capacity);
    traces.advance(this.traces.newest);
    const column = new Float32Array(1024).subarray(0, 576);
    for (const [name, size] of names) {
      const to = slots.place(name, size),
        from = this.#slots.get(name);
      if (from === undefined) continue;
      for (let i = 0; i < size; i++) values[to + i] = this.values[from + i]!;
      counts[to] = this.counts[from]!;
      const newest = this.traces.read(from, column);
      column.forEach((x, i) => traces.fill(to, newest - column.length + 1 + i, x));
    }
    this.values = values;
    this.counts = counts;
    this.traces = traces;
    this.strength = new Float32Array(slots.capacity);
    this.vectors = new Float32Array(vectorSlots.capacity);
    this.#slots = slots;
    this.#vectorSlots = vectorSlots;
  }

  forget(): void {
    for (let i = 0; i < this.#slots.used; i++) this.traces.clear(i);
  }

  /** Takes an event of the signal that is `current`. */
  event(time: Seconds, strength: number, number?: number): void {
    const slot = this.current,
      n = number ?? this.counts[slot]!;
    this.counts[slot]!++;
    if (strength > this.strength[slot]!) this.strength[slot] = strength;
    if (this.eventCount >= EVENTS_PER_TICK) {
      this.lostEvents++;
      return;
    }
    this.eventSlot[this.eventCount] = slot;
    this.eventTime[this.eventCount] = time;
    this.eventStrength[this.eventCount] = strength;
    this.eventNumber[this.eventCount] = n;
    this.eventCount++;
  }
}

/** The next doubling that leaves half as much again free. */
export function grown(used: number, from: number): number {
  let n = from;
  while (n < used * 1.5) n *= 2;
  return n;
}
