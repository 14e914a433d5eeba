import type { Socket } from 'node:dgram';
import type { AddressInfo } from 'node:net';
import { bindUdp } from '../bindUdp';

/** Addresses that are remembered. */
const HEARD_MOST = 64;

/** A stand-in for another program that listens for OSC; it decodes with code of its own. */
export class OscReceiver {
  /** The last number of each address, and how many came. */
  readonly heard = new Map<string, { value: number; count: number }>();
  packets = 0;
  bad = 0;
  /** When the last bundle wanted to be followed, in ms since 1970; null: at once. */
  due: number | null = null;
  readonly #socket: Socket;

  private constructor(socket: Socket) {
    this.#socket = socket;
    socket.on('message', (m) => this.#take(m));
    socket.on('error', () => {
      this.bad++;
    });
  }
  static async open(): Promise<OscReceiver> {
    return new OscReceiver(await bindUdp(0, '127.0.0.1'));
  }
  get host(): string {
    return (this.#socket.address() as AddressInfo).address;
  }
  get port(): number {
    return (this.#socket.address() as AddressInfo).port;
  }
  close(): Promise<void> {
    return new Promise((done) => this.#socket.close(() => done()));
  }

  #take(packet: Buffer): void {
    let m = packet;
    // “#bundle” and its zero, eight bytes of time, then each element after its length; of ours, one.
    if (packet.toString('latin1', 0, 8) === '#bundle\0') {
      if (packet.length < 20 || packet.readInt32BE(16) !== packet.length - 20) {
        this.bad++;
        return;
      }
      const seconds = packet.readUInt32BE(8),
        fraction = packet.readUInt32BE(12);
      // In ms since 1970: 70 years with 17 leap days lie between the two counts.
      this.due =
        seconds === 0 && fraction === 1
          ? null
          : (seconds - (70 * 365 + 17) * 86400) * 1000 + (fraction / 2 ** 32) * 1000;
      m = packet.subarray(20);
    }
    // An address up to its zero, padded to four; “,” and one letter, padded; four bytes of a number.
    const end = m.indexOf(0),
      tags = Math.floor(end / 4) * 4 + 4;
    if (end < 2 || m[0] !== 0x2f || m.length % 4 !== 0 || m[tags] !== 0x2c || m.length < tags + 8) {
      this.bad++;
      return;
    }
    const letter = String.fromCharCode(m[tags + 1]!),
      value = letter === 'f' ? m.readFloatBE(tags + 4) : letter === 'i' ? m.readInt32BE(tags + 4) : NaN;
    if (Number.isNaN(value)) {
      this.bad++;
      return;
    }
    this.packets++;
    const address = m.toString('latin1', 0, end),
      known = this.heard.get(address);
    if (known) {
      known.value = value;
      known.count++;
    } else {
      // The one that was heard of first makes room.
      if (this.heard.size >= HEARD_MOST) this.heard.delete(this.heard.keys().next().value!);
      this.heard.set(address, { value, count: 1 });
    }
  }
}
