import type { StreamDeclaration } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import {
  EVENT_BYTES,
  EVENTS_HEAD,
  EVENTS_MOST,
  PAGE_HEAD,
  pageBytes,
  type PageDocument,
  writePageHead,
} from '../../core/protocols';
import type { FrameReader } from '../memory/frames';
import type { Stream } from './stream';

/** Pages draw at most this often. */
const PAGES_PER_SECOND = 66;

const declared = (
  id: string,
  page: string,
  size: number,
  mode: StreamDeclaration['mode'],
): StreamDeclaration => ({
  id,
  to: { kind: 'page', page },
  size,
  mostPerSecond: mode === 'ordered' ? 1000 : PAGES_PER_SECOND,
  mode,
  keepAlive: null,
  safe: { then: 'hold' },
  rest: null,
  fates: null,
  calm: null,
});

/** The numbers of one page, as its document lays them out. */
export class PageStream implements Stream {
  readonly declaration: StreamDeclaration;
  readonly value: Uint8Array;
  readonly #document: PageDocument;
  readonly #moves: boolean;
  readonly #view: DataView;
  readonly #numbers: Float32Array;
  readonly #points: Float32Array;
  /** Where each number, and each point, stands in the conductor's frame; −1: nowhere. */
  readonly #at: Int32Array;
  readonly #pointAt: Int32Array;
  #darkness = NaN;
  #pictureTime = NaN;

  /** @param moves - it is sent while the picture's time goes on, though no number changes */
  constructor(document: PageDocument, moves: boolean) {
    const { numbers, points } = document;
    this.#document = document;
    this.#moves = moves;
    const buffer = new ArrayBuffer(pageBytes(document));
    this.value = new Uint8Array(buffer);
    this.#view = new DataView(buffer);
    this.#numbers = new Float32Array(buffer, PAGE_HEAD, numbers).fill(NaN);
    this.#points = new Float32Array(buffer, PAGE_HEAD + numbers * 4, points);
    this.#at = new Int32Array(numbers);
    this.#pointAt = new Int32Array(points);
    this.declaration = declared(`page ${document.id}`, document.id, buffer.byteLength, 'latest');
  }

  place(map: PlanMap): void {
    const { map: own, numbers } = this.#document;
    this.#at.fill(-1);
    this.#pointAt.fill(-1);
    const starts = Object.entries(own.parameters).sort(([, a], [, b]) => a - b);
    starts.forEach(([key, to], i) => {
      const from = map.parameters[key],
        end = starts[i + 1]?.[1] ?? numbers;
      if (from !== undefined) for (let k = to; k < end; k++) this.#at[k] = from + k - to;
    });
    for (const [key, [to, points]] of Object.entries(own.vectors)) {
      const from = map.vectors[key];
      if (from?.[1] === points) for (let k = 0; k < points; k++) this.#pointAt[to + k] = from[0] + k;
    }
  }

  fill(frame: FrameReader): boolean {
    const { parameters, vectors, darkness, pictureTime } = frame,
      numbers = this.#numbers,
      points = this.#points;
    let moved = darkness !== this.#darkness || (this.#moves && pictureTime !== this.#pictureTime);
    this.#darkness = darkness;
    this.#pictureTime = pictureTime;
    for (let i = 0; i < numbers.length; i++) {
      const at = this.#at[i]!,
        x = at < 0 ? 0 : parameters[at]!;
      if (numbers[i] !== x) {
        numbers[i] = x;
        moved = true;
      }
    }
    if (points.length > 0) frame.readVectors();
    for (let i = 0; i < points.length; i++) {
      const at = this.#pointAt[i]!,
        x = at < 0 ? 0 : vectors[at]!;
      if (points[i] !== x) {
        points[i] = x;
        moved = true;
      }
    }
    writePageHead(this.#view, this.#document.version, frame.time, pictureTime, darkness);
    return moved;
  }
}

/** What happens to one page: events as they came, however seldom its numbers go out. */
export class PageEvents {
  readonly declaration: StreamDeclaration;
  /** What waits to be sent, after its head. */
  readonly value = new Uint8Array(EVENTS_HEAD + EVENTS_MOST * EVENT_BYTES);
  count = 0;
  readonly #view = new DataView(this.value.buffer);
  readonly #document: PageDocument;
  readonly #keys: readonly string[];
  /** The place of its number by the parameter's place in a frame. */
  #places = new Map<number, number>();

  /** @param keys - of the parameters whose events are passed on */
  constructor(document: PageDocument, keys: readonly string[]) {
    this.#document = document;
    this.#keys = keys;
    this.#view.setUint32(0, document.version, true);
    this.declaration = declared(`events ${document.id}`, document.id, this.value.length, 'ordered');
  }

  place(map: PlanMap): void {
    this.#places = new Map(
      this.#keys.flatMap((key) => {
        const at = map.parameters[key],
          own = this.#document.map.parameters[key];
        return at !== undefined && own !== undefined ? [[at, own] as const] : [];
      }),
    );
  }

  /** One event; those of others are passed over. */
  take(at: number, time: number, value: number): void {
    const place = this.#places.get(at);
    if (place === undefined || this.count >= EVENTS_MOST) return;
    const to = EVENTS_HEAD + this.count++ * EVENT_BYTES;
    this.#view.setFloat64(to, time, true);
    this.#view.setUint32(to + 8, place, true);
    this.#view.setFloat32(to + 12, value, true);
  }
}
