import type { Socket } from 'node:dgram';
import type { AddressInfo } from 'node:net';
import os from 'node:os';
import { Desks } from '../core/desk';
import { LAMP_PROTOCOLS, type LampProtocol } from '../core/outlets';
import {
  artnetOpCode,
  decodeArtDmx,
  decodeSacnData,
  decodeSacnDiscovery,
  encodeArtPollReply,
  OP_POLL,
  PORTS_OF_REPLY,
  SACN_DISCOVERY_UNIVERSE,
  SACN_PORT,
  sacnGroup,
} from '../core/protocols';
import { bindUdp } from './bindUdp';
import { isLoopback } from './outlets/hostNames';

const TURN_MS = 10;
/** Groups that are joined at most: a kernel allows a machine only so many. */
const GROUPS_MOST = 60;

/** What is ours of what comes in. */
export interface OwnSender {
  /** Who sends by sACN, in hexadecimal. */
  readonly cid: () => string;
  /** The port that our Art-Net comes from; 0 while that is not known. */
  readonly port: () => number;
}

/** Hears desks over Art-Net and sACN, answers their polls, and joins the groups of the universes that matter. Our own packets are passed over. */
export class DeskListener {
  readonly desks = new Desks();
  bad = 0;
  /** @see Desks.turn */
  onUniverse: ((universe: number, channels: Uint8Array, before: Uint8Array, heard: boolean) => void) | null =
    null;
  readonly #own: OwnSender;
  readonly #sockets: Readonly<Record<LampProtocol, Socket>>;
  readonly #groups = new Set<number>();
  readonly #timer: NodeJS.Timeout;
  #wanted: readonly number[] = [];

  private constructor(own: OwnSender, sockets: Readonly<Record<LampProtocol, Socket>>) {
    this.#own = own;
    this.#sockets = sockets;
    sockets.artnet.on('message', (m, from) => this.#artnet(m, from.address, from.port));
    sockets.sacn.on('message', (m, from) => this.#sacn(m, from.address));
    for (const protocol of LAMP_PROTOCOLS)
      sockets[protocol].on('error', () => {
        this.bad++;
      });
    this.#timer = setInterval(() => {
      this.desks.turn(performance.now(), (universe, channels, before, heard) =>
        this.onUniverse?.(universe, channels, before, heard),
      );
    }, TURN_MS);
    this.#join(SACN_DISCOVERY_UNIVERSE);
  }

  /**
   * @param host - loopback unless the whole server listens further @param ports - of each protocol; a free one is taken where it is in
   * use, or 0: desks of this computer are told which
   */
  static async open(
    host: string,
    ports: Readonly<Record<LampProtocol, number>>,
    own: OwnSender,
  ): Promise<DeskListener> {
    return new DeskListener(own, {
      artnet: await bindUdp(ports.artnet, host),
      sacn: await bindUdp(ports.sacn, host),
    });
  }

  place(protocol: LampProtocol): { readonly host: string; readonly port: number } {
    const { address, port } = this.#sockets[protocol].address() as AddressInfo;
    return { host: address, port };
  }
  /** Universes that the show sends: desks are asked for these. */
  want(universes: readonly number[]): void {
    this.#wanted = [...new Set(universes)].sort((a, b) => a - b);
    for (const u of this.#wanted) this.#join(u + 1);
  }

  /** On loopback there are no groups. */
  #join(universe: number): void {
    const { host, port } = this.place('sacn');
    if (isLoopback(host) || port !== SACN_PORT || this.#groups.has(universe)) return;
    if (this.#groups.size >= GROUPS_MOST) return;
    this.#groups.add(universe);
    const ends = Object.values(os.networkInterfaces()).flatMap((all) =>
      (all ?? []).filter((a) => a.family === 'IPv4' && !a.internal).map((a) => a.address),
    );
    for (const from of ends)
      try {
        this.#sockets.sacn.addMembership(sacnGroup(universe), from);
      } catch {
        // An interface that takes no groups: what is sent to this computer alone is heard there.
      }
  }

  #artnet(m: Buffer, address: string, port: number): void {
    if (artnetOpCode(m) === OP_POLL) {
      this.#answer(address, port);
      return;
    }
    const packet = decodeArtDmx(m);
    if (!packet) {
      // Other packets of the protocol are in order, and mean nothing here.
      if (artnetOpCode(m) === null) this.bad++;
      return;
    }
    if (port === this.#own.port() && isOurs(address)) return;
    this.desks.take(
      {
        protocol: 'artnet',
        desk: `artnet ${address}:${port}`,
        name: 'Art-Net desk',
        address,
        universe: packet.universe,
        priority: 100,
        sequence: packet.sequence === 0 ? null : packet.sequence,
        ended: false,
        channels: packet.channels,
      },
      performance.now(),
    );
  }
  #answer(address: string, port: number): void {
    const own = this.place('artnet'),
      host = own.host === '0.0.0.0' ? ownAddressFor(address) : own.host;
    // All ports of a reply are of one net and sub-net.
    const pages = new Map<number, number[][]>();
    for (const u of this.#wanted) {
      const known = pages.get(u >> 4) ?? [[]];
      if (known.at(-1)!.length >= PORTS_OF_REPLY) known.push([]);
      known.at(-1)!.push(u);
      pages.set(u >> 4, known);
    }
    [...pages.values()]
      .flat()
      .forEach((page, i) =>
        this.#sockets.artnet.send(
          encodeArtPollReply(host, own.port, 'Batucada', page, i + 1),
          port,
          address,
          () => undefined,
        ),
      );
  }

  #sacn(m: Buffer, address: string): void {
    const named = decodeSacnDiscovery(m);
    if (named) {
      for (const u of named) this.#join(u);
      return;
    }
    const packet = decodeSacnData(m);
    if (!packet) {
      this.bad++;
      return;
    }
    if (packet.cid === this.#own.cid() || packet.preview || (packet.channels.length === 0 && !packet.ended))
      return;
    this.desks.take(
      {
        protocol: 'sacn',
        desk: `sacn ${packet.cid}`,
        name: packet.name || 'sACN desk',
        address,
        universe: packet.universe - 1,
        priority: packet.priority,
        sequence: packet.sequence,
        ended: packet.ended,
        channels: packet.channels,
      },
      performance.now(),
    );
  }

  async close(): Promise<void> {
    clearInterval(this.#timer);
    for (const protocol of LAMP_PROTOCOLS)
      await new Promise<void>((done) => this.#sockets[protocol].close(() => done()));
  }
}

const isOurs = (address: string): boolean =>
  isLoopback(address) ||
  Object.values(os.networkInterfaces()).some((all) => (all ?? []).some((a) => a.address === address));
/** The address of this machine that a peer of the same network sees. */
function ownAddressFor(peer: string): string {
  const all = Object.values(os.networkInterfaces()).flatMap((a) => a ?? []),
    ipv4 = all.filter((a) => a.family === 'IPv4');
  const bits = (x: string): number => x.split('.').reduce((n, part) => n * 256 + Number(part), 0);
  const near = ipv4.find((a) => {
    const mask = bits(a.netmask);
    return (bits(a.address) & mask) === (bits(peer) & mask);
  });
  return near?.address ?? ipv4[0]?.address ?? '127.0.0.1';
}
