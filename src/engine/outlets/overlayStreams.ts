import type { StreamDeclaration } from '../../core/outlets';
import { overlayParameters } from '../../core/overlays/kinds';
import { parameterSize } from '../../core/parameters/description';
import type { PlanMap } from '../../core/plan/conductor';
import { EVENT_BYTES, EVENTS_MOST, FLAG_DARK } from '../../core/protocols/bridge';
import type { Overlay } from '../../core/show/types';
import type { FrameReader } from '../memory/frames';
import type { Stream } from './stream';

/** Overlay pages draw at most this often. */
const PAGES_PER_SECOND = 66;

interface Number {
  readonly parameter: string;
  readonly component: number;
  readonly takesEvents: boolean;
}
const NUMBERS: readonly Number[] = overlayParameters().flatMap((p) =>
  Array.from({ length: parameterSize(p) }, (_, component) => ({
    parameter: p.id,
    component,
    takesEvents: p.kind === 'number' && p.takesEvents === true,
  })),
);

/** The numbers of one overlay, in the order of its parameters. */
export class OverlayStream implements Stream {
  readonly declaration: StreamDeclaration;
  readonly value: Uint8Array;
  flags = 0;
  readonly #numbers: Float32Array;
  readonly #at = new Int32Array(NUMBERS.length);

  constructor(readonly overlay: Overlay) {
    this.#numbers = new Float32Array(NUMBERS.length).fill(NaN);
    this.value = new Uint8Array(this.#numbers.buffer);
    this.declaration = {
      id: `overlay ${overlay.id}`,
      to: { kind: 'page', overlay: overlay.id },
      size: this.value.length,
      mostPerSecond: PAGES_PER_SECOND,
      mode: 'latest',
      keepAlive: null,
      safe: { then: 'hold' },
      rest: null,
    };
  }

  place(map: PlanMap): void {
    NUMBERS.forEach(({ parameter, component }, i) => {
      const at = map.parameters[`${this.overlay.id}/${parameter}`];
      this.#at[i] = at === undefined ? -1 : at + component;
    });
  }

  fill({ parameters, darkness }: FrameReader): boolean {
    const numbers = this.#numbers,
      flags = darkness > 0 ? FLAG_DARK : 0;
    let moved = flags !== this.flags;
    this.flags = flags;
    for (let i = 0; i < numbers.length; i++) {
      const at = this.#at[i]!,
        x = at < 0 ? 0 : parameters[at]!;
      if (numbers[i] !== x) {
        numbers[i] = x;
        moved = true;
      }
    }
    return moved;
  }
}

/** What happens to one overlay: events as they came, however seldom its numbers go out. */
export class OverlayEvents {
  readonly declaration: StreamDeclaration;
  /** What waits to be sent, and how much of it. */
  readonly value = new Uint8Array(EVENTS_MOST * EVENT_BYTES);
  count = 0;
  readonly #view = new DataView(this.value.buffer);
  /** The place of its number by the parameter's place in a frame. */
  #places = new Map<number, number>();

  constructor(readonly overlay: Overlay) {
    this.declaration = {
      id: `events ${overlay.id}`,
      to: { kind: 'page', overlay: overlay.id },
      size: this.value.length,
      mostPerSecond: 1000,
      mode: 'ordered',
      keepAlive: null,
      safe: { then: 'hold' },
      rest: null,
    };
  }

  place(map: PlanMap): void {
    this.#places = new Map(
      NUMBERS.flatMap(({ parameter, takesEvents }, i) => {
        const at = map.parameters[`${this.overlay.id}/${parameter}`];
        return takesEvents && at !== undefined ? [[at, i] as const] : [];
      }),
    );
  }

  /** One event; those of others are passed over. */
  take(at: number, time: number, value: number): void {
    const place = this.#places.get(at);
    if (place === undefined || this.count >= EVENTS_MOST) return;
    const to = this.count++ * EVENT_BYTES;
    this.#view.setFloat64(to, time, true);
    this.#view.setUint32(to + 8, place, true);
    this.#view.setFloat32(to + 12, value, true);
  }
}
