import {
  EVENT_BYTES,
  EVENTS_HEAD,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_VALUE,
  PAGE_HEAD,
  pageBytes,
  type PageDocument,
  type PageMap,
  type ToPage,
} from '../../core/protocols';
import type { Show } from '../../core/show';
import type { Changed, Frames, Plan } from './plan';

const AGAIN_MS = [100, 300, 1000, 2000];

/** The newest numbers of a page, as they came over the bridge. */
class BridgeFrames implements Frames {
  readonly parameters: Float32Array;
  readonly vectors: Float32Array;
  tick = 0;
  time = 0;
  pictureTime = 0;
  darkness = 0;
  blink = 0;
  /** When the newest came, by this machine's monotonic clock. */
  cameAt = -Infinity;
  #came: DataView | null = null;
  readonly #document: PageDocument;

  constructor(document: PageDocument) {
    this.#document = document;
    this.parameters = new Float32Array(document.numbers);
    this.parameters.set(document.rest.slice(0, document.numbers));
    this.vectors = new Float32Array(document.points);
  }
  /** Nothing is tried on a page. */
  get preview(): Float32Array {
    return this.parameters;
  }
  get previewVectors(): Float32Array {
    return this.vectors;
  }

  take(value: DataView): void {
    const bytes = pageBytes(this.#document);
    if (value.byteLength !== bytes || value.getUint32(0, true) !== this.#document.version) return;
    this.#came = value;
    this.cameAt = performance.now();
  }
  /** Goes on from another document's frames, where it knows the same numbers. */
  goOnFrom(before: BridgeFrames): void {
    const from = before.#document.map.parameters,
      { parameters } = this.#document.map;
    const starts = Object.entries(parameters).sort(([, a], [, b]) => a - b);
    starts.forEach(([key, at], i) => {
      const old = from[key],
        end = starts[i + 1]?.[1] ?? this.#document.numbers;
      if (old !== undefined) this.parameters.set(before.parameters.subarray(old, old + end - at), at);
    });
    this.tick = before.tick;
    this.time = before.time;
    this.pictureTime = before.pictureTime;
    this.darkness = before.darkness;
    this.cameAt = before.cameAt;
  }

  read(): boolean {
    const value = this.#came;
    if (!value) return false;
    this.#came = null;
    this.time = value.getFloat64(8, true);
    this.pictureTime = value.getFloat64(16, true);
    this.darkness = value.getFloat32(24, true);
    this.blink = value.getFloat32(28, true);
    const { numbers, points } = this.#document;
    for (let i = 0; i < numbers; i++) this.parameters[i] = value.getFloat32(PAGE_HEAD + i * 4, true);
    for (let i = 0; i < points; i++) this.vectors[i] = value.getFloat32(PAGE_HEAD + (numbers + i) * 4, true);
    this.tick++;
    return true;
  }
  /** They come with everything else. */
  readVectors(): boolean {
    return true;
  }
}

/**
 * A reader's end of the bridge, on any machine: the same as a conductor's memory is to those beside it. It needs no safe address,
 * no shared memory and no isolation. While nobody drives it keeps the last numbers; before there were any, those at rest. A
 * connection that ends is made again. Window or worker.
 */
export class BridgePlan<Key extends keyof Show> implements Plan<Key> {
  frames: BridgeFrames | null = null;
  map: PageMap | null = null;
  show: Pick<Show, Key> | null = null;
  /** Whether a control window drives now. */
  live = false;
  readonly hopsLost = 0;
  /** An event that came to a parameter: the place of its number, the show's time, and how much in the parameter's unit. */
  onArrival: ((place: number, time: number, value: number) => void) | null = null;
  #document: PageDocument | null = null;
  #socket: WebSocket | null = null;
  #tries = 0;
  #again: ReturnType<typeof setTimeout> | null = null;
  readonly #url: string;
  readonly #changed: (what: Changed) => void;

  /** @param url - of the bridge, with the page and the key in it @param changed - called after every word about the page */
  constructor(url: string, changed: (what: Changed) => void) {
    this.#url = url;
    this.#changed = changed;
    this.#connect();
  }

  get age(): number {
    return this.frames ? performance.now() - this.frames.cameAt : Infinity;
  }

  #connect(): void {
    const socket = new WebSocket(this.#url);
    socket.binaryType = 'arraybuffer';
    this.#socket = socket;
    socket.onmessage = (e: MessageEvent<string | ArrayBuffer>) => {
      this.#tries = 0;
      if (typeof e.data === 'string') this.#meet(JSON.parse(e.data) as ToPage);
      else this.#take(e.data);
    };
    socket.onclose = () => {
      if (this.#socket !== socket) return;
      this.live = false;
      this.#changed({ map: false, show: false });
      this.#again = setTimeout(() => this.#connect(), AGAIN_MS[Math.min(this.#tries++, AGAIN_MS.length - 1)]);
    };
  }

  #meet(message: ToPage): void {
    this.live = message.live;
    const before = this.#document;
    // A bridge that was started anew may know nothing yet: what is shown stays until it does.
    if (message.type === 'live' || (!message.document && !message.live)) {
      this.#changed({ map: false, show: false });
      return;
    }
    const { document } = message;
    this.#document = document;
    if (!document) {
      this.frames = this.map = this.show = null;
    } else if (document.version !== before?.version || !this.frames) {
      const old = this.frames;
      this.frames = new BridgeFrames(document);
      if (old) this.frames.goOnFrom(old);
      this.map = document.map;
      this.show = keepSame(this.show, document.show as Pick<Show, Key>);
    }
    this.#changed({ map: true, show: true });
  }

  #take(data: ArrayBuffer): void {
    if (data.byteLength < FRAME_HEAD) return;
    const kind = new DataView(data).getUint8(0),
      value = new DataView(data, FRAME_HEAD);
    if (kind === FRAME_VALUE) this.frames?.take(value);
    else if (kind === FRAME_EVENTS) this.#arrive(value);
  }
  #arrive(value: DataView): void {
    if (value.byteLength < EVENTS_HEAD || value.getUint32(0, true) !== this.#document?.version) return;
    for (let from = EVENTS_HEAD; from + EVENT_BYTES <= value.byteLength; from += EVENT_BYTES)
      this.onArrival?.(
        value.getUint32(from + 8, true),
        value.getFloat64(from, true),
        value.getFloat32(from + 12, true),
      );
  }

  leave(): void {
    if (this.#again) clearTimeout(this.#again);
    const socket = this.#socket;
    this.#socket = null;
    socket?.close();
  }
}

/** A part of a show that came anew, with what did not change in it as the objects that it was before. */
function keepSame<T extends object>(before: T | null, now: T): T {
  if (!before) return now;
  const old = before as Record<string, unknown>;
  return Object.fromEntries(Object.entries(now).map(([key, value]) => [key, same(old[key], value)])) as T;
}
function same(before: unknown, now: unknown): unknown {
  if (Array.isArray(before) && Array.isArray(now)) {
    const known = new Map(before.map((x) => [JSON.stringify(x), x as unknown]));
    const list = now.map((x) => known.get(JSON.stringify(x)) ?? (x as unknown));
    return list.length === before.length && list.every((x, i) => x === before[i]) ? before : list;
  }
  return JSON.stringify(before) === JSON.stringify(now) ? before : now;
}
