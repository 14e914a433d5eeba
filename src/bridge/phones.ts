import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocket, WebSocketServer } from 'ws';
import {
  parseFromPhone,
  PHONE_MOST_BYTES,
  type PhoneAct,
  type PhoneNight,
  type SoughtLamp,
  type ToPhone,
} from '../core/protocols';

/** Phones that may act at once, and how often each may in a second. */
const PHONES_MOST = 32,
  PHONE_RATE = 40;

/** The phones that are connected: each has a number, is told how things stand, and acts at a rate that it may. */
export class PhoneDesk {
  #sought: SoughtLamp | null = null;
  #night: PhoneNight | null = null;
  readonly #numbers = new Set<number>();
  readonly #server = new WebSocketServer({
    noServer: true,
    maxPayload: PHONE_MOST_BYTES,
    perMessageDeflate: false,
  });

  /** @param live - whether somebody drives @param act - takes what a phone does, with its number, from 1 */
  constructor(
    readonly live: () => boolean,
    readonly act: (act: PhoneAct, phone: number) => void,
  ) {}

  get full(): boolean {
    return this.#server.clients.size >= PHONES_MOST;
  }
  meet(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    this.#server.handleUpgrade(request, socket, head, (ws) => this.#greet(ws));
  }
  /** The lamp that is looked for. */
  seek(lamp: SoughtLamp | null): void {
    this.#sought = lamp;
    this.#tell(this.#lampText());
  }
  /** The night as phones show it. */
  show(night: PhoneNight | null): void {
    this.#night = night;
    this.#tell(this.#nightText());
  }
  /** Somebody drives, or nobody does any more. */
  tellLive(): void {
    this.#tell(this.#lampText(), this.#nightText());
  }
  close(): void {
    for (const ws of this.#server.clients) ws.terminate();
    this.#server.close();
  }

  #greet(ws: WebSocket): void {
    let budget = PHONE_RATE,
      refilled = performance.now();
    const phone = this.#freeNumber();
    this.#numbers.add(phone);
    ws.on('error', () => ws.terminate());
    ws.on('message', (data: Buffer) => {
      const now = performance.now();
      budget = Math.min(PHONE_RATE, budget + ((now - refilled) / 1000) * PHONE_RATE);
      refilled = now;
      const act = --budget < 0 ? null : parseFromPhone(data.toString('utf8'));
      if (act) this.act(act, phone);
    });
    ws.on('close', () => {
      this.#numbers.delete(phone);
      // Nobody looks any more: nothing stays lit for it.
      if (this.#server.clients.size === 0) this.act({ type: 'gone' }, phone);
    });
    ws.send(this.#lampText());
    ws.send(this.#nightText());
  }
  /** The least number that no phone has. */
  #freeNumber(): number {
    let n = 1;
    while (this.#numbers.has(n)) n++;
    return n;
  }
  #lampText(): string {
    const live = this.live();
    return JSON.stringify({ type: 'lamp', live, lamp: live ? this.#sought : null } satisfies ToPhone);
  }
  #nightText(): string {
    return JSON.stringify({ type: 'night', night: this.live() ? this.#night : null } satisfies ToPhone);
  }
  #tell(...texts: readonly string[]): void {
    for (const ws of this.#server.clients)
      if (ws.readyState === WebSocket.OPEN) for (const text of texts) ws.send(text);
  }
}
