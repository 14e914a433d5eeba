import { createSocket, type Socket } from 'node:dgram';
import type { AddressInfo } from 'node:net';
import { decodeOsc } from '../core/protocols/osc';

export const OSC_PORT = 9000;
/** Addresses that are gathered before they are told; more of them in one go are lost, and counted. */
const MOST_WAITING = 200;
const TELL_EVERY_MS = 5;

/** Hears OSC over UDP. The latest number of each address is told every five milliseconds, however fast they come. */
export class OscListener {
  bad = 0;
  lost = 0;
  readonly #socket: Socket;
  readonly #waiting = new Map<string, number>();
  readonly #timer: NodeJS.Timeout;

  private constructor(socket: Socket, tell: (address: string, value: number) => void) {
    this.#socket = socket;
    socket.on('message', (m) => this.#take(m));
    socket.on('error', () => {
      this.bad++;
    });
    this.#timer = setInterval(() => {
      for (const [address, value] of this.#waiting) tell(address, value);
      this.#waiting.clear();
    }, TELL_EVERY_MS);
  }

  /** @param host - loopback unless the whole server listens further @param port - a free one is taken when this is in use, or 0 */
  static async open(
    host: string,
    port: number,
    tell: (address: string, value: number) => void,
  ): Promise<OscListener> {
    const bind = (at: number): Promise<Socket> =>
      new Promise((resolve, reject) => {
        const socket = createSocket('udp4');
        socket.once('error', reject);
        socket.bind({ port: at, address: host, exclusive: true }, () => {
          socket.removeAllListeners('error');
          resolve(socket);
        });
      });
    return new OscListener(await bind(port).catch(() => bind(0)), tell);
  }

  get port(): number {
    return (this.#socket.address() as AddressInfo).port;
  }
  get host(): string {
    return (this.#socket.address() as AddressInfo).address;
  }

  #take(packet: Buffer): void {
    const messages = decodeOsc(packet);
    if (!messages) {
      this.bad++;
      return;
    }
    for (const { address, numbers } of messages) {
      if (!this.#waiting.has(address) && this.#waiting.size >= MOST_WAITING) {
        this.lost++;
        continue;
      }
      // A message without a number is a press.
      const value = numbers[0] ?? 1;
      if (Number.isFinite(value)) this.#waiting.set(address, value);
    }
  }

  close(): Promise<void> {
    clearInterval(this.#timer);
    return new Promise((done) => this.#socket.close(() => done()));
  }
}
