import type { Socket } from 'node:dgram';
import { isIPv6, type AddressInfo } from 'node:net';
import { decodeOsc } from '../core/protocols';
import { bindUdp } from './bindUdp';

export const OSC_PORT = 9000;
/** Messages that are gathered before they are told. Beyond that only the newest of each address is kept, and the others are counted. */
const MOST_WAITING = 400;
const TELL_EVERY_MS = 5;

/** An address, and its first number. */
export type OscMessage = readonly [address: string, value: number];

/**
 * Hears OSC over UDP, and tells what came every five milliseconds: each message by itself and in its order, so that a press and its
 * release within one of these stay two.
 */
export class OscListener {
  bad = 0;
  lost = 0;
  readonly #socket: Socket;
  #waiting: [address: string, value: number][] = [];
  readonly #timer: NodeJS.Timeout;

  private constructor(socket: Socket, tell: (messages: readonly OscMessage[]) => void) {
    this.#socket = socket;
    socket.on('message', (m) => this.#take(m));
    socket.on('error', () => {
      this.bad++;
    });
    this.#timer = setInterval(() => {
      if (this.#waiting.length === 0) return;
      const messages = this.#waiting;
      this.#waiting = [];
      tell(messages);
    }, TELL_EVERY_MS);
  }

  /** @param host - loopback unless the whole server listens further @param port - a free one is taken when this is in use, or 0 */
  static async open(
    host: string,
    port: number,
    tell: (messages: readonly OscMessage[]) => void,
  ): Promise<OscListener> {
    return new OscListener(await bindUdp(port, host), tell);
  }

  get port(): number {
    return (this.#socket.address() as AddressInfo).port;
  }
  get host(): string {
    const { address } = this.#socket.address() as AddressInfo;
    return isIPv6(address) ? `[${address}]` : address;
  }

  #take(packet: Buffer): void {
    const messages = decodeOsc(packet);
    if (!messages) {
      this.bad++;
      return;
    }
    for (const { address, numbers } of messages) {
      // A message without a number is a press.
      const value = numbers[0] ?? 1;
      if (Number.isFinite(value)) this.put(address, value);
    }
  }
  /** A number that came another way, told among the others. */
  put(address: string, value: number): void {
    if (this.#waiting.length < MOST_WAITING) {
      this.#waiting.push([address, value]);
      return;
    }
    this.lost++;
    const last = this.#waiting.findLast(([a]) => a === address);
    if (last) last[1] = value;
  }

  close(): Promise<void> {
    clearInterval(this.#timer);
    return new Promise((done) => this.#socket.close(() => done()));
  }
}
