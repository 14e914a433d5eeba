import type { Socket } from 'node:dgram';
import type { AddressInfo } from 'node:net';
import { performance } from 'node:perf_hooks';
import { bindUdp } from '../bindUdp';

/**
 * A stand-in for lamps on sACN: it reads packets by the standard's tables with code of its own, so that a mistake of the sender's
 * cannot hide in a shared decoder. Universes are counted from 0, as in a show; of several sources the one with the highest priority
 * is heard. Data that waits for a sync is shown when that comes.
 */
export class SacnReceiver {
  readonly universes = new Map<number, { channels: Uint8Array; packets: number; at: number }>();
  packets = 0;
  bad = 0;
  syncs = 0;
  /** Universes that sources said they send, by the pages of their discoveries. */
  readonly discovered = new Set<number>();
  /** Streams that said they have ended. */
  ended = 0;
  /** Who asks answers polls; sACN has none. */
  readonly polls = 0;
  largestGapMs = 0;
  /** While pulled, packets arrive as little as at a lamp whose cable is out. */
  pulled = false;
  onPacket: ((universe: number, channels: Uint8Array, packets: number) => void) | null = null;
  readonly #socket: Socket;
  readonly #sources = new Map<string, { sequence: number; priority: number; at: number }>();
  readonly #waiting = new Map<number, Map<number, Uint8Array>>();
  #last = 0;

  private constructor(socket: Socket) {
    this.#socket = socket;
    socket.on('message', (m) => this.#take(m));
    socket.on('error', () => {
      this.bad++;
    });
  }

  /** Listens on loopback at `port`, or at a free one when that is taken or 0. */
  static async open(port: number, host = '127.0.0.1'): Promise<SacnReceiver> {
    return new SacnReceiver(await bindUdp(port, host));
  }

  get port(): number {
    return (this.#socket.address() as AddressInfo).port;
  }
  get host(): string {
    return (this.#socket.address() as AddressInfo).address;
  }
  /** Hears a universe's group as well, from the interface with this address. */
  join(universe: number, from: string): void {
    this.#socket.addMembership(`239.255.${(universe + 1) >> 8}.${(universe + 1) & 255}`, from);
  }
  resetGap(): void {
    this.largestGapMs = 0;
    this.#last = 0;
  }
  close(): Promise<void> {
    return new Promise((done) => this.#socket.close(() => done()));
  }

  #take(m: Buffer): void {
    if (this.pulled) return;
    // Root layer: 0 preamble size · 2 postamble size · 4 packet identifier · 16 flags and length · 18 vector · 22 CID
    if (
      m.length < 49 ||
      m.readUInt16BE(0) !== 0x10 ||
      m.readUInt16BE(2) !== 0 ||
      m.toString('latin1', 4, 16) !== 'ASC-E1.17\0\0\0' ||
      !lengthAt(m, 16) ||
      !lengthAt(m, 38)
    ) {
      this.bad++;
      return;
    }
    const vector = m.readUInt32BE(18),
      framing = m.readUInt32BE(40);
    if (vector === 4 && framing === 2) this.#data(m);
    else if (vector === 8 && framing === 1 && m.length === 49) this.#sync(m.readUInt16BE(45));
    else if (
      vector === 8 &&
      framing === 2 &&
      m.length >= 120 &&
      lengthAt(m, 112) &&
      m.readUInt32BE(114) === 1
    )
      for (let at = 120; at + 1 < m.length; at += 2) this.discovered.add(m.readUInt16BE(at));
    else this.bad++;
  }

  #data(m: Buffer): void {
    // Framing: 44 source name · 108 priority · 109 sync address · 111 sequence · 112 options · 113 universe
    // DMP: 115 flags and length · 117 vector · 118 type · 119 first address · 121 increment · 123 count · 125 values
    if (
      m.length < 126 ||
      !lengthAt(m, 115) ||
      m[117] !== 2 ||
      m[118] !== 0xa1 ||
      m.readUInt16BE(119) !== 0 ||
      m.readUInt16BE(121) !== 1
    ) {
      this.bad++;
      return;
    }
    const count = m.readUInt16BE(123),
      number = m.readUInt16BE(113),
      priority = m[108]!,
      options = m[112]!;
    if (
      count < 1 ||
      count > 513 ||
      m.length !== 125 + count ||
      number < 1 ||
      number > 63999 ||
      priority > 200
    ) {
      this.bad++;
      return;
    }
    if (m[125] !== 0 || options & 0x80) return; // not dimmer data, or only a preview
    const universe = number - 1,
      source = `${m.toString('hex', 22, 38)}/${universe}`,
      now = performance.now();
    if (options & 0x40) {
      if (this.#sources.delete(source)) this.ended++;
      return;
    }
    const before = this.#sources.get(source);
    // 6.7.2: behind by fewer than 20 is an old packet.
    const step = before ? ((m[111]! - before.sequence + 384) & 255) - 128 : 1;
    if (step <= 0 && step > -20) {
      this.bad++;
      return;
    }
    this.#sources.set(source, { sequence: m[111]!, priority, at: now });
    for (const [id, other] of this.#sources)
      if (id.endsWith(`/${universe}`) && other.priority > priority && now - other.at < 2500) return;
    const channels = new Uint8Array(512);
    channels.set(m.subarray(126, 125 + count));
    const sync = m.readUInt16BE(109);
    if (sync !== 0) {
      let waiting = this.#waiting.get(sync);
      if (!waiting) this.#waiting.set(sync, (waiting = new Map()));
      waiting.set(universe, channels);
    } else this.#show(universe, channels);
  }

  #sync(on: number): void {
    this.syncs++;
    for (const [universe, channels] of this.#waiting.get(on) ?? []) this.#show(universe, channels);
    this.#waiting.delete(on);
  }

  #show(universe: number, channels: Uint8Array): void {
    const now = performance.now();
    if (this.#last > 0) this.largestGapMs = Math.max(this.largestGapMs, now - this.#last);
    this.#last = now;
    let state = this.universes.get(universe);
    if (!state) this.universes.set(universe, (state = { channels: new Uint8Array(512), packets: 0, at: 0 }));
    state.channels.set(channels);
    state.packets++;
    state.at = now;
    this.packets++;
    this.onPacket?.(universe, state.channels, state.packets);
  }
}

/** Whether the flags and length here say what the packet is. */
function lengthAt(m: Buffer, at: number): boolean {
  const field = m.readUInt16BE(at);
  return field >> 12 === 7 && (field & 0xfff) === m.length - at;
}
