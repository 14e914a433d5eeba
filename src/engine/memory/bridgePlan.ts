import {
  EVENT_BYTES,
  EVENTS_HEAD,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_VALUE,
  PAGE_HEAD,
  pageBytes,
  type PageDocument,
  PAGE_NAME_MOST,
  PAGE_PROTOCOL,
  type FromPage,
  type PageMap,
  type ToPage,
} from '../../core/protocols';
import type { Show } from '../../core/show';
import { ShowClock } from '../../core/outlets';
import type { Changed, Frames, Plan } from './plan';

const AGAIN_MS = [100, 300, 1000, 2000];
/** A server that is away for so many tries in a row: the next that serves the same pages is asked. */
const ELSEWHERE_AFTER = 3;
/** Without a show it holds what it had for so long, in ms, and then comes to rest by this much a second. */
export const PAGE_HOLD_MS = 3000;
const REST_RATE = 2.2;
/** Pictures lie at most so far ahead of the newest frame, in seconds: then it is the show that stands still. */
const AHEAD_MOST = 0.1;

/** The newest numbers of a page, as they came over the bridge. */
class BridgeFrames implements Frames {
  readonly parameters: Float32Array;
  readonly vectors: Float32Array;
  tick = 0;
  time = 0;
  pictureTime = 0;
  darkness = 0;
  curtain = 0;
  blink = 0;
  /** When the newest came, by this machine's monotonic clock. */
  cameAt = -Infinity;
  #came: DataView | null = null;
  readonly #document: PageDocument;
  readonly #clock: ShowClock;
  /** The newest frame's own time of the picture, and whether that went on since the one before. */
  #framePicture = 0;
  #goesOn = false;
  /** Numbers that are at rest somewhere: sums over time, and where a film is, are not. */
  readonly #rests: Float32Array;
  readonly #restVectors: Float32Array;
  /** When the show was last there. */
  #thereAt = performance.now();
  #readAt = 0;

  constructor(document: PageDocument, clock: ShowClock) {
    this.#document = document;
    this.#clock = clock;
    this.parameters = new Float32Array(document.numbers);
    this.parameters.set(document.rest.slice(0, document.numbers));
    this.vectors = new Float32Array(document.points);
    this.#rests = this.parameters.slice();
    this.#restVectors = new Float32Array(document.points);
    const { parameters, vectors } = document.map;
    for (const [key, at] of Object.entries(parameters)) if (key.includes(':')) this.#rests[at] = NaN;
    for (const [key, [at, points]] of Object.entries(vectors))
      this.#restVectors.fill(document.rest[parameters[key] ?? -1] ?? 0, at, at + points);
    this.vectors.set(this.#restVectors);
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
    this.cameAt = this.#thereAt = performance.now();
    this.#clock.take(value.getFloat64(8, true), this.cameAt / 1000);
  }
  /** Somebody drives: what it has is held, however long nothing comes. */
  alive = false;
  get now(): number {
    const now = this.#clock.at(performance.now() / 1000);
    return now === now ? now : this.time;
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
    this.curtain = before.curtain;
    this.cameAt = before.cameAt;
    this.#framePicture = before.#framePicture;
    const { vectors } = this.#document.map;
    for (const [key, [to, points]] of Object.entries(vectors)) {
      const [at, n] = before.#document.map.vectors[key] ?? [0, 0];
      if (n === points) this.vectors.set(before.vectors.subarray(at, at + points), to);
    }
  }

  read(): boolean {
    const value = this.#came,
      now = performance.now();
    if (value) this.#take(value);
    // Between two frames the picture goes on by this machine's clock.
    const ahead = Math.min(AHEAD_MOST, Math.max(0, this.now - this.time));
    this.pictureTime = this.#framePicture + (this.#goesOn ? ahead : 0);
    if (this.alive) this.#thereAt = now;
    const resting =
      now - this.#thereAt > PAGE_HOLD_MS && this.#rest(Math.min(0.1, (now - this.#readAt) / 1000));
    this.#readAt = now;
    return value !== null || resting;
  }
  #take(value: DataView): void {
    this.#came = null;
    this.time = value.getFloat64(8, true);
    const picture = value.getFloat64(16, true);
    this.#goesOn = picture > this.#framePicture;
    this.#framePicture = picture;
    this.curtain = value.getFloat32(24, true);
    // A master that is down is not the dark: what happens meanwhile is seen when it comes up.
    this.darkness = this.curtain >= 1 ? 1 : 0;
    this.blink = value.getFloat32(28, true);
    const { numbers, points } = this.#document;
    for (let i = 0; i < numbers; i++) this.parameters[i] = value.getFloat32(PAGE_HEAD + i * 4, true);
    for (let i = 0; i < points; i++) this.vectors[i] = value.getFloat32(PAGE_HEAD + (numbers + i) * 4, true);
    this.tick++;
  }
  /** The show is away: everything goes gently to where it rests. @returns whether anything still moved */
  #rest(dt: number): boolean {
    const share = 1 - Math.exp(-dt * REST_RATE);
    let moved = false;
    for (let i = 0; i < this.parameters.length; i++) {
      const way = this.#rests[i]! - this.parameters[i]!;
      if (Math.abs(way) > 1e-5) {
        this.parameters[i]! += way * share;
        moved = true;
      }
    }
    for (let i = 0; i < this.vectors.length; i++) {
      const way = this.#restVectors[i]! - this.vectors[i]!;
      if (Math.abs(way) > 1e-5) {
        this.vectors[i]! += way * share;
        moved = true;
      }
    }
    return moved;
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
  readonly soundMissed = 0;
  /** Whether it was told what there is at all. */
  told = false;
  /** An event that came to a parameter: the place of its number, the show's time, and how much in the parameter's unit. */
  onArrival: ((place: number, time: number, value: number) => void) | null = null;
  #document: PageDocument | null = null;
  #socket: WebSocket | null = null;
  #tries = 0;
  #again: ReturnType<typeof setTimeout> | null = null;
  /** Where it is told from, and other servers of the same pages. */
  readonly #urls: string[];
  #at = 0;
  readonly #clock = new ShowClock();
  readonly #changed: (what: Changed) => void;
  /** Said of another version than this page's own. */
  onOtherVersion: (() => void) | null = null;
  /** Half of the way there and back, in ms. */
  #half = 0;

  /** @param url - of the bridge, with the page and the key in it @param changed - called after every word about the page */
  constructor(url: string, changed: (what: Changed) => void) {
    this.#urls = [url];
    this.#changed = changed;
    this.#connect();
  }

  get age(): number {
    return this.frames ? performance.now() - this.frames.cameAt : Infinity;
  }

  #connect(): void {
    const socket = new WebSocket(this.#urls[this.#at]!);
    socket.binaryType = 'arraybuffer';
    this.#socket = socket;
    socket.onmessage = (e: MessageEvent<string | ArrayBuffer>) => {
      this.#tries = 0;
      if (typeof e.data === 'string') this.#meet(JSON.parse(e.data) as ToPage);
      else this.#take(e.data);
    };
    // What went wrong is said by its end.
    socket.onerror = () => undefined;
    socket.onclose = () => {
      if (this.#socket !== socket) return;
      this.#live(false);
      this.#changed({ map: false, show: false });
      if (this.#urls.length > 1 && this.#tries + 1 >= ELSEWHERE_AFTER) {
        this.#at = (this.#at + 1) % this.#urls.length;
        this.#tries = 0;
      }
      this.#again = setTimeout(() => this.#connect(), AGAIN_MS[Math.min(this.#tries++, AGAIN_MS.length - 1)]);
    };
  }

  #live(live: boolean): void {
    this.live = live;
    if (this.frames) this.frames.alive = live;
  }
  /** Where the same page is told from as well. @param at - `http://name:port` of each */
  #others(at: readonly string[]): void {
    const here = new URL(this.#urls[this.#at]!);
    const urls = at.flatMap((address) => {
      try {
        const there = new URL(here);
        there.host = new URL(address).host;
        return [there.href];
      } catch {
        return [];
      }
    });
    this.#urls.splice(0, this.#urls.length, here.href, ...urls.filter((u) => u !== here.href));
    this.#at = 0;
  }
  /** Says how it is, once a second. @param delayMs - from a frame's coming to its picture */
  tell(name: string, picturesPerSecond: number, delayMs: number): void {
    if (this.#socket?.readyState !== WebSocket.OPEN) return;
    const said: FromPage = {
      type: 'seen',
      at: performance.now(),
      name: name.slice(0, PAGE_NAME_MOST),
      picturesPerSecond: Math.min(1000, picturesPerSecond),
      delayMs: Math.min(60000, Math.max(0, delayMs + this.#half)),
    };
    this.#socket.send(JSON.stringify(said));
  }

  #meet(message: ToPage): void {
    if (message.type === 'hello') {
      if (message.protocol !== PAGE_PROTOCOL) this.onOtherVersion?.();
      return;
    }
    if (message.type === 'again') {
      this.#half = (performance.now() - message.at) / 2;
      return;
    }
    if (message.type === 'others') {
      this.#others(message.at);
      return;
    }
    this.#live(message.live);

    const before = this.#document;
    // A bridge that was started anew may know nothing yet: what is shown stays until it does.
    if (message.type === 'live' || (!message.document && !message.live)) {
      this.#changed({ map: false, show: false });
      return;
    }
    const { document } = message;
    this.told = true;
    this.#document = document;
    if (!document) {
      this.frames = this.map = this.show = null;
    } else if (document.version !== before?.version || !this.frames) {
      const old = this.frames;
      this.frames = new BridgeFrames(document, this.#clock);
      this.frames.alive = this.live;
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
