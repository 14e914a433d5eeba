import { createSocket, type Socket } from 'node:dgram';
import { promises as dns } from 'node:dns';
import { isIP } from 'node:net';
import {
  liveShare,
  Pace,
  StreamReader,
  towardsSafe,
  type StreamDeclaration,
  type StreamMemory,
} from '../../core/outlets';
import {
  ARTDMX_BYTES,
  type ArtNode,
  decodeArtPollReply,
  encodeArtDmx,
  encodeArtPoll,
  type StreamState,
  type WireSetup,
  type WireState,
} from '../../core/protocols';

/** What one show sends, and where: a new one takes the place of the one before. */
export interface OutDeclaration {
  readonly wires: readonly WireSetup[];
  /** The streams to wires; their places in `memory` are their places here. */
  readonly streams: readonly StreamDeclaration[];
  readonly memory: StreamMemory;
  readonly armed: boolean;
}

interface Wire {
  readonly setup: WireSetup;
  /** Where it goes, as a number; null while its name is not known to stand for one. */
  address: string | null;
  port: number;
  packets: number;
  errors: number;
  trouble: string | null;
}
interface Line {
  declaration: StreamDeclaration;
  readonly key: string;
  readonly universe: number;
  wire: Wire;
  place: number;
  readonly live: Uint8Array;
  readonly rest: Uint8Array | null;
  readonly out: Uint8Array;
  readonly pace: Pace;
  sequence: number;
  share: number;
  /** A packet with anything but darkness in it went out, and none since. */
  lit: boolean;
  sent: number;
  errors: number;
  /** For the rate: what was sent when it was last asked. */
  asked: { at: number; sent: number; rate: number };
}
/** A universe that belongs to nothing any more: it is sent dark, and then no more. */
interface Leaving {
  readonly address: string;
  readonly port: number;
  readonly universe: number;
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
const FAREWELL_EVERY_MS = 30;
/** A name is looked up again after this long: it may stand for another machine by then. */
const NAME_AGAIN_MS = 30000;

export function isLoopback(host: string): boolean {
  return host === 'localhost' || host === '::1' || /^127\.\d+\.\d+\.\d+$/.test(host);
}

/**
 * Sends universes as Art-Net from a thread of its own. Each stream keeps its pace and its keep-alive, goes to its safe state while
 * nobody drives, and leaves nothing lit behind: what is not declared any more, or may not leave this computer any more, is sent
 * dark first. All of it goes by a monotonic clock.
 */
export class ArtnetOut {
  readonly nodes = new Map<string, ArtNode & { seenAt: number }>();
  readonly #socket: Socket;
  readonly #simulated: { readonly host: string; readonly port: number };
  readonly #packet = Buffer.alloc(ARTDMX_BYTES);
  readonly #names = new Map<string, { address: string | null; at: number }>();
  #wires = new Map<string, Wire>();
  #lines: Line[] = [];
  #leaving: Leaving[] = [];
  #reader: StreamReader | null = null;
  #armed = false;
  #polledAt = -Infinity;
  readonly #wake: () => void;

  /** @param simulated - where the lamps listen that ship with us @param wake - asks for a turn */
  constructor(simulated: { readonly host: string; readonly port: number }, wake: () => void) {
    this.#simulated = simulated;
    this.#wake = wake;
    this.#socket = createSocket('udp4');
    this.#socket.on('message', (m, from) => {
      const node = decodeArtPollReply(m),
        key = `${from.address}:${from.port}`;
      if (node && (this.nodes.has(key) || this.nodes.size < NODES_MOST))
        this.nodes.set(key, { ...node, seenAt: performance.now() });
    });
    this.#socket.on('error', () => undefined); // counted where it is sent
    this.#socket.bind(0, () => this.#socket.setBroadcast(true));
  }

  /** Between turns. Streams that stay keep their values, their order and their pace. */
  declare({ wires, streams, memory, armed }: OutDeclaration, now: number): void {
    this.#armed = armed;
    const before = this.#wires;
    this.#wires = new Map(
      wires.map((setup): [string, Wire] => {
        const old = before.get(setup.id),
          same = old && JSON.stringify(old.setup.target) === JSON.stringify(setup.target);
        const { host, port } = setup.target.kind === 'simulated' ? this.#simulated : setup.target;
        const wire: Wire = {
          setup,
          address: same ? old.address : null,
          port,
          packets: same ? old.packets : 0,
          errors: same ? old.errors : 0,
          trouble: null,
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
      const key = `${id} ${JSON.stringify(wire.setup.target)} ${universe}`,
        old = lines.get(key);
      lines.delete(key);
      const line: Line = {
        declaration,
        key,
        universe,
        wire,
        place,
        live: old?.live ?? new Uint8Array(512),
        rest: declaration.rest === null ? null : Uint8Array.from(Buffer.from(declaration.rest, 'base64')),
        out: old?.out ?? new Uint8Array(512),
        pace: old?.pace ?? new Pace(declaration.mostPerSecond, declaration.keepAlive),
        sequence: old?.sequence ?? 0,
        share: old?.share ?? 1,
        lit: old?.lit ?? false,
        sent: old?.sent ?? 0,
        errors: old?.errors ?? 0,
        asked: old?.asked ?? { at: now, sent: 0, rate: 0 },
      };
      line.pace.set(declaration.mostPerSecond, declaration.keepAlive);
      return [line];
    });
    for (const gone of lines.values()) this.#farewell(gone, now);
    this.#polledAt = -Infinity;
  }

  /** Where a wire's packets go, as a number, and why they may not. */
  #place(wire: Wire, host: string, now: number): void {
    const version = isIP(host === 'localhost' ? '127.0.0.1' : host);
    if (version === 6) {
      wire.trouble = 'Art-Net goes over IPv4. Give an IPv4 address.';
      return;
    }
    const known = host === 'localhost' ? '127.0.0.1' : version === 4 ? host : this.#nameOf(host, now);
    const address = known ?? null;
    if (address === null) {
      wire.trouble = `“${host}” is not known on this network. Give the node’s address in numbers, such as 10.0.0.5.`;
      return;
    }
    wire.address = address;
    wire.trouble =
      isLoopback(address) || this.#armed
        ? null
        : 'This target is beyond this computer. Arm the outputs to send to it.';
  }
  /** What a name stands for, as far as is known by now; it is looked up beside. */
  #nameOf(host: string, now: number): string | null {
    const known = this.#names.get(host);
    if (!known || now - known.at > NAME_AGAIN_MS) {
      this.#names.set(host, { address: known?.address ?? null, at: now });
      void dns.lookup(host, 4).then(
        ({ address }) => {
          this.#names.set(host, { address, at: performance.now() });
          this.#polledAt = -Infinity;
          this.#wake();
        },
        () => undefined,
      );
    }
    return known?.address ?? null;
  }

  /** A line that ends here: dark to where it was sent, unless another goes there now. */
  #farewell(line: Line, now: number): void {
    const { address, port } = line.wire;
    if (!line.lit || address === null) return;
    line.lit = false;
    if (
      this.#lines.some(
        (l) =>
          l !== line && l.universe === line.universe && l.wire.address === address && l.wire.port === port,
      )
    )
      return;
    this.#leaving.push({
      address,
      port,
      universe: line.universe,
      sequence: line.sequence,
      left: FAREWELLS,
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
      const share = liveShare(declaration.safe, silentMs);
      if (changed || share !== line.share) pace.change();
      line.share = share;
      if (wire.trouble !== null) {
        // It may have been armed until now.
        this.#farewell(line, now);
        continue;
      }
      let wait = pace.wait(now);
      if (wait <= 0) {
        if (share < 1) towardsSafe(line.live, line.rest, share, line.out);
        else line.out.set(line.live);
        this.#send(line);
        pace.sent(now);
        wait = pace.wait(now);
      }
      next = Math.min(next, wait, share > 0 && share < 1 ? 20 : Infinity);
    }
    for (let i = this.#leaving.length - 1; i >= 0; i--) {
      const leaving = this.#leaving[i]!;
      if (now >= leaving.at) {
        this.#out(leaving, DARKNESS, leaving.address, leaving.port, null);
        leaving.at = now + FAREWELL_EVERY_MS;
        if (--leaving.left === 0) {
          this.#leaving.splice(i, 1);
          continue;
        }
      }
      next = Math.min(next, leaving.at - now);
    }
    if (now - this.#polledAt >= POLL_EVERY_MS) this.#poll(now);
    return Math.max(1, next);
  }

  #send(line: Line): void {
    line.lit = false;
    for (let i = 0; i < 512 && !line.lit; i++) line.lit = line.out[i] !== 0;
    this.#out(line, line.out, line.wire.address!, line.wire.port, line);
  }
  /** One packet; the sequence goes from 1 to 255, as 0 would switch the receiver's ordering off. */
  #out(
    of: { sequence: number; readonly universe: number },
    data: Uint8Array,
    address: string,
    port: number,
    line: Line | null,
  ): Promise<void> {
    of.sequence = (of.sequence % 255) + 1;
    const n = encodeArtDmx(this.#packet, of.universe, of.sequence, data);
    // The socket may keep the buffer until the packet is out: each gets its own copy.
    return new Promise((done) =>
      this.#socket.send(Buffer.from(this.#packet.subarray(0, n)), port, address, (e) => {
        if (line && e) {
          line.errors++;
          line.wire.errors++;
        } else if (line) {
          line.sent++;
          line.wire.packets++;
        }
        done();
      }),
    );
  }

  #poll(now: number): void {
    this.#polledAt = now;
    for (const [key, node] of this.nodes) if (now - node.seenAt > NODE_FORGOTTEN_MS) this.nodes.delete(key);
    for (const wire of this.#wires.values()) {
      const { target } = wire.setup;
      this.#place(wire, target.kind === 'simulated' ? this.#simulated.host : target.host, now);
      if (wire.trouble === null && wire.address !== null)
        this.#socket.send(encodeArtPoll(), wire.port, wire.address, (e) => {
          if (e) wire.errors++;
        });
    }
  }

  /** For messages, not for turns. */
  state(now: number): {
    readonly wires: WireState[];
    readonly streams: StreamState[];
    readonly nodes: ArtNode[];
  } {
    return {
      wires: [...this.#wires.values()].map((w) => ({
        id: w.setup.id,
        packets: w.packets,
        errors: w.errors,
        trouble: w.trouble,
        address: `${w.address ?? (w.setup.target.kind === 'network' ? w.setup.target.host : '')}:${w.port}`,
      })),
      streams: this.#lines.map((l) => {
        const { asked } = l;
        if (now - asked.at >= 1000)
          l.asked = { at: now, sent: l.sent, rate: ((l.sent - asked.sent) * 1000) / (now - asked.at) };
        return {
          id: l.declaration.id,
          sent: l.sent,
          rate: Math.round(l.asked.rate * 10) / 10,
          errors: l.errors,
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

  /** Every lamp to zero, once, for leaving; what was leaving already goes at once. */
  async blackout(): Promise<void> {
    await Promise.all([
      ...this.#lines
        .filter((l) => l.wire.trouble === null && l.wire.address !== null)
        .map((l) => this.#out(l, DARKNESS, l.wire.address!, l.wire.port, l)),
      ...this.#leaving.map((l) => this.#out(l, DARKNESS, l.address, l.port, null)),
    ]);
  }

  close(): void {
    this.#socket.close();
  }
}

const DARKNESS = new Uint8Array(512);
