import {
  type NamedSignal,
  BRIDGE_PROTOCOL,
  FRAME_DESK,
  FRAME_RECEIVED,
  FRAME_SEEN,
  type FromDriver,
  type LaserReport,
  type PhoneAct,
  RECEIVED_BYTES,
  RECEIVED_HEAD,
  type ToDriver,
} from '../../core/protocols';
import { LAMP_PROTOCOLS } from '../../core/outlets';
import type { FromOutlets, OutletReport, ToOutlets } from '../memory/messages';
import { Received } from '../memory/received';

/** More than this waiting in the socket, or twice all streams: the bridge is behind, and only the latest values are worth sending. */
const BEHIND_LEAST = 32 * 1024;
const ASK_AGAIN_MS = 1500;
/** A server that ended is back within a fraction of a second: it is looked for often at first. */
const AGAIN_MS = [50, 100, 100, 150, 150, 200, 250, 500, 1000];

export interface LinkHooks {
  tell(message: FromOutlets): void;
  /** Numbers that came over the network, in their order. */
  osc(messages: readonly (readonly [address: string, value: number])[]): void;
  /** How many show each page now, and which signals other programs read. */
  watched(pages: Readonly<Record<string, number>>, signals: readonly NamedSignal[]): void;
  /** Somebody pressed something on a phone, or the last phone is gone. */
  phone(act: PhoneAct, phone: number): void;
  /** What a desk sends on a universe, whole. */
  desk(frame: Uint8Array): void;
  /** How the laser stands. */
  laser(report: LaserReport): void;
  /** What its mirrors drew. */
  seen(frame: Uint8Array): void;
  /** The bridge is away. */
  lost(): void;
  /** This window drives from now on. */
  driving(): void;
}

/** The outlet worker's connection to the bridge: who drives, what comes back, and how it stands, for the interface. */
export class Link {
  readonly #hooks: LinkHooks;
  #url = '';
  #lease = '';
  #take = false;
  #socket: WebSocket | null = null;
  #tries = 0;
  #behindBytes = BEHIND_LEAST;
  #received: Received | null = null;
  readonly #trips = new Float64Array(64);
  #tripCount = 0;
  #report: OutletReport = {
    link: 'connecting',
    why: null,
    key: null,
    address: null,
    wires: [],
    streams: [],
    restarts: 0,
    nodes: [],
    receivers: null,
    flashing: [],
    pages: {},
    watchers: [],
    relays: null,
    packetMs: null,
    osc: null,
    phoneKey: null,
    elsewhere: [],
    sought: null,
    messages: [],
    heard: [],
    desks: [],
    desksAt: null,
    laser: null,
    laserSays: null,
    seconds: 0,
    standby: null,
  };

  constructor(hooks: LinkHooks) {
    this.#hooks = hooks;
  }

  open({ url, lease, take, received }: Extract<ToOutlets, { type: 'connect' }>): void {
    this.#url = url;
    this.#lease = lease;
    this.#take = take;
    this.#received = new Received(received);
    this.#connect();
  }

  get driving(): boolean {
    return this.#report.link === 'driving';
  }
  /** Whether values may be sent at all. */
  get ready(): boolean {
    return this.driving && this.#socket?.readyState === WebSocket.OPEN;
  }
  get behind(): boolean {
    return (this.#socket?.bufferedAmount ?? 0) > this.#behindBytes;
  }
  /** @param bytes - of all streams together: so much may come in one turn */
  holds(bytes: number): void {
    this.#behindBytes = Math.max(BEHIND_LEAST, 2 * bytes);
  }
  put(frame: Uint8Array<ArrayBuffer>): void {
    this.#socket!.send(frame);
  }
  send(message: FromDriver): void {
    if (this.#socket?.readyState === WebSocket.OPEN) this.#socket.send(JSON.stringify(message));
  }
  say(change: Partial<OutletReport>): void {
    this.#report = { ...this.#report, ...change };
    this.#hooks.tell({ type: 'report', report: this.#report });
  }
  /** Takes the outputs from whoever drives them. */
  take(): void {
    this.#take = true;
    this.#hello();
  }

  #connect(): void {
    const socket = new WebSocket(`${this.#url}?role=driver`);
    socket.binaryType = 'arraybuffer';
    this.#socket = socket;
    socket.onopen = () => {
      this.#tries = 0;
      this.#hello();
    };
    socket.onmessage = (e: MessageEvent<string | ArrayBuffer>) => {
      if (typeof e.data === 'string') this.#hear(JSON.parse(e.data) as ToDriver);
      else this.#hearPacket(new Uint8Array(e.data));
    };
    socket.onclose = () => {
      if (socket !== this.#socket) return;
      this.#socket = null;
      this.#hooks.lost();
      if (this.#report.link === 'busy') return; // another window drives: it is asked again by and by
      this.say({
        link: 'lost',
        why: 'The bridge does not answer. Lamps and overlay pages hold; it is tried again.',
        packetMs: null,
      });
      setTimeout(() => this.#connect(), AGAIN_MS[Math.min(this.#tries++, AGAIN_MS.length - 1)]);
    };
  }
  #hello(): void {
    if (!this.#socket) {
      this.#report = { ...this.#report, link: 'connecting' };
      this.#connect();
      return;
    }
    this.send({ type: 'hello', protocol: BRIDGE_PROTOCOL, lease: this.#lease, take: this.#take });
    this.#take = false;
  }

  #hear(message: ToDriver): void {
    switch (message.type) {
      case 'welcome':
        this.say({
          link: 'driving',
          why: null,
          key: message.key,
          address: message.address,
          phoneKey: message.phoneKey,
          elsewhere: message.elsewhere,
        });
        this.#hooks.driving();
        return;
      case 'busy':
        // The other window may be gone for good: its lease runs out, and this one asks again.
        setTimeout(() => {
          if (this.#report.link === 'busy') this.#hello();
        }, ASK_AGAIN_MS);
        this.say({
          link: 'busy',
          why: 'Another window drives the lamps and overlays. Take over here, or close it there.',
        });
        return;
      case 'refused':
        this.say({ link: this.driving ? 'driving' : 'refused', why: message.why });
        return;
      case 'need':
        this.#hooks.tell({ type: 'need', media: message.media });
        return;
      case 'state': {
        const { type: _, ...state } = message;
        this.say({ ...state, packetMs: this.#trip() });
        this.#hooks.watched(state.pages, state.relays.setting.signals);
        this.#hooks.laser(state.laser);
        return;
      }
      case 'laserSays':
        this.say({ laserSays: message.why });
        return;
      case 'phone':
        this.#hooks.phone(message.act, message.phone);
        return;
      case 'osc':
        this.#hooks.osc(message.messages);
        return;
    }
  }

  #hearPacket(bytes: Uint8Array): void {
    if (bytes[0] === FRAME_DESK) {
      this.#hooks.desk(bytes);
      return;
    }
    if (bytes[0] === FRAME_SEEN) {
      this.#hooks.seen(bytes);
      return;
    }
    if (bytes[0] !== FRAME_RECEIVED || bytes.length % RECEIVED_BYTES !== 0) return;
    for (let at = 0; at < bytes.length; at += RECEIVED_BYTES)
      this.#hearOne(bytes.subarray(at, at + RECEIVED_BYTES));
  }
  #hearOne(bytes: Uint8Array): void {
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    const protocol = LAMP_PROTOCOLS[bytes[1]!];
    if (!protocol) return;
    this.#received?.write(
      protocol,
      view.getUint16(2, true),
      view.getUint32(4, true) & 0x7fffffff,
      bytes.subarray(RECEIVED_HEAD),
    );
    const sentAt = view.getFloat64(8, true);
    if (sentAt > 0) this.#trips[this.#tripCount++ % this.#trips.length] = performance.now() - sentAt;
  }
  #trip(): number | null {
    const n = Math.min(this.#tripCount, this.#trips.length);
    return n ? [...this.#trips.subarray(0, n)].sort((a, b) => a - b)[n >> 1]! : null;
  }
}
