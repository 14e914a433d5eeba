import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocket, WebSocketServer } from 'ws';
import {
  BRIDGE_PROTOCOL,
  DMX_HEAD,
  FRAME_ARRIVALS,
  FRAME_DMX,
  FRAME_OVERLAY,
  FRAME_RECEIVED,
  isDriverFrame,
  MOST_TEXT_BYTES,
  OVERLAY_HEAD,
  overlaySize,
  parseFromDriver,
  RECEIVED_BYTES,
  RECEIVED_HEAD,
  type FromDriver,
  type ToDriver,
  type ToPage,
} from '../core/protocols/bridge';
import { ARTNET_PORT, ArtnetSender } from './artnetSender';
import type { Held } from './held';
import { asked, CANONICAL_HOST, mayDrive, mayWatch } from './hosts';
import { OSC_PORT, OscListener } from './oscListener';
import { SimulatedReceiver } from './simulated/artnetReceiver';

/** A page that reads slower than this many bytes is behind: it gets only the latest frame once it has caught up. */
const BEHIND_BYTES = 64 * 1024;
/** More than this waiting for a page: it is as good as gone, and comes back by itself. Until then every event waits for it. */
const LOST_BYTES = 1024 * 1024;
/** How long a driver that dropped out may come back before another takes its place. */
const LEASE_MS = 4000;
/** Text messages a second that one socket may send. */
const TEXT_RATE = 60;
const STATE_EVERY_MS = 250;

interface Page {
  readonly socket: WebSocket;
  readonly overlay: string;
  stale: boolean;
}

/**
 * The way from the control window to everything outside the browser. One driver at a time, by lease; any number of overlay
 * pages. Of values the latest win under back-pressure, of events each is passed on; nothing that a peer sends can throw.
 */
export class Bridge {
  readonly #server = new WebSocketServer({
    noServer: true,
    maxPayload: MOST_TEXT_BYTES,
    perMessageDeflate: false,
  });
  readonly #held: Held;
  readonly #port: number;
  readonly #sender: ArtnetSender;
  readonly #receiver: SimulatedReceiver;
  readonly #osc: OscListener;
  readonly #pages = new Set<Page>();
  readonly #ticker: NodeJS.Timeout;
  readonly #received = Buffer.alloc(RECEIVED_BYTES);
  readonly #channels = new Uint8Array(512);
  #driver: WebSocket | null = null;
  #lease: string | null = null;
  #lostAt = 0;
  #lastValues: Buffer | null = null;
  #sentAt = 0;

  private constructor(
    held: Held,
    port: number,
    receiver: SimulatedReceiver,
    osc: (tell: (address: string, value: number) => void) => OscListener,
  ) {
    this.#held = held;
    this.#port = port;
    this.#receiver = receiver;
    this.#osc = osc((address, value) => {
      const ws = this.#driver;
      if (ws && ws.bufferedAmount <= BEHIND_BYTES) this.#tell(ws, { type: 'osc', address, value });
    });
    this.#sender = new ArtnetSender(() => ({ host: receiver.host, port: receiver.port }));
    receiver.onPacket = (universe, channels, packets) => this.#heard(universe, channels, packets);
    this.#ticker = setInterval(() => this.#tellState(), STATE_EVERY_MS);
  }

  /** @param artnetPort - where the simulated lamps listen @param osc - where OSC is heard; 0 for a free port */
  static async open(
    held: Held,
    port: number,
    artnetPort: number = ARTNET_PORT,
    osc: { readonly host: string; readonly port: number } = { host: '127.0.0.1', port: OSC_PORT },
  ): Promise<Bridge> {
    let tell: (address: string, value: number) => void = () => undefined;
    const listener = await OscListener.open(osc.host, osc.port, (address, value) => tell(address, value));
    return new Bridge(held, port, await SimulatedReceiver.open(artnetPort), (then) => {
      tell = then;
      return listener;
    });
  }

  get osc(): OscListener {
    return this.#osc;
  }

  get receiver(): SimulatedReceiver {
    return this.#receiver;
  }

  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    const ask = asked(request);
    const role = ask?.query.get('role');
    const origin = request.headers.origin;
    const allowed =
      role === 'driver'
        ? mayDrive(ask, origin, this.#port)
        : role === 'page' && mayWatch(ask, origin, this.#port, this.#held.key);
    if (!allowed) {
      socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
      return;
    }
    this.#server.handleUpgrade(request, socket, head, (ws) => {
      ws.on('error', () => ws.terminate());
      if (role === 'driver') this.#meetDriver(ws);
      else this.#meetPage(ws, ask!.query.get('overlay') ?? '');
    });
  }

  #meetDriver(ws: WebSocket): void {
    let budget = TEXT_RATE;
    let refilled = Date.now();
    ws.on('message', (data: Buffer, binary) => {
      if (binary) {
        if (ws === this.#driver && isDriverFrame(data)) this.#frame(data);
        return;
      }
      const now = Date.now();
      budget = Math.min(TEXT_RATE, budget + ((now - refilled) / 1000) * TEXT_RATE);
      refilled = now;
      if (--budget < 0) {
        ws.close(1008, 'too many messages');
        return;
      }
      const message = parseFromDriver(data.toString('utf8'));
      if (message.type === 'bad') {
        this.#tell(ws, { type: 'refused', why: message.why });
        return;
      }
      this.#obey(ws, message);
    });
    ws.on('close', () => {
      if (ws !== this.#driver) return;
      this.#driver = null;
      this.#lostAt = Date.now();
      this.#tellPages(); // lamps hold; pages learn that nobody drives
    });
  }

  #obey(ws: WebSocket, message: FromDriver): void {
    if (message.type === 'hello') {
      if (message.protocol !== BRIDGE_PROTOCOL) {
        this.#tell(ws, {
          type: 'refused',
          why: 'This page is of another version than the server. Load it again.',
        });
        return;
      }
      const free =
        this.#lease === null ||
        this.#lease === message.lease ||
        (this.#driver === null && Date.now() - this.#lostAt > LEASE_MS);
      if (!free && !message.take) {
        this.#tell(ws, { type: 'busy' });
        return;
      }
      const old = this.#driver;
      this.#driver = ws;
      this.#lease = message.lease;
      if (old && old !== ws) {
        this.#tell(old, { type: 'busy' });
        old.close(4001, 'another window drives now');
      }
      this.#tell(ws, {
        type: 'welcome',
        protocol: BRIDGE_PROTOCOL,
        driving: true,
        key: this.#held.key,
        address: `http://${CANONICAL_HOST}:${this.#port}`,
      });
      this.#tellPages();
      return;
    }
    if (ws !== this.#driver) {
      this.#tell(ws, { type: 'busy' });
      return;
    }
    if (message.type === 'wires') this.#sender.setWires(message.wires, message.armed);
    else {
      this.#held.setOverlays(message.version, message.overlays);
      this.#lastValues = null;
      this.#tellPages();
      const media = this.#held.missing();
      if (media.length) this.#tell(ws, { type: 'need', media });
    }
  }

  #frame(data: Buffer): void {
    if (data[0] === FRAME_DMX) {
      this.#sentAt = data.readDoubleLE(4);
      data.copy(this.#channels, 0, DMX_HEAD);
      this.#sender.set(data[1]!, data.readUInt16LE(2), this.#channels);
    } else if (data[0] === FRAME_OVERLAY) {
      if (data.length < OVERLAY_HEAD || data.readUInt32LE(4) !== this.#held.version) return;
      this.#lastValues = Buffer.from(data);
      for (const page of this.#pages) this.#pass(page);
    } else if (data[0] === FRAME_ARRIVALS) {
      if (data.readUInt32LE(4) !== this.#held.version) return;
      const events = Buffer.from(data);
      for (const { socket } of this.#pages) {
        if (socket.readyState !== WebSocket.OPEN) continue;
        if (socket.bufferedAmount > LOST_BYTES) socket.terminate();
        else socket.send(events, { binary: true });
      }
    }
  }

  #pass(page: Page): void {
    if (!this.#lastValues || page.socket.readyState !== WebSocket.OPEN) return;
    if (page.socket.bufferedAmount > BEHIND_BYTES) {
      page.stale = true;
      return;
    }
    page.stale = false;
    page.socket.send(this.#lastValues, { binary: true });
  }

  #meetPage(ws: WebSocket, overlay: string): void {
    const page: Page = { socket: ws, overlay, stale: false };
    this.#pages.add(page);
    ws.on('message', () => undefined); // pages have nothing to say
    ws.on('close', () => this.#pages.delete(page));
    this.#tellPage(page);
    this.#pass(page);
  }
  #tellPages(): void {
    for (const page of this.#pages) this.#tellPage(page);
  }
  #tellPage(page: Page): void {
    const { overlays, version } = this.#held;
    const index = overlays.findIndex((o) => o.id === page.overlay);
    const at = overlays.slice(0, Math.max(0, index)).reduce((n, o) => n + overlaySize(o), 0);
    const message: ToPage = {
      type: 'overlay',
      version,
      overlay: overlays[index] ?? null,
      at,
      live: this.#driver !== null,
    };
    if (page.socket.readyState === WebSocket.OPEN) page.socket.send(JSON.stringify(message));
  }

  #tell(ws: WebSocket, message: ToDriver): void {
    if (ws.readyState === WebSocket.OPEN) ws.send(JSON.stringify(message));
  }

  /** A packet that came back out of the wire: told to the driver at once, so that what is shown is what was sent. */
  #heard(universe: number, channels: Uint8Array, packets: number): void {
    const ws = this.#driver;
    if (!ws || ws.readyState !== WebSocket.OPEN || ws.bufferedAmount > BEHIND_BYTES) return;
    const b = this.#received;
    b[0] = FRAME_RECEIVED;
    b.writeUInt16LE(universe, 2);
    b.writeUInt32LE(packets >>> 0, 4);
    b.writeDoubleLE(this.#sentAt, 8);
    b.set(channels, RECEIVED_HEAD);
    ws.send(Buffer.from(b), { binary: true });
  }

  #tellState(): void {
    for (const page of this.#pages) if (page.stale) this.#pass(page);
    const ws = this.#driver;
    if (!ws) return;
    const pages: Record<string, number> = {};
    for (const { overlay } of this.#pages) pages[overlay] = (pages[overlay] ?? 0) + 1;
    const r = this.#receiver;
    this.#tell(ws, {
      type: 'state',
      wires: this.#sender.state(),
      nodes: [...this.#sender.nodes.values()].map(({ address, port, shortName, longName, universes }) => ({
        address,
        port,
        shortName,
        longName,
        universes,
      })),
      receiver: {
        address: `${r.host}:${r.port}`,
        packets: r.packets,
        bad: r.bad,
        polls: r.polls,
        pulled: r.pulled,
        largestGapMs: Math.round(r.largestGapMs),
      },
      pages,
      osc: `${this.#osc.host}:${this.#osc.port}`,
    });
  }

  /** Lamps out, then everything closed. */
  async close(): Promise<void> {
    clearInterval(this.#ticker);
    await this.#sender.blackout();
    this.#sender.close();
    await this.#receiver.close();
    await this.#osc.close();
    for (const ws of this.#server.clients) ws.terminate();
    this.#server.close();
  }
}
