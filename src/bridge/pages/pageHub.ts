import { WebSocket, WebSocketServer } from 'ws';
import type { IncomingMessage } from 'node:http';
import type { Duplex } from 'node:stream';
import {
  FROM_PAGE_MOST_BYTES,
  type FromPage,
  LASER_PAGE,
  PAGE_PROTOCOL,
  type PageDocument,
  parseFromPage,
  type ToPage,
  type Watcher,
  WATCHERS_MOST,
} from '../../core/protocols';

/** A page that reads slower than this many bytes is behind: it gets only the latest frame once it has caught up. */
const BEHIND_BYTES = 64 * 1024;
/** More than this waiting for a page: it is as good as gone, and comes back by itself. Until then every event waits for it. */
const LOST_BYTES = 1024 * 1024;
/** Pages that may watch at once. */
const WATCHING_MOST = 500;
/** What a page says more often than this many times a second is passed over. */
const SAID_MOST = 4;

interface Page {
  readonly socket: WebSocket;
  /** Which page it shows. */
  readonly id: string;
  stale: boolean;
  said: FromPage | null;
  saidAt: number;
}

/**
 * Everybody who watches pages from here: each gets the document of its own page, that page's newest numbers, and every one of its
 * events. The same for pages of the bridge and for those of a relay. Of values the latest win under back-pressure.
 */
export class PageHub {
  readonly #server = new WebSocketServer({
    noServer: true,
    maxPayload: FROM_PAGE_MOST_BYTES,
    perMessageDeflate: false,
  });
  readonly #documentOf: (id: string) => PageDocument | null;
  readonly #changed: () => void;
  readonly #pages = new Set<Page>();
  /** Those who watch, by what they watch. */
  readonly #byId = new Map<string, Set<Page>>();
  /** The newest numbers of each page, as they came. */
  readonly #lastValues = new Map<string, Buffer>();
  #live = false;
  #others: readonly string[] = [];

  readonly #protocol: number;

  /** @param changed - somebody came or went @param protocol - of which it says that it is */
  constructor(
    documentOf: (id: string) => PageDocument | null,
    changed: () => void,
    protocol = PAGE_PROTOCOL,
  ) {
    this.#protocol = protocol;
    this.#documentOf = documentOf;
    this.#changed = changed;
  }

  get full(): boolean {
    return this.#pages.size >= WATCHING_MOST;
  }
  get count(): number {
    return this.#pages.size;
  }
  /** How many watch a page. */
  countOf(id: string): number {
    return this.#byId.get(id)?.size ?? 0;
  }
  meet(request: IncomingMessage, socket: Duplex, head: Buffer, id: string): void {
    this.#server.handleUpgrade(request, socket, head, (ws) => this.#meet(ws, id));
  }
  #meet(ws: WebSocket, id: string): void {
    const page: Page = { socket: ws, id, stale: false, said: null, saidAt: -Infinity };
    this.#pages.add(page);
    let own = this.#byId.get(id);
    if (!own) this.#byId.set(id, (own = new Set()));
    own.add(page);
    ws.on('error', () => ws.terminate());
    ws.on('message', (data: Buffer, binary) => {
      const now = performance.now();
      if (binary || now - page.saidAt < 1000 / SAID_MOST) return;
      const said = parseFromPage(data.toString('utf8'));
      if (!said) return;
      page.said = said;
      page.saidAt = now;
      this.#say(page, { type: 'again', at: said.at });
    });
    ws.on('close', () => {
      this.#pages.delete(page);
      const rest = this.#byId.get(id);
      rest?.delete(page);
      if (rest?.size === 0) this.#byId.delete(id);
      this.#changed();
    });
    this.#say(page, { type: 'hello', protocol: this.#protocol });
    if (this.#others.length > 0) this.#say(page, { type: 'others', at: this.#others });
    this.#say(page, { type: 'page', live: this.#live, document: this.#documentOf(id) });
    this.#pass(page);
    this.#changed();
  }
  #say({ socket }: Page, message: ToPage): void {
    if (socket.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
  }
  #sayAll(message: ToPage, pages: Iterable<Page>): void {
    const text = JSON.stringify(message);
    for (const { socket } of pages) if (socket.readyState === WebSocket.OPEN) socket.send(text);
  }

  /** Whether somebody drives. */
  live(live: boolean): void {
    this.#live = live;
    this.#sayAll({ type: 'live', live }, this.#pages);
  }
  /** Where else the same pages are served. */
  others(at: readonly string[]): void {
    this.#others = at;
    this.#sayAll({ type: 'others', at }, this.#pages);
  }
  /** A page is another one, or is gone: what was known of its numbers is no longer true. */
  document(id: string): void {
    this.#lastValues.delete(id);
    this.#sayAll(
      { type: 'page', live: this.#live, document: this.#documentOf(id) },
      this.#byId.get(id) ?? [],
    );
  }
  /** Newest numbers of a page. @param frame - kept: nobody else may write to it */
  value(id: string, frame: Buffer): void {
    this.#lastValues.set(id, frame);
    const own = this.#byId.get(id);
    if (own) for (const page of own) this.#pass(page);
  }
  /** Events of a page, each of which counts. */
  events(id: string, frame: Buffer): void {
    for (const { socket } of this.#byId.get(id) ?? []) {
      if (socket.readyState !== WebSocket.OPEN) continue;
      if (socket.bufferedAmount > LOST_BYTES) socket.terminate();
      else socket.send(frame, { binary: true });
    }
  }
  /** What the projector's mirrors drew, for those who look at it. */
  seen(frame: Buffer): void {
    for (const { socket } of this.#byId.get(LASER_PAGE) ?? [])
      if (socket.readyState === WebSocket.OPEN && socket.bufferedAmount < BEHIND_BYTES)
        socket.send(frame, { binary: true });
  }
  #pass(page: Page): void {
    const values = this.#lastValues.get(page.id);
    if (!values || page.socket.readyState !== WebSocket.OPEN) return;
    if (page.socket.bufferedAmount > BEHIND_BYTES) {
      page.stale = true;
      return;
    }
    page.stale = false;
    page.socket.send(values, { binary: true });
  }
  /** Those who were behind get the newest once they have caught up. */
  catchUp(): void {
    for (const page of this.#pages) if (page.stale) this.#pass(page);
  }

  /** Who watches one of these, the first of them by name. */
  watchers(all: readonly string[], most = WATCHERS_MOST): Watcher[] {
    const out: Watcher[] = [];
    for (const id of all)
      for (const { said } of this.#byId.get(id) ?? []) {
        if (out.length >= most) return out;
        out.push({
          page: id,
          name: said?.name ?? '',
          picturesPerSecond: said?.picturesPerSecond ?? null,
          delayMs: said?.delayMs ?? null,
          by: null,
        });
      }
    return out;
  }

  close(): void {
    for (const ws of this.#server.clients) ws.terminate();
    this.#server.close();
  }
}
