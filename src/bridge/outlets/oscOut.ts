import { createSocket, type Socket } from 'node:dgram';
import type { MessageTarget } from '../../core/messages';
import type { StreamDeclaration } from '../../core/outlets';
import { decodeOsc, type MessageState } from '../../core/protocols';
import { HostNames, isLoopback } from './hostNames';

interface Line {
  readonly id: string;
  readonly target: MessageTarget;
  sent: number;
  errors: number;
}

/** Sends what is said to other programs over OSC: whole packets, as they come, to where each stream says. */
export class OscOut {
  readonly #socket: Socket;
  readonly #names = new HostNames(() => undefined);
  readonly #simulated: { readonly host: string; readonly port: number };
  #lines: (Line | null)[] = [];
  #armed = false;

  constructor(simulated: { readonly host: string; readonly port: number }) {
    this.#simulated = simulated;
    this.#socket = createSocket('udp4');
    this.#socket.on('error', () => undefined); // counted where it is sent
    this.#socket.bind(0, () => this.#socket.setBroadcast(true));
  }

  /** @param streams - all that are declared; a packet names its own by its place among them */
  declare(streams: readonly StreamDeclaration[], armed: boolean): void {
    this.#armed = armed;
    const before = new Map(this.#lines.flatMap((l) => (l ? [[l.id, l] as const] : [])));
    this.#lines = streams.map(({ id, to }) => {
      if (to.kind !== 'osc') return null;
      const old = before.get(id);
      return { id, target: to.target, sent: old?.sent ?? 0, errors: old?.errors ?? 0 };
    });
  }

  /** One packet. What is no OSC is not sent. */
  send(place: number, packet: Uint8Array): void {
    const line = this.#lines[place];
    if (!line) return;
    const { trouble, address, port } = this.#end(line.target);
    if (trouble !== null || address === null) return;
    if (decodeOsc(packet) === null) {
      line.errors++;
      return;
    }
    this.#socket.send(Buffer.from(packet), port, address, (e) => {
      if (e) line.errors++;
      else line.sent++;
    });
  }

  #end(target: MessageTarget): {
    readonly trouble: string | null;
    readonly address: string | null;
    readonly port: number;
  } {
    const { host, port } = target.kind === 'simulated' ? this.#simulated : target;
    const { address, trouble } = this.#names.find(host, performance.now());
    if (trouble !== null || address === null) return { trouble, address, port };
    const allowed = isLoopback(address) || this.#armed;
    return {
      trouble: allowed ? null : 'This target is beyond this computer. Arm the outputs to send to it.',
      address,
      port,
    };
  }

  get state(): MessageState[] {
    return this.#lines.flatMap((l) =>
      l ? [{ id: l.id, sent: l.sent, errors: l.errors, trouble: this.#end(l.target).trouble }] : [],
    );
  }
  close(): void {
    this.#socket.close();
  }
}
