import {
  EVENT_BYTES,
  FLAG_DARK,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_VALUE,
  overlaySize,
  type OverlayPage,
  type ToPage,
} from '../../core/protocols/bridge';

const AGAIN_MS = [100, 300, 1000, 2000];

/**
 * The numbers of one overlay, as a page elsewhere gets them over the bridge. Needs no safe address, no shared memory and no
 * isolation. While nobody drives it keeps the last numbers; before there were any, those of the resting overlay.
 */
export class PageSource {
  overlay: OverlayPage | null = null;
  /** The overlay's numbers; NaN before anything is known. */
  values = new Float32Array(0);
  live = false;
  changed = true;
  /** While it is, nothing that an event left may show. */
  dark = false;
  onOverlay: (() => void) | null = null;
  /** An event for one of the overlay's parameters: the place of its number, the show's time, and how much in the parameter's unit. */
  onArrival: ((place: number, time: number, value: number) => void) | null = null;
  #version = -1;
  #socket: WebSocket | null = null;
  #tries = 0;
  #closed = false;
  readonly #url: string;

  constructor(url: string) {
    this.#url = url;
    this.#connect();
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
      this.live = false;
      if (!this.#closed)
        setTimeout(() => this.#connect(), AGAIN_MS[Math.min(this.#tries++, AGAIN_MS.length - 1)]);
    };
  }

  #meet(message: ToPage): void {
    this.live = message.live;
    const size = message.overlay ? overlaySize(message.overlay) : 0;
    // A bridge that was started anew knows the document but no numbers yet: what is shown stays until they come.
    if (this.values.length !== size || this.#version < 0)
      this.values = Float32Array.from(message.overlay?.parameters.flatMap((p) => p.rest) ?? []);
    this.#version = message.version;
    this.overlay = message.overlay;
    this.changed = true;
    this.onOverlay?.();
  }

  #take(data: ArrayBuffer): void {
    const view = new DataView(data);
    if (view.byteLength < FRAME_HEAD || view.getUint32(4, true) !== this.#version >>> 0) return;
    if (view.getUint8(0) === FRAME_EVENTS) {
      this.#arrive(view);
      return;
    }
    if (view.getUint8(0) !== FRAME_VALUE) return;
    this.dark = (view.getUint8(1) & FLAG_DARK) !== 0;
    if (view.byteLength < FRAME_HEAD + this.values.length * 4) return;
    for (let i = 0; i < this.values.length; i++) this.values[i] = view.getFloat32(FRAME_HEAD + i * 4, true);
    this.changed = true;
  }

  #arrive(view: DataView): void {
    for (let from = FRAME_HEAD; from + EVENT_BYTES <= view.byteLength; from += EVENT_BYTES) {
      const place = view.getUint32(from + 8, true);
      if (place < this.values.length)
        this.onArrival?.(place, view.getFloat64(from, true), view.getFloat32(from + 12, true));
    }
  }

  close(): void {
    this.#closed = true;
    this.#socket?.close();
  }
}
