import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocket, WebSocketServer } from 'ws';
import { LAMP_PROTOCOLS, type LampProtocol, type StreamDeclaration } from '../core/outlets';
import {
  ARTNET_PORT,
  BRIDGE_PROTOCOL,
  DESK_BYTES,
  DESK_HEAD,
  deskAddress,
  FRAME_BEAT,
  FRAME_DESK,
  FRAME_HEAD,
  FRAME_LASER,
  IDN_PORT,
  FRAME_PACKET,
  FRAME_RECEIVED,
  FRAME_VALUE,
  FRAME_VALUES,
  type FromDriver,
  isDriverFrame,
  MOST_TEXT_BYTES,
  PAGE_ID_MOST,
  parseFromDriver,
  RECEIVED_BYTES,
  RECEIVED_HEAD,
  type ReceiverState,
  SACN_PORT,
  type ToDriver,
  VALUES_HEAD,
} from '../core/protocols';
import type { BridgeFolder } from './folder';
import { DeskListener } from './deskListener';
import {
  addressesFor,
  asked,
  CANONICAL_HOST,
  isLocalPeer,
  isOwnWindow,
  keyMatches,
  mayDrive,
  mayWatch,
} from './hosts';
import { LaserDesk } from './laserDesk';
import { OSC_PORT, OscListener, type OscMessage } from './oscListener';
import { OscOut } from './outlets/oscOut';
import { Outlets } from './outlets/outlets';
import { PageHub } from './pages/pageHub';
import { Publisher } from './pages/publisher';
import { PhoneDesk } from './phones';
import { refuseUpgrade } from './refuse';
import { SimulatedReceiver } from './simulated/artnetReceiver';
import { OscReceiver } from './simulated/oscReceiver';
import { SacnReceiver } from './simulated/sacnReceiver';
import { SecondDesk } from './seconds';
import { Projector } from './simulated/projector';
import { SimulatedDesk } from './simulated/desk';

/** Who reads slower than this many bytes is behind, and gets only the latest. */
const BEHIND_BYTES = 64 * 1024;
/** How long a driver that dropped out may come back before another takes its place. */
const LEASE_MS = 4000;
/** Text messages a second that one socket may send. */
const TEXT_RATE = 60;
const STATE_EVERY_MS = 250;
/** What the mirrors drew is told as often as a window can show it. */
const SEEN_EVERY_MS = 33;
/** Packets that are told in one message. */
const RECEIVED_MOST = 64;

/** The receivers that ship with us, one for each protocol. */
export interface Receivers {
  readonly artnet: SimulatedReceiver;
  readonly sacn: SacnReceiver;
  readonly osc: OscReceiver;
}

/**
 * The way from the control window to everything outside the browser. One driver at a time, by lease; any number of
 * pages. Of values the latest win under back-pressure, of events each is passed on; nothing that a peer sends can throw. What
 * goes to lamps is sent by a thread of its own ({@link Outlets}).
 */
export class Bridge {
  readonly #drivers = new WebSocketServer({
    noServer: true,
    maxPayload: MOST_TEXT_BYTES,
    perMessageDeflate: false,
  });
  readonly #phones = new PhoneDesk(
    () => this.#driver !== null,
    (act, phone) => {
      if (this.#driver) this.#tell(this.#driver, { type: 'phone', act, phone });
    },
  );
  readonly #seconds = new SecondDesk(() => ({ drives: this.#driver !== null, armed: this.#armed }));
  #armed = false;
  readonly #folder: BridgeFolder;
  readonly #listen: string;
  readonly #port: number;
  readonly #outlets: Outlets;
  readonly #receivers: Receivers;
  readonly #osc: OscListener;
  readonly #oscOut: OscOut;
  readonly #desk: DeskListener;
  readonly desk: SimulatedDesk;
  readonly #laser: LaserDesk;
  readonly #deskFrame = Buffer.alloc(DESK_BYTES);
  #deskWaits = false;
  readonly pages: PageHub;
  readonly publisher: Publisher;
  readonly #ticker: NodeJS.Timeout;
  readonly #seer: NodeJS.Timeout;
  readonly #received = Buffer.alloc(RECEIVED_BYTES * RECEIVED_MOST);
  #receivedCount = 0;
  #driver: WebSocket | null = null;
  #driverIsOwn = false;
  #lease: string | null = null;
  /** By the monotonic clock: a wall clock that is set makes nobody wait. */
  #lostAt = -Infinity;
  #streams: readonly StreamDeclaration[] = [];
  #version = -1;
  /** The pages that the show has. */
  #all: readonly string[] = [];
  #sentAt = 0;
  #closed = false;

  private constructor(
    folder: BridgeFolder,
    listen: string,
    port: number,
    receivers: Receivers,
    osc: (tell: (messages: readonly OscMessage[]) => void) => OscListener,
    outlets: Outlets,
    desk: DeskListener,
    laser: LaserDesk,
  ) {
    this.#laser = laser;
    this.#folder = folder;
    // What is sent only while somebody watches begins with the first.
    this.pages = new PageHub(
      (id) => folder.page(id),
      () => this.#tellState(),
    );
    this.publisher = new Publisher(folder, () => this.#tellState());
    folder.onTaken = (hash) => this.publisher.came(hash);
    this.#listen = listen;
    this.#port = port;
    this.#receivers = receivers;
    this.#osc = osc((messages) => {
      const ws = this.#driver;
      if (ws && ws.bufferedAmount <= BEHIND_BYTES) this.#tell(ws, { type: 'osc', messages });
    });
    this.#oscOut = new OscOut({ host: receivers.osc.host, port: receivers.osc.port });
    this.#outlets = outlets;
    this.#desk = desk;
    desk.onUniverse = (...told) => this.#heardDesk(...told);
    this.desk = new SimulatedDesk({ artnet: desk.place('artnet'), sacn: desk.place('sacn') });
    for (const protocol of LAMP_PROTOCOLS)
      receivers[protocol].onPacket = (universe, channels, packets) =>
        this.#heard(protocol, universe, channels, packets);
    this.#ticker = setInterval(() => this.#tellState(), STATE_EVERY_MS);
    this.#seer = setInterval(() => this.#tellSeen(), SEEN_EVERY_MS);
  }

  /** @param ports - where the simulated receivers listen @param osc - where OSC is heard; 0 for a free port @param laser - where the simulated projector listens */
  static async open(
    folder: BridgeFolder,
    port: number,
    ports: Readonly<Record<LampProtocol, number>> = { artnet: ARTNET_PORT, sacn: SACN_PORT },
    osc: { readonly host: string; readonly port: number } = { host: '127.0.0.1', port: OSC_PORT },
    laser = IDN_PORT,
  ): Promise<Bridge> {
    let tell: (messages: readonly OscMessage[]) => void = () => undefined;
    // Desks first: where they are heard beyond this computer, the standards' ports are theirs.
    const further = !isLocalPeer(osc.host);
    let sender: Outlets | null = null;
    const desk = await DeskListener.open(
      osc.host,
      further ? { artnet: ARTNET_PORT, sacn: SACN_PORT } : { artnet: 0, sacn: 0 },
      {
        cid: () => Buffer.from(sender?.cid ?? []).toString('hex'),
        port: () => sender?.state.from ?? 0,
      },
    );
    const listener = await OscListener.open(osc.host, osc.port, (messages) => tell(messages));
    const receivers = {
      artnet: await SimulatedReceiver.open(ports.artnet),
      sacn: await SacnReceiver.open(ports.sacn),
      osc: await OscReceiver.open(),
    };
    const { artnet, sacn } = receivers;
    const projector = await Projector.open(laser);
    const outlets = new Outlets(
      {
        artnet: { host: artnet.host, port: artnet.port },
        sacn: { host: sacn.host, port: sacn.port },
      },
      undefined,
      { host: projector.host, port: projector.port },
    );
    sender = outlets;
    const hear = (then: typeof tell): OscListener => {
      tell = then;
      return listener;
    };
    return new Bridge(
      folder,
      osc.host,
      port,
      receivers,
      hear,
      outlets,
      desk,
      new LaserDesk(folder, outlets, projector),
    );
  }

  get osc(): OscListener {
    return this.#osc;
  }
  get receivers(): Receivers {
    return this.#receivers;
  }
  get projector(): Projector {
    return this.#laser.projector;
  }
  get outlets(): Outlets {
    return this.#outlets;
  }

  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    const ask = asked(request);
    const role = ask?.query.get('role');
    const page = ask?.query.get('page') ?? '';
    const allowed =
      role === 'driver'
        ? mayDrive(ask, this.#port, this.#folder.driveKey)
        : role === 'phone' || role === 'second'
          ? keyMatches(ask?.query.get('key') ?? null, this.#folder.phoneKey)
          : role === 'page' && page.length <= PAGE_ID_MOST && mayWatch(ask, this.#port, this.#folder.key);
    if (!allowed) {
      refuseUpgrade(socket, '403 Forbidden');
      return;
    }
    if (role === 'phone' ? this.#phones.full : role === 'second' ? this.#seconds.full : this.pages.full) {
      refuseUpgrade(socket, '503 Service Unavailable');
      return;
    }
    if (role === 'phone') {
      this.#phones.meet(request, socket, head);
      return;
    }
    if (role === 'second') {
      this.#seconds.meet(request, socket, head);
      return;
    }
    if (role === 'page') {
      this.pages.meet(request, socket, head, page);
      return;
    }
    const own = isOwnWindow(ask, this.#port);
    this.#drivers.handleUpgrade(request, socket, head, (ws) => {
      ws.on('error', () => ws.terminate());
      this.#meetDriver(ws, own);
    });
  }

  /** @param own - it is this machine's own window, and may know the keys */
  #meetDriver(ws: WebSocket, own: boolean): void {
    let budget = TEXT_RATE;
    let refilled = performance.now();
    ws.on('message', (data: Buffer, binary) => {
      if (binary) {
        if (ws === this.#driver) this.#frame(data);
        return;
      }
      const now = performance.now();
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
      this.#obey(ws, message, own);
    });
    ws.on('close', () => {
      if (ws !== this.#driver) return;
      this.#laser.leave();
      this.#driver = null;
      this.#lostAt = performance.now();
      this.#tellLive(); // lamps hold, or go to their safe state; pages learn that nobody drives
    });
  }

  #obey(ws: WebSocket, message: FromDriver, own: boolean): void {
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
        (this.#driver === null && performance.now() - this.#lostAt > LEASE_MS);
      if (!free && !message.take) {
        this.#tell(ws, { type: 'busy' });
        return;
      }
      const old = this.#driver;
      // Whoever comes arms it anew.
      this.#laser.leave();
      this.#driver = ws;
      this.#driverIsOwn = own;
      this.#lease = message.lease;
      if (old && old !== ws) {
        this.#tell(old, { type: 'busy' });
        old.close(4001, 'another window drives now');
      }
      this.#tell(ws, {
        type: 'welcome',
        protocol: BRIDGE_PROTOCOL,
        driving: true,
        key: own ? this.#folder.key : null,
        address: `http://${CANONICAL_HOST}:${this.#port}`,
        phoneKey: own ? this.#folder.phoneKey : null,
        elsewhere: own ? addressesFor(this.#listen, this.#port) : [],
      });
      this.#tellLive();
      this.#desk.desks.tellAgain();
      return;
    }
    if (ws !== this.#driver) {
      this.#tell(ws, { type: 'busy' });
      return;
    }
    if (message.type === 'sought') {
      this.#phones.seek(message.lamp);
      return;
    }
    if (message.type === 'night') {
      this.#phones.show(message.night);
      return;
    }
    if (message.type === 'standing') {
      this.#seconds.stand(message);
      return;
    }
    if (message.type === 'broker') {
      if (own) this.publisher.set(message.setting);
      return;
    }
    if (message.type === 'pages') {
      this.#takePages(ws, message);
      return;
    }
    if (message.type !== 'outlets') {
      void this.#laser.obey(message, own, (why) => {
        this.#tell(ws, { type: 'laserSays', why });
        this.#tellState();
      });
      return;
    }
    this.#streams = message.streams;
    this.#version = message.version;
    this.#armed = message.armed;
    this.#outlets.declare(message.wires, message.streams, message.armed);
    this.#oscOut.declare(message.streams, message.armed);
    this.#desk.want(message.streams.flatMap(({ to }) => (to.kind === 'wire' ? [to.universe] : [])));
  }

  #takePages(ws: WebSocket, { all, documents }: Extract<FromDriver, { type: 'pages' }>): void {
    const gone = this.#all.filter((id) => !all.includes(id));
    this.#all = all;
    this.#folder.setPages(all, documents);
    const changed = [...gone, ...documents.map((d) => d.id)];
    for (const id of changed) this.pages.document(id);
    this.publisher.pages(all, changed);
    void this.#folder.missing().then((media) => {
      if (media.length) this.#tell(ws, { type: 'need', media });
    });
  }

  #frame(data: Buffer): void {
    if (!isDriverFrame(data, this.#streams)) return;
    if (data[0] === FRAME_BEAT) {
      this.#outlets.beat();
      return;
    }
    if (data[0] === FRAME_LASER) {
      this.#laser.take(data);
      return;
    }
    if (data.readUInt32LE(4) !== this.#version >>> 0) return;
    if (data[0] === FRAME_VALUES) {
      this.#values(data);
      return;
    }
    const place = data.readUInt16LE(2),
      { to } = this.#streams[place]!;
    if (to.kind === 'wire') {
      this.#sentAt = data.readDoubleLE(8);
      this.#outlets.write(place, data.subarray(FRAME_HEAD));
      this.publisher.lamps(to.universe, data.subarray(FRAME_HEAD));
      return;
    }
    if (to.kind === 'osc') {
      if (data[0] === FRAME_PACKET) this.#oscOut.send(place, data.subarray(FRAME_HEAD));
      return;
    }
    const copy = Buffer.from(data);
    if (data[0] === FRAME_VALUE) {
      this.pages.value(to.page, copy);
      this.publisher.values(to.page, copy);
    } else {
      this.pages.events(to.page, copy);
      this.publisher.events(to.page, copy);
    }
  }

  /** Values of several wires at once. */
  #values(data: Buffer): void {
    this.#sentAt = data.readDoubleLE(8);
    for (let at = FRAME_HEAD; at < data.length;) {
      const place = data.readUInt16LE(at),
        from = at + VALUES_HEAD;
      at = from + this.#streams[place]!.size;
      this.#outlets.write(place, data.subarray(from, at));
      const { to } = this.#streams[place]!;
      if (to.kind === 'wire') this.publisher.lamps(to.universe, data.subarray(from, at));
    }
  }

  /** Tells all pages whether somebody drives. */
  #tellLive(): void {
    this.#phones.tellLive();
    this.pages.live(this.#driver !== null);
    this.publisher.live(this.#driver !== null);
  }

  #tell(ws: WebSocket, message: ToDriver): void {
    if (ws.readyState === WebSocket.OPEN) ws.send(JSON.stringify(message));
  }

  /** A packet that came back out of the wire: told to the driver with those that came in the same breath, so that what is shown is what was sent. */
  #heard(protocol: LampProtocol, universe: number, channels: Uint8Array, packets: number): void {
    const ws = this.#driver;
    if (!ws || ws.readyState !== WebSocket.OPEN || ws.bufferedAmount > BEHIND_BYTES) return;
    if (this.#receivedCount === 0) setImmediate(() => this.#tellReceived());
    if (this.#receivedCount === RECEIVED_MOST) this.#tellReceived();
    const b = this.#received,
      at = RECEIVED_BYTES * this.#receivedCount++;
    b[at] = FRAME_RECEIVED;
    b[at + 1] = LAMP_PROTOCOLS.indexOf(protocol);
    b.writeUInt16LE(universe, at + 2);
    b.writeUInt32LE(packets >>> 0, at + 4);
    b.writeDoubleLE(this.#sentAt, at + 8);
    b.set(channels, at + RECEIVED_HEAD);
  }
  #tellReceived(): void {
    const bytes = this.#received.subarray(0, RECEIVED_BYTES * this.#receivedCount),
      ws = this.#driver;
    this.#receivedCount = 0;
    if (bytes.length > 0 && ws?.readyState === WebSocket.OPEN) ws.send(Buffer.from(bytes), { binary: true });
  }

  /** A desk's channels: all of them for what is shared, and those that changed for hands. */
  #heardDesk(universe: number, channels: Uint8Array, before: Uint8Array, heard: boolean): void {
    const ws = this.#driver;
    if (!ws || ws.readyState !== WebSocket.OPEN) return;
    if (heard)
      for (let i = 0; i < channels.length; i++)
        if (channels[i] !== before[i]) this.#osc.put(deskAddress(universe, i), channels[i]! / 255);
    // A driver that is behind is told the newest once it has caught up.
    this.#deskWaits ||= ws.bufferedAmount > BEHIND_BYTES;
    if (this.#deskWaits) return;
    const b = this.#deskFrame;
    b[0] = FRAME_DESK;
    b[1] = heard ? 1 : 0;
    b.writeUInt16LE(universe, 2);
    b.set(channels, DESK_HEAD);
    ws.send(Buffer.from(b), { binary: true });
  }

  /** What the projector's mirrors drew. */
  #tellSeen(): void {
    const ws = this.#driver,
      seen = this.#laser.seen();
    if (!seen) return;
    this.pages.seen(seen);
    if (ws?.readyState === WebSocket.OPEN && ws.bufferedAmount < BEHIND_BYTES)
      ws.send(seen, { binary: true });
  }

  #tellState(): void {
    this.pages.catchUp();
    const ws = this.#driver;
    if (this.#closed || !ws || ws.bufferedAmount > BEHIND_BYTES) return;
    if (this.#deskWaits) {
      this.#deskWaits = false;
      this.#desk.desks.tellAgain();
    }
    // Pages may ask for whatever they like; only those that there are count.
    const relays = this.publisher.report(this.#driverIsOwn),
      pages = Object.fromEntries(
        this.#all.map((id) => [
          id,
          relays.relays.reduce((sum, r) => sum + (r.pages[id] ?? 0), this.pages.countOf(id)),
        ]),
      );
    const { artnet, sacn } = this.#receivers;
    const { wires, streams, nodes } = this.#outlets.state;
    this.#tell(ws, {
      type: 'state',
      wires,
      streams,
      restarts: this.#outlets.restarts,
      nodes,
      receivers: { artnet: receiverState(artnet), sacn: receiverState(sacn) },
      pages,
      watchers: this.pages.watchers(this.#all),
      relays,
      osc: `${this.#osc.host}:${this.#osc.port}`,
      messages: this.#oscOut.state,
      desks: this.#desk.desks.seen,
      desksAt: { artnet: placeOf(this.#desk.place('artnet')), sacn: placeOf(this.#desk.place('sacn')) },
      laser: this.#laser.report(),
      seconds: this.#seconds.count,
      heard: [...this.#receivers.osc.heard].map(([a, { value, count }]) => [a, value, count]),
    });
  }

  /** Lamps out, then everything closed. */
  async close(): Promise<void> {
    this.#closed = true;
    clearInterval(this.#ticker);
    clearInterval(this.#seer);
    await this.#outlets.close();
    await this.#receivers.artnet.close();
    await this.#receivers.sacn.close();
    await this.#receivers.osc.close();
    await this.#laser.projector.close();
    this.#oscOut.close();
    this.desk.close();
    await this.#desk.close();
    await this.#osc.close();
    for (const ws of this.#drivers.clients) ws.terminate();
    this.#drivers.close();
    this.#phones.close();
    this.#seconds.close();
    await this.publisher.close();
    this.pages.close();
    await this.#folder.close();
  }
}

const placeOf = ({ host, port }: { readonly host: string; readonly port: number }): string =>
  `${host}:${port}`;
const receiverState = (r: SimulatedReceiver | SacnReceiver): ReceiverState => ({
  address: `${r.host}:${r.port}`,
  packets: r.packets,
  bad: r.bad,
  polls: r.polls,
  pulled: r.pulled,
  largestGapMs: Math.round(r.largestGapMs),
});
