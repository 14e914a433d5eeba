import { createSocket, type Socket } from 'node:dgram';
import {
  type Ends,
  liveShare,
  Pace,
  SILENT_MS,
  StreamReader,
  towardsSafe,
  type LampProtocol,
  type StreamDeclaration,
  type StreamMemory,
} from '../../core/outlets';
import {
  ARTDMX_BYTES,
  type ArtNode,
  decodeArtPollReply,
  encodeArtDmx,
  encodeArtPoll,
  encodeArtSync,
  encodeSacnData,
  encodeSacnDiscovery,
  encodeSacnSync,
  SACN_DATA_BYTES,
  SACN_DISCOVERY_UNIVERSE,
  SACN_PORT,
  SACN_SYNC_BYTES,
  SACN_TERMINATED,
  sacnGroup,
  type SacnSource,
  type StreamState,
  type WireSetup,
  type WireState,
} from '../../core/protocols';
import { HostNames, isLoopback } from './hostNames';

/** What one show sends, and where: a new one takes the place of the one before. */
export interface OutDeclaration {
  readonly wires: readonly WireSetup[];
  /** The streams to wires; their places in `memory` are their places here. */
  readonly streams: readonly StreamDeclaration[];
  readonly memory: StreamMemory;
  readonly armed: boolean;
}

/** A place on the network. */
interface End {
  readonly address: string;
  readonly port: number;
}
/** Where the receivers listen that ship with us. */
export type Simulated = Readonly<Record<LampProtocol, { readonly host: string; readonly port: number }>>;
/** What makes two settings of a wire go to the same place. */
const endOf = ({ protocol, target }: WireSetup): string => `${protocol} ${JSON.stringify(target)}`;
const bytesOf = (text: string | null): Uint8Array | null =>
  text === null ? null : Uint8Array.from(Buffer.from(text, 'base64'));
/** Of the packets of a farewell, how many only say that the stream has ended. */
const ended = ({ setup }: Wire): number => (setup.protocol === 'sacn' ? TERMINATIONS : 0);

interface Wire {
  readonly setup: WireSetup;
  /** Where it goes, as a number; null while its name is not known to stand for one. Of a multicast: the interface. */
  address: string | null;
  port: number;
  readonly socket: Socket;
  /** sACN: the universe whose sync packets its receivers wait for; 0 for none. */
  syncOn: number;
  syncSequence: number;
  /** Where its syncs go. */
  syncTo: readonly End[];
  /** Something of it went out in this turn. */
  sent: boolean;
  packets: number;
  errors: number;
  trouble: string | null;
  /** Why nothing may be heard at the other end, though all is well here. */
  silent: string | null;
}
interface Line {
  declaration: StreamDeclaration;
  readonly key: string;
  readonly universe: number;
  wire: Wire;
  place: number;
  readonly live: Uint8Array;
  readonly ends: Ends;
  readonly out: Uint8Array;
  /** Where it goes at this moment; empty while nobody takes it. */
  to: readonly End[];
  readonly pace: Pace;
  sequence: number;
  share: number;
  calm: boolean;
  /** A packet with anything but darkness in it went out, and none since. */
  lit: boolean;
  sent: number;
  errors: number;
  /** For the rate: what was sent when it was last asked. */
  asked: { at: number; sent: number; rate: number; late: number };
  /** Since it was last asked: the most that a packet was late. */
  late: number;
}
/** A universe that belongs to nothing any more: it is sent dark, and then no more. */
interface Leaving {
  readonly to: readonly End[];
  readonly wire: Wire;
  readonly universe: number;
  readonly dark: Uint8Array;
  sequence: number;
  left: number;
  at: number;
}

const POLL_EVERY_MS = 3000;
const NODE_FORGOTTEN_MS = 9000;
/** Nodes that are remembered: whoever answers for thousands makes up the rest. */
const NODES_MOST = 64;
/** A packet may be lost; three in a row hardly. */
const FAREWELLS = 3;
/** sACN says three times more that a stream has ended. */
const TERMINATIONS = 3;
const DISCOVERY_EVERY_MS = 10000;
const FAREWELL_EVERY_MS = 30;

/** Whether packets to there stay on this machine. */
function staysHere(target: WireSetup['target'], address: string): boolean {
  return target.kind === 'simulated' || isLoopback(address);
}

/**
 * Sends universes as Art-Net or sACN from a thread of its own. Each stream keeps its pace and its keep-alive, goes to its safe state while
 * nobody drives, and leaves nothing lit behind: what is not declared any more, or may not leave this computer any more, is sent
 * dark first. All of it goes by a monotonic clock.
 */
export class WiresOut {
  readonly nodes = new Map<string, ArtNode & { seenAt: number }>();
  readonly #socket: Socket;
  /** A socket for each interface that groups are sent from. */
  readonly #groups = new Map<string, Socket>();
  readonly #simulated: Simulated;
  readonly #source: SacnSource;
  readonly #packet = Buffer.alloc(Math.max(ARTDMX_BYTES, SACN_DATA_BYTES));
  readonly #names = new HostNames(() => {
    this.#polledAt = -Infinity;
    this.#wake();
  });
  #wires = new Map<string, Wire>();
  #lines: Line[] = [];
  #leaving: Leaving[] = [];
  #reader: StreamReader | null = null;
  #armed = false;
  #from = 0;
  #polledAt = -Infinity;
  #discoveredAt = -Infinity;
  readonly #wake: () => void;
  readonly #over: (universe: number, channels: Uint8Array) => void;

  /**
   * @param simulated - where the receivers listen that ship with us @param cid - who sends, to sACN: 16 bytes
   * @param wake - asks for a turn @param over - lays its own over a universe's channels, last of all
   */
  constructor(
    simulated: Simulated,
    cid: Uint8Array,
    wake: () => void,
    over: (universe: number, channels: Uint8Array) => void = () => undefined,
  ) {
    this.#over = over;
    this.#simulated = simulated;
    this.#source = { cid, name: new TextEncoder().encode('Batucada') };
    this.#wake = wake;
    this.#socket = createSocket('udp4');
    this.#socket.on('message', (m, from) => {
      const node = decodeArtPollReply(m),
        key = `${from.address}:${from.port}`;
      if (node && (this.nodes.has(key) || this.nodes.size < NODES_MOST))
        this.nodes.set(key, { ...node, seenAt: performance.now() });
    });
    this.#socket.on('error', () => undefined); // counted where it is sent
    this.#socket.bind(0, () => {
      this.#socket.setBroadcast(true);
      this.#from = this.#socket.address().port;
    });
  }

  /** Between turns. Streams that stay keep their values, their order and their pace. */
  declare({ wires, streams, memory, armed }: OutDeclaration, now: number): void {
    this.#armed = armed;
    const before = this.#wires;
    this.#wires = new Map(
      wires.map((setup): [string, Wire] => {
        const old = before.get(setup.id),
          same = old && endOf(old.setup) === endOf(setup);
        const { host, port } = this.#hostOf(setup);
        const wire: Wire = {
          setup,
          address: same ? old.address : null,
          port,
          socket: this.#socketOf(setup.target),
          syncOn: 0,
          syncSequence: old?.syncSequence ?? 0,
          syncTo: [],
          sent: false,
          packets: same ? old.packets : 0,
          errors: same ? old.errors : 0,
          trouble: null,
          silent: null,
        };
        this.#place(wire, host, now);
        return [setup.id, wire];
      }),
    );
    const lines = new Map(this.#lines.map((l) => [l.key, l]));
    this.#reader = new StreamReader(memory);
    this.#lines = streams.flatMap((declaration, place): Line[] => {
      if (declaration.to.kind !== 'wire' || declaration.size !== 512) return [];
      const { wire: id, universe } = declaration.to,
        wire = this.#wires.get(id);
      if (!wire) return [];
      const key = `${id} ${endOf(wire.setup)} ${universe}`,
        old = lines.get(key);
      lines.delete(key);
      const line: Line = {
        declaration,
        key,
        universe,
        wire,
        place,
        live: old?.live ?? new Uint8Array(512),
        ends: {
          rest: bytesOf(declaration.rest),
          fates: bytesOf(declaration.fates),
          calm: bytesOf(declaration.calm),
        },
        to: old?.to ?? [],
        calm: old?.calm ?? false,
        late: old?.late ?? 0,
        out: old?.out ?? new Uint8Array(512),
        pace: old?.pace ?? new Pace(declaration.mostPerSecond, declaration.keepAlive),
        sequence: old?.sequence ?? 0,
        share: old?.share ?? 1,
        lit: old?.lit ?? false,
        sent: old?.sent ?? 0,
        errors: old?.errors ?? 0,
        asked: old?.asked ?? { at: now, sent: 0, rate: 0, late: 0 },
      };
      line.pace.set(declaration.mostPerSecond, declaration.keepAlive);
      return [line];
    });
    for (const wire of this.#wires.values()) {
      const own = this.#lines.filter((l) => l.wire === wire).map((l) => l.universe);
      wire.syncOn = wire.setup.sync && own.length > 0 ? Math.min(...own) + 1 : 0;
    }
    this.#direct();
    for (const gone of lines.values()) this.#farewell(gone, now);
    this.#polledAt = -Infinity;
    this.#discoveredAt = -Infinity;
  }

  #hostOf({ protocol, target }: WireSetup): { readonly host: string; readonly port: number } {
    if (target.kind === 'simulated') return this.#simulated[protocol];
    if (target.kind === 'multicast') return { host: target.from ?? '0.0.0.0', port: SACN_PORT };
    return target;
  }
  #socketOf(target: WireSetup['target']): Socket {
    if (target.kind !== 'multicast') return this.#socket;
    const from = target.from ?? '';
    let socket = this.#groups.get(from);
    if (!socket) {
      const made = createSocket('udp4');
      this.#groups.set(from, (socket = made));
      made.on('error', () => undefined); // counted where it is sent
      made.bind(0, () => {
        try {
          if (from) made.setMulticastInterface(from === 'localhost' ? '127.0.0.1' : from);
        } catch {
          // No such interface: what is sent then says so.
        }
      });
    }
    return socket;
  }
  /** Where each line goes from now on. */
  #direct(): void {
    for (const line of this.#lines) {
      const { wire, universe } = line,
        { target } = wire.setup,
        { address, port } = wire;
      if (address === null) line.to = [];
      else if (target.kind === 'multicast') line.to = [{ address: sacnGroup(universe + 1), port }];
      else if (target.kind === 'nodes')
        line.to = [...this.nodes.values()].filter((n) => n.universes.includes(universe));
      else line.to = [{ address, port }];
    }
    for (const wire of this.#wires.values()) {
      const ends = this.#lines.filter((l) => l.wire === wire).flatMap((l) => l.to);
      wire.syncTo = !wire.setup.sync
        ? []
        : wire.setup.target.kind === 'multicast'
          ? [{ address: sacnGroup(wire.syncOn), port: wire.port }]
          : [...new Map(ends.map((e) => [`${e.address} ${e.port}`, e])).values()];
    }
  }

  /** Where a wire's packets go, as a number, and why they may not. */
  #place(wire: Wire, host: string, now: number): void {
    const { address, trouble } = this.#names.find(host, now);
    if (address === null) {
      wire.trouble = trouble;
      return;
    }
    wire.address = address;
    wire.trouble =
      staysHere(wire.setup.target, address) || this.#armed
        ? null
        : 'This target is beyond this computer. Arm the outputs to send to it.';
  }

  /** A line that ends here: dark to where it was sent, unless another goes there now. */
  #farewell(line: Line, now: number): void {
    if (!line.lit) return;
    line.lit = false;
    const others = this.#lines.filter(
      (l) => l !== line && l.universe === line.universe && l.wire.setup.protocol === line.wire.setup.protocol,
    );
    const to = line.to.filter(
      (end) => !others.some((l) => l.to.some((x) => x.address === end.address && x.port === end.port)),
    );
    if (to.length === 0) return;
    const dark = new Uint8Array(512);
    towardsSafe(line.live, { ...line.ends, rest: null }, 0, true, dark);
    this.#leaving.push({
      to,
      wire: line.wire,
      universe: line.universe,
      dark,
      sequence: line.sequence,
      left: FAREWELLS + (line.wire.setup.protocol === 'sacn' ? TERMINATIONS : 0),
      at: now,
    });
  }

  /**
   * Sends what is due.
   * @param silentMs - since the driver was last heard of
   * @returns milliseconds until there is something to do again, if nothing comes in between
   */
  turn(now: number, silentMs: number): number {
    let next = POLL_EVERY_MS;
    for (let i = 0; i < this.#lines.length; i++) {
      const line = this.#lines[i]!,
        { wire, declaration, pace } = line;
      const changed = this.#reader!.read(line.place, line.live);
      const share = liveShare(declaration.safe, silentMs),
        calm = silentMs > SILENT_MS;
      if (changed || share !== line.share || calm !== line.calm) pace.change();
      line.share = share;
      line.calm = calm;
      if (wire.trouble !== null) {
        // It may have been armed until now.
        this.#farewell(line, now);
        continue;
      }
      let wait = pace.wait(now);
      if (wait <= 0) {
        if (share < 1 || calm)
          towardsSafe(
            line.live,
            declaration.safe.then === 'rest' ? line.ends : { ...line.ends, rest: null },
            share,
            calm,
            line.out,
          );
        else line.out.set(line.live);
        this.#over(line.universe, line.out);
        if (wait > -1000) line.late = Math.max(line.late, -wait);
        this.#send(line);
        pace.sent(now);
        wire.sent = true;
        wait = pace.wait(now);
      }
      next = Math.min(next, wait, share > 0 && share < 1 ? 20 : Infinity);
    }
    for (let i = this.#leaving.length - 1; i >= 0; i--) {
      const leaving = this.#leaving[i]!;
      if (now >= leaving.at) {
        void this.#out(
          leaving,
          leaving.dark,
          leaving.to,
          leaving.wire,
          null,
          leaving.left <= ended(leaving.wire),
        );
        leaving.at = now + FAREWELL_EVERY_MS;
        if (--leaving.left === 0) {
          this.#leaving.splice(i, 1);
          continue;
        }
      }
      next = Math.min(next, leaving.at - now);
    }
    for (const wire of this.#wires.values()) {
      if (wire.sent && wire.setup.sync) this.#sync(wire);
      wire.sent = false;
    }
    if (now - this.#polledAt >= POLL_EVERY_MS) this.#poll(now);
    if (now - this.#discoveredAt >= DISCOVERY_EVERY_MS) this.#discover(now);
    return Math.max(1, next);
  }

  #send(line: Line): void {
    line.lit = false;
    for (let i = 0; i < 512 && !line.lit; i++) line.lit = line.out[i] !== 0;
    void this.#out(line, line.out, line.to, line.wire, line, false);
  }
  /**
   * One packet to each end. The sequence of Art-Net goes from 1 to 255, as 0 would switch the receiver's ordering off.
   * @param line - whose it is; null for a farewell
   * @param terminated - sACN: nothing follows, and what it carries does not count
   */
  #out(
    of: { sequence: number; readonly universe: number },
    data: Uint8Array,
    to: readonly End[],
    { setup, syncOn, socket }: Wire,
    line: Line | null,
    terminated: boolean,
  ): Promise<unknown> {
    let n: number;
    if (setup.protocol === 'artnet') {
      of.sequence = (of.sequence % 255) + 1;
      n = encodeArtDmx(this.#packet, of.universe, of.sequence, data);
    } else {
      of.sequence = (of.sequence + 1) & 255;
      n = encodeSacnData(
        this.#packet,
        this.#source,
        of.universe + 1,
        of.sequence,
        setup.priority,
        // What is sent for the last time waits for no sync: none follows.
        line ? syncOn : 0,
        data,
        terminated ? SACN_TERMINATED : 0,
      );
    }
    // The socket may keep the buffer until the packet is out: each gets its own copy.
    const copy = Buffer.from(this.#packet.subarray(0, n));
    return Promise.all(
      to.map(
        ({ address, port }) =>
          new Promise<void>((done) =>
            socket.send(copy, port, address, (e) => {
              if (line && e) {
                line.errors++;
                line.wire.errors++;
              } else if (line) {
                line.sent++;
                line.wire.packets++;
              }
              done();
            }),
          ),
      ),
    );
  }

  /** Says that what was sent in this turn is to be shown now. */
  #sync(wire: Wire): void {
    let packet: Uint8Array;
    if (wire.setup.protocol === 'artnet') packet = encodeArtSync();
    else {
      packet = new Uint8Array(SACN_SYNC_BYTES);
      wire.syncSequence = (wire.syncSequence + 1) & 255;
      encodeSacnSync(packet, this.#source, wire.syncOn, wire.syncSequence);
    }
    for (const { address, port } of wire.syncTo)
      wire.socket.send(packet, port, address, (e) => {
        if (e) wire.errors++;
      });
  }

  /** sACN: which universes come from here. */
  #discover(now: number): void {
    this.#discoveredAt = now;
    for (const wire of this.#wires.values()) {
      if (wire.setup.protocol !== 'sacn' || wire.trouble !== null || wire.address === null) continue;
      const own = this.#lines.filter((l) => l.wire === wire).map((l) => l.universe + 1);
      const address =
        wire.setup.target.kind === 'multicast' ? sacnGroup(SACN_DISCOVERY_UNIVERSE) : wire.address;
      for (const page of encodeSacnDiscovery(this.#source, own))
        wire.socket.send(page, wire.port, address, (e) => {
          if (e) wire.errors++;
        });
    }
  }

  #poll(now: number): void {
    this.#polledAt = now;
    for (const [key, node] of this.nodes) if (now - node.seenAt > NODE_FORGOTTEN_MS) this.nodes.delete(key);
    for (const wire of this.#wires.values()) {
      const { target, protocol } = wire.setup;
      this.#place(wire, this.#hostOf(wire.setup).host, now);
      if (target.kind === 'nodes' && wire.trouble === null && this.nodes.size === 0)
        wire.silent = 'No node has answered yet. Is it switched on, and on this network?';
      else wire.silent = null;
      if (wire.trouble === null && wire.address !== null && protocol === 'artnet')
        this.#socket.send(encodeArtPoll(), wire.port, wire.address, (e) => {
          if (e) wire.errors++;
        });
    }
    this.#direct();
  }

  /** For messages, not for turns. */
  state(now: number): {
    readonly wires: WireState[];
    readonly streams: StreamState[];
    readonly nodes: ArtNode[];
    readonly from: number;
  } {
    return {
      from: this.#from,
      wires: [...this.#wires.values()].map((w) => ({
        id: w.setup.id,
        packets: w.packets,
        errors: w.errors,
        trouble: w.trouble ?? w.silent,
        address:
          w.setup.target.kind === 'multicast'
            ? `groups ${sacnGroup(1)} on, port ${w.port}`
            : `${w.address ?? this.#hostOf(w.setup).host}:${w.port}`,
      })),
      streams: this.#lines.map((l) => {
        const { asked } = l;
        if (now - asked.at >= 1000) {
          const rate = ((l.sent - asked.sent) * 1000) / (now - asked.at);
          l.asked = { at: now, sent: l.sent, rate, late: l.late };
          l.late = 0;
        }
        return {
          id: l.declaration.id,
          sent: l.sent,
          rate: Math.round(l.asked.rate * 10) / 10,
          errors: l.errors,
          late: Math.round(l.asked.late * 10) / 10,
          live: l.share,
        };
      }),
      nodes: [...this.nodes.values()].map(({ address, port, shortName, longName, universes }) => ({
        address,
        port,
        shortName,
        longName,
        universes,
      })),
    };
  }

  /** Every lamp out, once, for leaving; what was leaving already goes at once. What moves stays where it is. */
  async blackout(): Promise<void> {
    await Promise.all([
      ...this.#lines
        .filter((l) => l.wire.trouble === null)
        .map((l) => {
          towardsSafe(l.live, { ...l.ends, rest: null }, 0, true, l.out);
          return this.#out(l, l.out, l.to, l.wire, null, false);
        }),
      ...this.#leaving.map((l) => this.#out(l, l.dark, l.to, l.wire, null, false)),
    ]);
    const ending = [...this.#lines, ...this.#leaving].filter(
      ({ wire }) => wire.setup.protocol === 'sacn' && wire.trouble === null,
    );
    for (let i = 0; i < TERMINATIONS; i++)
      await Promise.all(
        ending.map((l) => this.#out(l, 'out' in l ? l.out : l.dark, l.to, l.wire, null, true)),
      );
  }

  close(): void {
    this.#socket.close();
    for (const socket of this.#groups.values()) socket.close();
  }
}
