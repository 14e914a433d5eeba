import { createSocket, type Socket } from 'node:dgram';

export type DeskProtocol = 'artnet' | 'sacn';
interface End {
  readonly host: string;
  readonly port: number;
}
const EVERY_MS = 40;

/**
 * A stand-in for a house desk: sends the levels that its faders were set to, twenty-five times a second, with code of its own, and
 * nothing while it is switched off.
 */
export class SimulatedDesk {
  readonly #socket: Socket = createSocket('udp4');
  readonly #ends: Readonly<Record<DeskProtocol, End>>;
  readonly #universes = new Map<
    string,
    { protocol: DeskProtocol; universe: number; levels: Buffer; n: number }
  >();
  readonly #timer: NodeJS.Timeout;

  /** @param ends - where desks are heard */
  constructor(ends: Readonly<Record<DeskProtocol, End>>) {
    this.#ends = ends;
    this.#socket.on('error', () => undefined);
    this.#timer = setInterval(() => this.#send(), EVERY_MS);
    this.#timer.unref();
  }

  /** One fader. @param universe - from 0 @param channel - 1 to 512 @param level - 0 to 255 */
  set(protocol: DeskProtocol, universe: number, channel: number, level: number): void {
    const key = `${protocol} ${universe}`;
    let known = this.#universes.get(key);
    if (!known) {
      // Many faders at once are no desk.
      if (this.#universes.size >= 64) return;
      this.#universes.set(key, (known = { protocol, universe, levels: Buffer.alloc(512), n: 0 }));
    }
    known.levels[channel - 1] = level;
  }
  /** All of it is switched off, as when a cable is pulled: nothing is said. */
  off(): void {
    this.#universes.clear();
  }

  #send(): void {
    for (const u of this.#universes.values()) {
      u.n++;
      const packet =
          u.protocol === 'artnet'
            ? dmx(u.universe, (u.n % 255) + 1, u.levels)
            : data(u.universe + 1, u.n & 255, u.levels),
        { host, port } = this.#ends[u.protocol];
      this.#socket.send(packet, port, host, () => undefined);
    }
  }
  close(): void {
    clearInterval(this.#timer);
    this.#socket.close();
  }
}

/** Art-Net 4, table ArtDmx. */
function dmx(universe: number, sequence: number, levels: Buffer): Buffer {
  const head = Buffer.alloc(18);
  head.write('Art-Net\0', 'latin1');
  head.writeUInt16LE(0x5000, 8);
  head.writeUInt16BE(14, 10);
  head[12] = sequence;
  head.writeUInt16LE(universe, 14);
  head.writeUInt16BE(512, 16);
  return Buffer.concat([head, levels]);
}
/** ANSI E1.31, table 4-1. */
function data(universe: number, sequence: number, levels: Buffer): Buffer {
  const b = Buffer.alloc(126);
  b.writeUInt16BE(0x10, 0);
  b.write('ASC-E1.17', 4, 'latin1');
  b.writeUInt16BE(0x7000 + 638 - 16, 16);
  b.writeUInt32BE(4, 18);
  b.write('a simulated desk', 22, 'latin1');
  b.writeUInt16BE(0x7000 + 638 - 38, 38);
  b.writeUInt32BE(2, 40);
  b.write('Simulated desk', 44, 'latin1');
  b[108] = 100;
  b[111] = sequence;
  b.writeUInt16BE(universe, 113);
  b.writeUInt16BE(0x7000 + 638 - 115, 115);
  b[117] = 2;
  b[118] = 0xa1;
  b.writeUInt16BE(1, 121);
  b.writeUInt16BE(513, 123);
  return Buffer.concat([b, levels]);
}
