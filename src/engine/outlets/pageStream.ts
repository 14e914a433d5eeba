import { blinkOf, DelayedBytes, type StreamDeclaration } from '../../core/outlets';
import type { PlanMap } from '../../core/plan';
import {
  EVENT_BYTES,
  EVENTS_HEAD,
  EVENTS_MOST,
  PAGE_HEAD,
  PICTURE_PAGE,
  pageBytes,
  type PageDocument,
  writePageHead,
} from '../../core/protocols';
import type { Seconds } from '../../core/units';
import type { FrameReader } from '../memory/frames';
import type { Stream } from './stream';

/** Pages draw at most this often. */
const PAGES_PER_SECOND = 66;

/** Events of one page that may be held back. */
const HELD_MOST = 256;

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
  /** What is sent; held back, it is another than what was made last. */
  readonly value: Uint8Array;
  readonly #fresh: Uint8Array;
  readonly #late: DelayedBytes | null;
  readonly #delay: Seconds;
  readonly #document: PageDocument;
  readonly #moves: boolean;
  readonly #blinks: number;
  readonly #view: DataView;
  readonly #numbers: Float32Array;
  readonly #points: Float32Array;
  /** Where each number, and each point, stands in the conductor's frame; −1: nowhere. */
  readonly #at: Int32Array;
  readonly #pointAt: Int32Array;
  #darkness = NaN;
  #blink = 0;
  #pictureTime = NaN;
  #madeAt = -Infinity;

  /** @param blinks - by which a frame says that this page blinks; 0: it is for several outputs @param moves - it is sent while the picture's time goes on, though no number changes */
  constructor(document: PageDocument, moves: boolean, blinks = 0) {
    const { numbers, points } = document;
    this.#document = document;
    this.#moves = moves;
    this.#blinks = blinks;
    const buffer = new ArrayBuffer(pageBytes(document));
    this.#fresh = new Uint8Array(buffer);
    this.#delay = delayOf(document);
    this.#late = this.#delay > 0 ? new DelayedBytes(buffer.byteLength) : null;
    this.value = this.#late ? this.#fresh.slice() : this.#fresh;
    this.#view = new DataView(buffer);
    this.#numbers = new Float32Array(buffer, PAGE_HEAD, numbers).fill(NaN);
    this.#points = new Float32Array(buffer, PAGE_HEAD + numbers * 4, points);
    this.#at = new Int32Array(numbers);
    this.#pointAt = new Int32Array(points);
    this.declaration = declared(`page ${document.id}`, document.id, buffer.byteLength, 'latest');
  }

  get everyFrame(): boolean {
    return this.#late !== null;
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
    const { parameters, vectors, pictureTime } = frame,
      darkness = this.#document.id === PICTURE_PAGE ? frame.curtain : frame.darkness,
      numbers = this.#numbers,
      points = this.#points;
    // A page that is one output is told of itself alone.
    const blink = this.#blinks > 0 ? blinkOf(frame.blink, this.#blinks) : frame.blink;
    let moved =
      darkness !== this.#darkness ||
      blink !== this.#blink ||
      (this.#moves && pictureTime !== this.#pictureTime);
    this.#darkness = darkness;
    this.#blink = blink;
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
    writePageHead(this.#view, this.#document.version, frame.time, pictureTime, darkness, blink);
    return this.#late ? this.#holdBack(this.#late, frame.time, frame.darkness > 0 || blink !== 0) : moved;
  }
  /** What is sent now, so much after it was made; dark waits for nothing, and neither does what is measured. @param now - it goes out at once @returns whether that is another */
  #holdBack(late: DelayedBytes, time: Seconds, now: boolean): boolean {
    if (time > this.#madeAt) late.put(time * 1000, this.#fresh);
    this.#madeAt = time;
    before = before.length === this.value.length ? before : new Uint8Array(this.value.length);
    before.set(this.value);
    if (now) this.value.set(this.#fresh);
    else late.read((time - this.#delay) * 1000, this.value);
    for (let i = 0; i < before.length; i++) if (before[i] !== this.value[i]) return true;
    return false;
  }
}
let before = new Uint8Array(0);

/** How long a page is held back. */
function delayOf({ show }: PageDocument): Seconds {
  const { overlays } = show as { readonly overlays?: readonly { readonly delayMs?: number }[] };
  return (overlays?.[0]?.delayMs ?? 0) / 1000;
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
  readonly #delay: Seconds;
  /** Events that are held back: time, place and strength of each. */
  readonly #held = new Float64Array(3 * HELD_MOST);
  #heldCount = 0;
  /** The place of its number by the parameter's place in a frame. */
  #places = new Map<number, number>();

  /** @param keys - of the parameters whose events are passed on */
  constructor(document: PageDocument, keys: readonly string[]) {
    this.#document = document;
    this.#keys = keys;
    this.#delay = delayOf(document);
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
    if (place === undefined) return;
    if (this.#delay <= 0) this.#put(place, time, value);
    else if (this.#heldCount < HELD_MOST) {
      const to = 3 * this.#heldCount++;
      this.#held[to] = time;
      this.#held[to + 1] = place;
      this.#held[to + 2] = value;
    }
  }
  /** Lets go of what was held back long enough. @param now - show time */
  release(now: Seconds): void {
    let gone = 0;
    while (gone < this.#heldCount && this.#held[3 * gone]! + this.#delay <= now) {
      const at = 3 * gone++;
      this.#put(this.#held[at + 1]!, this.#held[at]!, this.#held[at + 2]!);
    }
    if (gone === 0) return;
    this.#held.copyWithin(0, 3 * gone, 3 * this.#heldCount);
    this.#heldCount -= gone;
  }
  #put(place: number, time: Seconds, value: number): void {
    if (this.count >= EVENTS_MOST) return;
    const to = EVENTS_HEAD + this.count++ * EVENT_BYTES;
    this.#view.setFloat64(to, time, true);
    this.#view.setUint32(to + 8, place, true);
    this.#view.setFloat32(to + 12, value, true);
  }
}
