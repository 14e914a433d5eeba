import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import { WebSocket, WebSocketServer } from 'ws';
import type { Standing, ToSecond } from '../core/protocols';

const SECONDS_MOST = 4;
/** So often each is told that this one is there. */
const SPEAK_EVERY_MS = 250;
/** Whoever reads slower is told the next time. */
const BEHIND_BYTES = 1 << 20;

/** The computers that stand by for this one: each is told how things stand, and that it is there. What they say is not listened to. */
export class SecondDesk {
  #standing: Standing | null = null;
  readonly #server = new WebSocketServer({ noServer: true, maxPayload: 64, perMessageDeflate: false });
  readonly #ticker: NodeJS.Timeout;

  /** @param how - whether somebody drives, and whether packets may leave */
  constructor(readonly how: () => { readonly drives: boolean; readonly armed: boolean }) {
    this.#ticker = setInterval(() => this.#tell({ type: 'first', ...this.how() }), SPEAK_EVERY_MS);
  }

  get count(): number {
    return this.#server.clients.size;
  }
  get full(): boolean {
    return this.count >= SECONDS_MOST;
  }
  meet(request: IncomingMessage, socket: Duplex, head: Buffer): void {
    this.#server.handleUpgrade(request, socket, head, (ws) => {
      ws.on('error', () => ws.terminate());
      if (this.#standing) ws.send(JSON.stringify(this.#standing));
    });
  }
  /** How the show stands, as its window says. */
  stand(standing: Standing): void {
    this.#standing = standing;
    this.#tell(standing);
  }
  close(): void {
    clearInterval(this.#ticker);
    for (const ws of this.#server.clients) ws.terminate();
    this.#server.close();
  }

  #tell(message: ToSecond): void {
    if (this.#server.clients.size === 0) return;
    const text = JSON.stringify(message);
    for (const ws of this.#server.clients)
      if (ws.readyState === WebSocket.OPEN && ws.bufferedAmount < BEHIND_BYTES) ws.send(text);
  }
}
