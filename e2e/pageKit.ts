import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer, type Server as HttpServer } from 'node:http';
import os from 'node:os';
import path from 'node:path';
import puppeteer, { type Browser, type Page } from 'puppeteer-core';
import { PageFiles } from '../src/bridge/pages/pageFiles';
import { PageHub } from '../src/bridge/pages/pageHub';
import { emptyShow } from '../src/core/ferry';
import {
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_VALUE,
  EVENT_BYTES,
  EVENTS_HEAD,
  overlayPage,
  PAGE_HEAD,
  PAGE_PROTOCOL,
  pageBytes,
  type PageDocument,
  writeHead,
  writePageHead,
} from '../src/core/protocols';
import { newOverlay, type Figure, type Finish, type Show } from '../src/core/show';
import { outletThings, overlayPages } from '../src/engine/outlets/pages';
import { freePort, until } from './support';

/** Pages by themselves: the real page, its real code, told by a server that says just what a test wants it to. */

export const SURFACE = 'sheet';
const WIDTH = 640,
  HEIGHT = 360;

export interface Sheet {
  readonly figures: readonly Figure[];
  readonly finishes?: readonly Finish[];
  /** Rows that are laid over parameters, by `thing/parameter`: how many points each has. */
  readonly rows?: Readonly<Record<string, number>>;
}

/** A show with one overlay of 640 × 360 pixels, drawn at full quality. */
export function sheetShow({ figures, finishes = [] }: Sheet): Show {
  const bare = emptyShow('sheet-show', 'Sheet');
  return {
    ...bare,
    flashLimit: null,
    budget: { ...bare.budget, on: false },
    overlays: [{ ...newOverlay(SURFACE, 'Sheet'), width: WIDTH, height: HEIGHT }],
    figures: figures.map((f) => ({ ...f, surface: SURFACE })),
    finishes,
  };
}

export class PageKit {
  readonly port: number;
  readonly hub: PageHub;
  readonly #server: HttpServer;
  #document: PageDocument | null = null;
  #time = 1;

  private constructor(server: HttpServer, port: number, protocol: number) {
    this.#server = server;
    this.port = port;
    this.hub = new PageHub(
      (id) => (id === overlayPage(SURFACE) ? this.#document : null),
      () => undefined,
      protocol,
    );
    server.on('upgrade', (request, socket, head) =>
      this.hub.meet(request, socket, head, new URL(request.url!, 'http://x').searchParams.get('page') ?? ''),
    );
  }
  static async open(port?: number, host = '127.0.0.1', protocol = PAGE_PROTOCOL): Promise<PageKit> {
    const files = new PageFiles(path.join(process.cwd(), '.cache/pages')),
      server = createServer((request, response) =>
        files.serve(new URL(request.url!, 'http://x').pathname, request, response),
      ),
      at = port ?? (await freePort());
    await new Promise<void>((done) => server.listen(at, host, done));
    return new PageKit(server, at, protocol);
  }
  address(kind: 'overlay' | 'matte' = 'overlay'): string {
    return `http://127.0.0.1:${this.port}/${kind}/${SURFACE}?key=x`;
  }

  /** Shows something else, at rest. */
  show(sheet: Sheet | null): void {
    if (sheet) {
      const show = sheetShow(sheet);
      let at = 0;
      const vectors = Object.fromEntries(
        Object.entries(sheet.rows ?? {}).map(([key, n]) => [key, [(at += n) - n, n] as const]),
      );
      const [page] = overlayPages(show, outletThings(show), { vectors });
      this.#document = { ...page!.document, version: (this.#document?.version ?? 0) + 1 };
    } else this.#document = null;
    this.hub.live(true);
    this.hub.document(overlayPage(SURFACE));
  }
  /** Sends numbers; those that are not named are at rest. @param blink - 1: all white, −1: nothing at all, to see how late it comes */
  set(
    numbers: Readonly<Record<string, number>> = {},
    rows: Readonly<Record<string, ArrayLike<number>>> = {},
    blink = 0,
  ): void {
    const document = this.#document!,
      { map } = document,
      frame = Buffer.alloc(FRAME_HEAD + pageBytes(document)),
      view = new DataView(frame.buffer, frame.byteOffset);
    writeHead(view, FRAME_VALUE, 0, 1, 0);
    this.#time += 0.016;
    writePageHead(
      new DataView(frame.buffer, frame.byteOffset + FRAME_HEAD),
      document.version,
      this.#time,
      this.#time,
      0,
      blink,
    );
    const put = (i: number, x: number): void => void frame.writeFloatLE(x, FRAME_HEAD + PAGE_HEAD + 4 * i);
    document.rest.forEach((x, i) => put(i, x));
    for (const [key, x] of Object.entries(numbers)) put(map.parameters[key]!, x);
    for (const [key, [at, points]] of Object.entries(map.vectors))
      for (let i = 0; i < points; i++) put(document.numbers + at + i, rows[key]?.[i] ?? 0);
    this.hub.value(overlayPage(SURFACE), frame);
  }
  /** One event at a parameter. */
  event(key: string, value: number): void {
    const document = this.#document!,
      frame = Buffer.alloc(FRAME_HEAD + EVENTS_HEAD + EVENT_BYTES),
      at = FRAME_HEAD + EVENTS_HEAD;
    writeHead(new DataView(frame.buffer, frame.byteOffset), FRAME_EVENTS, 0, 1, 0);
    frame.writeUInt32LE(document.version, FRAME_HEAD);
    frame.writeDoubleLE(this.#time, at);
    frame.writeUInt32LE(document.map.parameters[key]!, at + 8);
    frame.writeFloatLE(value, at + 12);
    this.hub.events(overlayPage(SURFACE), frame);
  }
  async close(): Promise<void> {
    this.hub.close();
    this.#server.closeAllConnections();
    await new Promise<void>((done) => this.#server.close(() => done()));
  }
}

/** What a page shows, pixel for pixel from its upper left, alpha and all. */
export class Pixels {
  readonly width: number;
  readonly height: number;
  readonly data: Buffer;
  constructor(width: number, height: number, data: Buffer) {
    this.width = width;
    this.height = height;
    this.data = data;
  }
  alpha(x: number, y: number): number {
    return this.data[4 * (y * this.width + x) + 3]!;
  }
  red(x: number, y: number): number {
    return this.data[4 * (y * this.width + x)]!;
  }
  /** Whether both are the same to the last bit. */
  same(other: Pixels): boolean {
    return this.data.equals(other.data);
  }
}
export async function pixelsOf(page: Page): Promise<Pixels> {
  const { width, height, data } = await page.evaluate(() => {
    const shown = document.querySelector('canvas')!,
      copy = document.createElement('canvas');
    copy.width = shown.width;
    copy.height = shown.height;
    const g = copy.getContext('2d')!;
    g.drawImage(shown, 0, 0);
    const bytes = g.getImageData(0, 0, copy.width, copy.height).data;
    let text = '';
    for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return { width: copy.width, height: copy.height, data: btoa(text) };
  });
  return new Pixels(width, height, Buffer.from(data, 'base64'));
}
/** What a page shows once it is as the test says, and the same twice. */
export async function settled(
  page: Page,
  what: string,
  good: (p: Pixels) => boolean = (p) => p.data.some((x) => x > 0),
): Promise<Pixels> {
  let before = await pixelsOf(page);
  return until(what, async () => {
    const now = await pixelsOf(page),
      same = now.same(before);
    before = now;
    return same && good(now) ? now : null;
  });
}

/** Begins to look at each picture of a page. @returns what tells whether one had a red above this somewhere, 0 to 255 */
export async function flared(page: Page, above: number): Promise<() => Promise<boolean>> {
  const seen = await page.evaluateHandle((least) => {
    const shown = document.querySelector('canvas')!,
      copy = document.createElement('canvas'),
      found = { any: false };
    copy.width = shown.width;
    copy.height = shown.height;
    const g = copy.getContext('2d', { willReadFrequently: true })!;
    g.globalCompositeOperation = 'copy';
    const look = (): void => {
      g.drawImage(shown, 0, 0);
      const { data } = g.getImageData(0, 0, copy.width, copy.height);
      for (let i = 0; i < data.length && !found.any; i += 4) found.any = data[i]! > least;
      if (!found.any) setTimeout(look, 10);
    };
    look();
    return found;
  }, above);
  return () => seen.evaluate((found) => found.any);
}

/** Begins to look at one point of a page that is covered now. @returns what waits until it is seen not to be, and tells when that was, in ms since the epoch */
export async function watched(page: Page, x: number, y: number): Promise<() => Promise<number>> {
  const seen = await page.evaluateHandle(
    (left, top) => {
      const shown = document.querySelector('canvas')!,
        copy = document.createElement('canvas');
      copy.width = copy.height = 1;
      const g = copy.getContext('2d', { willReadFrequently: true })!;
      const found = { at: 0 };
      const look = (): void => {
        g.clearRect(0, 0, 1, 1);
        g.drawImage(shown, -left, -top);
        if (g.getImageData(0, 0, 1, 1).data[3] === 255) setTimeout(look, 50);
        else found.at = Date.now();
      };
      look();
      return found;
    },
    x,
    y,
  );
  return () => until('it to fall', () => seen.evaluate((found) => found.at));
}

/** Debian's Firefox, on a display of its own: without one it draws nothing. */
export const FIREFOX = ['/usr/bin/firefox-esr'].find((f) => existsSync(f) && existsSync('/usr/bin/Xvfb'));
export interface PageBrowser {
  readonly browser: Browser;
  /** What its display shows now, as bytes. */
  screen?(): Buffer;
  close(): Promise<void>;
}
export async function openFirefox(): Promise<PageBrowser> {
  const memory = mkdtempSync(path.join(os.tmpdir(), 'batucada-display-'));
  let display = 91,
    screen: ChildProcess | null = null;
  for (; !screen && display < 120; display++) {
    if (existsSync(`/tmp/.X${display}-lock`)) continue;
    const settings = ['-screen', '0', '1280x900x24', '-nolisten', 'tcp', '-fbdir', memory],
      tried = spawn('/usr/bin/Xvfb', [`:${display}`, ...settings], { stdio: 'ignore' });
    await until(
      'a display',
      () => existsSync(`/tmp/.X11-unix/X${display}`) || tried.exitCode !== null,
      10000,
    ).catch(() => undefined);
    if (tried.exitCode === null) screen = tried;
  }
  const browser = await puppeteer.launch({
    browser: 'firefox',
    executablePath: FIREFOX!,
    headless: false,
    env: { ...process.env, DISPLAY: `:${display - 1}`, MOZ_WEBRENDER: '0' },
    protocolTimeout: 120000,
    extraPrefsFirefox: { 'webgl.force-enabled': true, 'browser.shell.checkDefaultBrowser': false },
  });
  return {
    browser,
    screen: () => readFileSync(path.join(memory, 'Xvfb_screen0')),
    close: async () => {
      await browser.close();
      screen?.kill();
      rmSync(memory, { recursive: true, force: true });
    },
  };
}
