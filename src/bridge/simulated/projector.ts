import type { Socket } from 'node:dgram';
import type { AddressInfo } from 'node:net';
import { Scanner, USUAL_SCANNER, type ScannerSetting } from '../../core/laser';
import { bindUdp } from '../bindUdp';

/** What a projector was told, and what its mirrors made of it. */
export interface Seen {
  /** When the point was drawn here, in ms. */
  readonly at: number;
  readonly x: number;
  readonly y: number;
  readonly r: number;
  readonly g: number;
  readonly b: number;
}
/** Points that are remembered: a fifth of a second, about as long as an eye keeps them. */
const KEPT = 6000;
/** When, x, y, red, green, blue. */
const NUMBERS = 6;
/** Points of one frame at most. */
const FRAME_MOST = 8192;

/**
 * A stand-in for a laser projector on the ILDA Digital Network: it answers whoever asks who is there, decodes the stream by the
 * standard's tables with code of its own, and moves mirrors by it. What it shows is where these are, and not what was meant.
 */
export class Projector {
  packets = 0;
  bad = 0;
  /** When a lit point was last seen, and by how much points came later than their time, in ms. */
  litAt = -Infinity;
  /** The channel was closed by its sender. */
  closed = 0;
  readonly #socket: Socket;
  readonly #scanner: Scanner;
  readonly #kept = new Float64Array(KEPT * NUMBERS);
  #total = 0;
  /** A frame whose sequels are awaited: the samples that came of it, how many, and how long all of it takes, in s. */
  #frame: { parts: { m: Buffer; at: number; count: number }[]; points: number; seconds: number } | null =
    null;
  /** Bytes of the colours, and whether anybody said how a sample is built. */
  #colourBytes = 0;
  #sequence = -1;
  #sender = '';

  private constructor(socket: Socket, scanner: ScannerSetting) {
    this.#socket = socket;
    this.#scanner = new Scanner(scanner);
    socket.on('message', (m, from) => this.#take(m, from.address, from.port));
    socket.on('error', () => {
      this.bad++;
    });
  }
  /** Listens on loopback at `port`, or at a free one when that is taken or 0. */
  static async open(port: number, host = '127.0.0.1', scanner = USUAL_SCANNER): Promise<Projector> {
    return new Projector(await bindUdp(port, host), scanner);
  }
  get host(): string {
    return (this.#socket.address() as AddressInfo).address;
  }
  get port(): number {
    return (this.#socket.address() as AddressInfo).port;
  }
  /** What was seen of late, the oldest first. */
  get seen(): readonly Seen[] {
    const list: Seen[] = [];
    this.each(this.#total - KEPT, (at, x, y, r, g, b) => list.push({ at, x, y, r, g, b }));
    return list;
  }
  /** Points so far. */
  get points(): number {
    return this.#total;
  }
  /** What was seen from a count of points on, as far as it is remembered. @returns the count from which on it is news next time */
  each(
    from: number,
    take: (at: number, x: number, y: number, r: number, g: number, b: number) => void,
  ): number {
    const k = this.#kept;
    for (let i = Math.max(0, from, this.#total - KEPT); i < this.#total; i++) {
      const p = (i % KEPT) * NUMBERS;
      take(k[p]!, k[p + 1]!, k[p + 2]!, k[p + 3]!, k[p + 4]!, k[p + 5]!);
    }
    return this.#total;
  }
  close(): Promise<void> {
    return new Promise((done) => this.#socket.close(() => done()));
  }

  #take(m: Buffer, address: string, port: number): void {
    // Hello: 0 command · 1 flags · 2 sequence
    if (m.length < 4) {
      this.bad++;
      return;
    }
    switch (m[0]) {
      case 0x10:
        this.#socket.send(this.#scanned(m), port, address);
        return;
      case 0x12:
        this.#socket.send(this.#services(m), port, address);
        return;
      case 0x40:
        this.#meet(`${address}:${port}`);
        this.#message(m);
        return;
      case 0x44:
        this.closed++;
        this.#meet('');
        return;
      default:
        this.bad++;
    }
  }

  /** Another sender counts from its own beginning, and says how its samples are built. */
  #meet(sender: string): void {
    if (sender === this.#sender) return;
    this.#sender = sender;
    this.#sequence = -1;
    this.#colourBytes = 0;
    this.#frame = null;
  }
  #message(m: Buffer): void {
    // Channel message: 4 total size · 6 content id · 8 timestamp
    if (m.length < 12 || m.readUInt16BE(4) !== m.length - 4) {
      this.bad++;
      return;
    }
    const content = m.readUInt16BE(6),
      chunk = content & 0xff;
    let at = 12;
    if (!(content & 0x8000)) {
      this.bad++;
      return;
    }
    if (content & 0x4000 && chunk !== 0xc0) {
      // Configuration: word count · flags (1 routing, 2 close) · service · mode, and then the tags of a sample.
      if (m.length < at + 4) {
        this.bad++;
        return;
      }
      const words = m[at]!,
        flags = m[at + 1]!;
      at += 4;
      if (m.length < at + 4 * words) {
        this.bad++;
        return;
      }
      if (flags & 2) {
        this.closed++;
        this.#colourBytes = 0;
        return;
      }
      const tags = Array.from({ length: 2 * words }, (_, i) => m.readUInt16BE(at + 2 * i)).filter(
        (t) => t !== 0,
      );
      at += 4 * words;
      const eight = [0x4200, 0x4010, 0x4210, 0x4010, 0x527e, 0x5214, 0x51cc],
        sixteen = [0x4200, 0x4010, 0x4210, 0x4010, 0x527e, 0x4010, 0x5214, 0x4010, 0x51cc, 0x4010];
      const same = (list: number[]): boolean =>
        list.length === tags.length && list.every((t, i) => t === tags[i]);
      this.#colourBytes = same(eight) ? 1 : same(sixteen) ? 2 : 0;
    }
    if (chunk === 0) return;
    // Until it was told what a sample is it draws nothing.
    if (this.#colourBytes === 0) {
      this.bad++;
      return;
    }
    const sequence = m.readUInt16BE(2);
    if (this.#sequence >= 0 && ((sequence - this.#sequence) & 0xffff) > 0x8000) {
      this.bad++;
      return;
    }
    this.#sequence = sequence;
    const size = 4 + 3 * this.#colourBytes;
    if (chunk === 0xc0) this.#sequel(m, at, size, (content & 0x4000) !== 0);
    else this.#chunk(m, at, size, chunk);
  }
  /** Samples with a head of their own: a stretch of a wave, a frame, or the first part of one. */
  #chunk(m: Buffer, at: number, size: number, chunk: number): void {
    const count = (m.length - at - 4) / size;
    if (![1, 2, 3].includes(chunk) || m.length < at + 4 || !Number.isInteger(count) || count < 1) {
      this.bad++;
      return;
    }
    const duration = m.readUInt32BE(at) & 0xffffff;
    if (duration === 0) {
      this.bad++;
      return;
    }
    this.packets++;
    // How many points a whole frame has is known with its last part: it is drawn then.
    if (chunk === 3) {
      this.#frame = { parts: [{ m, at: at + 4, count }], points: count, seconds: duration / 1e6 };
      return;
    }
    this.#frame = null;
    this.#draw(m, at + 4, count, size, duration / 1e6 / count);
  }
  #sequel(m: Buffer, at: number, size: number, last: boolean): void {
    const count = (m.length - at) / size,
      frame = this.#frame;
    if (!frame || !Number.isInteger(count) || count < 1 || frame.points > FRAME_MOST) {
      this.bad++;
      return;
    }
    this.packets++;
    frame.parts.push({ m, at, count });
    frame.points += count;
    if (!last) return;
    this.#frame = null;
    for (const part of frame.parts)
      this.#draw(part.m, part.at, part.count, size, frame.seconds / frame.points);
  }

  #draw(m: Buffer, from: number, count: number, size: number, dt: number): void {
    const now = performance.now();
    for (let i = 0; i < count; i++) {
      const p = from + i * size,
        colour = (k: number): number =>
          this.#colourBytes === 2 ? m.readUInt16BE(p + 4 + 2 * k) / 65535 : m[p + 4 + k]! / 255;
      this.#scanner.step(m.readInt16BE(p) / 32767, m.readInt16BE(p + 2) / 32767, dt);
      const r = colour(0),
        g = colour(1),
        b = colour(2);
      if (r > 0 || g > 0 || b > 0) this.litAt = Math.max(this.litAt, now + i * dt * 1000);
      const k = (this.#total++ % KEPT) * NUMBERS,
        kept = this.#kept;
      kept[k] = now + i * dt * 1000;
      kept[k + 1] = this.#scanner.x;
      kept[k + 2] = this.#scanner.y;
      kept[k + 3] = r;
      kept[k + 4] = g;
      kept[k + 5] = b;
    }
  }

  /** Scan response: struct size, protocol version, status, reserved, unit id (16), name (20). */
  #scanned(ask: Buffer): Buffer {
    const b = Buffer.alloc(44);
    b[0] = 0x11;
    ask.copy(b, 2, 2, 4);
    b[4] = 40;
    b[5] = 0x10;
    b[6] = 0x01; // it takes real-time data
    b[8] = 7; // how many bytes of the id count, and of what sort they are
    b[9] = 1;
    b.write('awning', 10, 'latin1');
    b.write('Awning laser', 24, 'latin1');
    return b;
  }
  /** Service map: one service, a laser projector. */
  #services(ask: Buffer): Buffer {
    const b = Buffer.alloc(32);
    b[0] = 0x13;
    ask.copy(b, 2, 2, 4);
    b[4] = 4;
    b[5] = 24;
    b[7] = 1;
    b[8] = 1;
    b[9] = 0x80;
    b.write('Awning laser', 12, 'latin1');
    return b;
  }
}
