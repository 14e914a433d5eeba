'use client';
import { useEffect, useRef } from 'react';
import { type PlanMap, Traces } from '../../core/plan';
import { EventReader } from '../../engine/memory/eventRing';
import { FrameReader } from '../../engine/memory/frames';
import type { Blocks } from '../../engine/memory/messages';

/** Spectra of the sound in focus: a ring of columns, and the number of the newest. */
export interface FieldData {
  readonly data: Float32Array;
  readonly head: Int32Array;
}

/** However long a turn took, the next one comes after so long. */
const LONGEST_REST_MS = 200;

/**
 * The interface's eye on shared memory: one reading per display frame, handed to whoever draws. Nothing of it goes through
 * React state.
 */
class Live {
  blocks: Blocks | null = null;
  map: PlanMap | null = null;
  frame: FrameReader | null = null;
  traces: Traces | null = null;
  field: FieldData | null = null;
  #events: EventReader | null = null;
  /** When each event signal last happened (`performance.now()`) and how strong it was. */
  readonly lastEvent = new Map<number, { at: number; strength: number }>();
  readonly #drawers = new Set<(now: number) => void>();
  #running = false;
  #turnedAt = -Infinity;
  /** What the turn before took of the thread, with all that the browser made of it. */
  #tookMs = 0;
  #after: MessagePort | null = null;
  /**
   * Least time between two turns, 0 for each display frame. Where the processor draws, meters and traces leave it to the picture
   * and the sound: they rest as long as they took, too.
   */
  everyMs = 0;
  #vectorReaders = 0;

  setPlan(blocks: Blocks | undefined, map: PlanMap): void {
    this.map = map;
    if (!blocks) return;
    const before = this.blocks,
      alive = before?.life === blocks.life;
    this.blocks = blocks;
    if (alive && before.frames.epoch === blocks.frames.epoch) return;
    this.frame = new FrameReader(blocks.frames);
    this.traces = new Traces(new Float32Array(blocks.traces.data), new Int32Array(blocks.traces.head));
    if (alive) return;
    this.#events = new EventReader(blocks.events);
    this.field = { data: new Float32Array(blocks.field.data), head: new Int32Array(blocks.field.head) };
  }
  clear(): void {
    this.blocks = this.map = this.frame = this.traces = this.field = this.#events = null;
    this.lastEvent.clear();
  }

  /** Asks for vectors to be read every frame. @returns how to stop */
  wantVectors(): () => void {
    this.#vectorReaders++;
    return () => {
      this.#vectorReaders--;
    };
  }
  /** Where a vector's numbers stand now, or null. The array is read anew every frame. */
  vectorAt(
    id: string,
  ): { readonly values: Float32Array; readonly at: number; readonly points: number } | null {
    const place = this.map?.vectors[id];
    return place && this.frame ? { values: this.frame.vectors, at: place[0], points: place[1] } : null;
  }
  slot(signal: string): number {
    return this.map?.signals[signal] ?? -1;
  }
  signal(id: string): number {
    const at = this.slot(id);
    return at < 0 || !this.frame ? NaN : this.frame.signals[at]!;
  }
  parameter(key: string, component = 0): number {
    const at = this.map?.parameters[key];
    return at === undefined || !this.frame ? NaN : this.frame.preview[at + component]!;
  }
  /** Reads a signal's trace into `out`, oldest first. @returns the newest column's number, or −1 */
  trace(id: string, out: Float32Array): number {
    const at = this.slot(id);
    if (at < 0 || !this.traces) {
      out.fill(NaN);
      return -1;
    }
    return this.traces.read(at, out);
  }

  /** Reads the newest numbers now, also where no display frame comes. */
  readNow(): void {
    this.frame?.read();
  }

  /** Calls `draw` once a display frame, after the newest values were read. @returns how to stop */
  onFrame(draw: (now: number) => void): () => void {
    this.#drawers.add(draw);
    this.#after ??= this.#portBehind();
    if (!this.#running) {
      this.#running = true;
      requestAnimationFrame(this.#turn);
    }
    return () => {
      this.#drawers.delete(draw);
    };
  }
  /** What is sent through it comes back once the frame that it was sent in is laid out and painted. */
  #portBehind(): MessagePort {
    const { port1, port2 } = new MessageChannel();
    port1.onmessage = () => {
      this.#tookMs = performance.now() - this.#turnedAt;
    };
    return port2;
  }
  readonly #turn = (now: number): void => {
    if (this.#drawers.size === 0) {
      this.#running = false;
      return;
    }
    requestAnimationFrame(this.#turn);
    // Half a frame of grace, so that a display's own jitter leaves no turn out.
    const rest = this.everyMs && Math.max(this.everyMs, Math.min(LONGEST_REST_MS, this.#tookMs * 2));
    if (now - this.#turnedAt < rest - 8) return;
    this.#turnedAt = now;
    this.frame?.read();
    if (this.#vectorReaders > 0) this.frame?.readVectors();
    this.#events?.drain((slot, _, strength) => {
      const last = this.lastEvent.get(slot);
      if (last) {
        last.at = now;
        last.strength = strength;
      } else this.lastEvent.set(slot, { at: now, strength });
    });
    for (const draw of this.#drawers) draw(now);
    if (this.everyMs) this.#after?.postMessage(null);
  };
}

export const live = new Live();

/** Draws once a display frame while the component is there. The drawing may change; it is always the latest that is called. */
export function useFrame(draw: (now: number) => void): void {
  const latest = useRef(draw);
  useEffect(() => {
    latest.current = draw;
  });
  useEffect(() => live.onFrame((now) => latest.current(now)), []);
}
