import type { Socket } from 'node:dgram';
import type { AddressInfo } from 'node:net';
import { performance } from 'node:perf_hooks';
import { bindUdp } from '../bindUdp';

/**
 * A stand-in for the lamps on the wire: a small Art-Net node on its own UDP port. It reads packets by the standard's
 * tables with code of its own, so that a mistake of the sender's cannot hide in a shared decoder.
 */
export class SimulatedReceiver {
  readonly universes = new Map<number, { channels: Uint8Array; packets: number; at: number }>();
  packets = 0;
  bad = 0;
  polls = 0;
  syncs = 0;
  largestGapMs = 0;
  /** While pulled, packets arrive as little as at a lamp whose cable is out. */
  pulled = false;
  onPacket: ((universe: number, channels: Uint8Array, packets: number) => void) | null = null;
  readonly #socket: Socket;
  #last = 0;
  readonly #sequences = new Map<string, number>();

  private constructor(socket: Socket) {
    this.#socket = socket;
    socket.on('message', (m, from) => this.#take(m, from.address, from.port));
    socket.on('error', () => {
      this.bad++;
    });
  }

  /** Listens on loopback at `port`, or at a free one when that is taken or 0. */
  static async open(port: number, host = '127.0.0.1'): Promise<SimulatedReceiver> {
    return new SimulatedReceiver(await bindUdp(port, host));
  }

  get port(): number {
    return (this.#socket.address() as AddressInfo).port;
  }
  get host(): string {
    return (this.#socket.address() as AddressInfo).address;
  }

  resetGap(): void {
    this.largestGapMs = 0;
    this.#last = 0;
  }
  close(): Promise<void> {
    return new Promise((done) => this.#socket.close(() => done()));
  }

  #take(m: Buffer, address: string, port: number): void {
    if (this.pulled) return;
    if (m.length < 12 || m.toString('latin1', 0, 8) !== 'Art-Net\0') {
      this.bad++;
      return;
    }
    switch (m.readUInt16LE(8)) {
      case 0x2000:
        this.polls++;
        this.#socket.send(this.#reply(), port, address);
        return;
      case 0x5200:
        this.syncs++;
        return;
      case 0x5000:
        this.#dmx(m, `${address}:${port}`);
        return;
      default:
        this.bad++;
    }
  }

  #dmx(m: Buffer, sender: string): void {
    // Table ArtDmx: 10 ProtVer (hi lo) · 12 Sequence · 13 Physical · 14 SubUni · 15 Net · 16 Length (hi lo) · 18 Data
    const length = m.length >= 18 ? m.readUInt16BE(16) : 0;
    if (m.readUInt16BE(10) < 14 || length < 2 || length > 512 || m.length < 18 + length) {
      this.bad++;
      return;
    }
    const universe = ((m[15]! & 0x7f) << 8) | m[14]!;
    const sequence = m[12]!;
    const key = `${sender}/${universe}`;
    const before = this.#sequences.get(key);
    // Behind by up to half the circle: an old packet that was overtaken.
    if (
      sequence !== 0 &&
      before !== undefined &&
      before !== 0 &&
      ((before - sequence) & 0xff) < 128 &&
      before !== sequence
    ) {
      this.bad++;
      return;
    }
    this.#sequences.set(key, sequence);
    const now = performance.now();
    if (this.#last > 0) this.largestGapMs = Math.max(this.largestGapMs, now - this.#last);
    this.#last = now;
    let state = this.universes.get(universe);
    if (!state) this.universes.set(universe, (state = { channels: new Uint8Array(512), packets: 0, at: 0 }));
    state.channels.set(m.subarray(18, 18 + length));
    state.packets++;
    state.at = now;
    this.packets++;
    this.onPacket?.(universe, state.channels, state.packets);
  }

  /** ArtPollReply, 239 bytes. */
  #reply(): Buffer {
    const b = Buffer.alloc(239);
    b.write('Art-Net\0', 0, 'latin1');
    b.writeUInt16LE(0x2100, 8);
    this.host.split('.').forEach((part, i) => {
      b[10 + i] = Number(part);
    });
    b.writeUInt16LE(this.port, 14);
    b.writeUInt16BE(1, 16); // VersInfo
    b.writeUInt16BE(0x00ff, 20); // Oem: unknown
    b.write('Rail lamps', 26, 'latin1');
    b.write('Simulated rail lamps of the ferry', 44, 'latin1');
    b.write('#0001 listening', 108, 'latin1');
    b.writeUInt16BE(1, 172); // one port
    b[174] = 0x80; // it gives out DMX
    b[182] = 0x80; // GoodOutput: data is transmitted
    b[190] = 0; // SwOut: universe 0
    return b;
  }
}
