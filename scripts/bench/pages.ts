import { type ChildProcess, fork, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'puppeteer-core';
import { WebSocket } from 'ws';
import { FIREFOX, openFirefox, type PageBrowser, PageKit, pixelsOf } from '../../e2e/pageKit';
import { freePort, startServer, until, visit, type Server } from '../../e2e/support';
import {
  BRIDGE_PROTOCOL,
  EVENT_BYTES,
  EVENTS_HEAD,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_VALUE,
  overlayPage,
  PAGE_HEAD,
  pageBytes,
  type ToDriver,
  writeHead,
} from '../../src/core/protocols';
import type { StreamDeclaration } from '../../src/core/outlets';
import { newEdgeForm, newFigure } from '../../src/core/show';
import type { CrowdSaid, CrowdTask } from './crowdOfPages';

type Report = (figure: string, value: number, unit: string, aim?: string) => void;
const pause = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));
const sorted = (x: readonly number[]): number[] => [...x].sort((a, b) => a - b);
const quantile = (x: readonly number[], q: number): number =>
  sorted(x)[Math.min(x.length - 1, Math.floor(q * x.length))] ?? NaN;
const clock = (): number => performance.timeOrigin + performance.now();

const SIZE = { width: 640, height: 360 };
const EDGE = newFigure('edge', 'Edge', newEdgeForm(SIZE), { x: 320, y: 180 });

/** What a page weighs, how soon it shows something, and how soon a number that was sent is seen. */
export async function measurePage(report: Report): Promise<void> {
  for (const [name, open] of [
    ['Chromium', () => visit(null)],
    ...(FIREFOX ? [['Firefox', openFirefox] as const] : []),
  ] as const) {
    const kit = await PageKit.open(),
      browser: PageBrowser = await open();
    try {
      kit.show({ figures: [EDGE] });
      kit.set();
      let page = await browser.browser.newPage();
      await page.bringToFront();
      await page.setViewport(SIZE);
      const screen = browser.screen;
      let paper = 0;
      if (screen) {
        await page.goto(kit.address(), { waitUntil: 'domcontentloaded' });
        paper = await settledPapers(screen);
      }
      const firsts: number[] = [];
      for (let i = 0; i < 5; i++) {
        // Otherwise a browser may go on showing the page before.
        await page.close();
        page = await browser.browser.newPage();
        await page.bringToFront();
        await page.setViewport(SIZE);
        if (screen) await until('a blank display', () => papers(screen()) === 0);
        const from = clock();
        await page.goto(`${kit.address()}&n=${i}`, { waitUntil: 'domcontentloaded' });
        firsts.push((await (screen ? firstOnDisplay(screen, paper) : firstPicture(page))) - from);
      }
      report(`first picture on loopback, ${name}, median of five`, quantile(firsts, 0.5) / 1000, 's', '≤ 1');
      report(`and the longest, that of the first start`, Math.max(...firsts) / 1000, 's', '');
      const seen = await numberToPixel(kit, page);
      report(`a number sent to its pixel, ${name}, median`, quantile(seen, 0.5), 'ms', '≤ 34: two pictures');
      report('and 95th percentile', quantile(seen, 0.95), 'ms', '');
      const back: number[] = [];
      kit.set({ 'edge/swell': 90 });
      if (screen) paper = await settledPapers(screen);
      for (let i = 0, old = page; i < 3; i++) {
        const from = clock();
        await old.close();
        if (screen) await until('a blank display', () => papers(screen()) === 0);
        old = await browser.browser.newPage();
        await old.bringToFront();
        await old.setViewport(SIZE);
        await old.goto(kit.address(), { waitUntil: 'domcontentloaded' });
        back.push((await (screen ? firstOnDisplay(screen, paper) : firstPicture(old, ...SWOLLEN))) - from);
      }
      report(
        `a page that ended, until another has the right look, ${name}`,
        Math.max(...back) / 1000,
        's',
        '≤ 2',
      );
    } finally {
      await browser.close();
      await kit.close();
    }
  }
  const { plain, packed } = weight();
  report('script of a page, as it travels (gzip)', packed / 1000, 'kB', '≤ 300');
  report('and unpacked', plain / 1000, 'kB', '');
}
/** What the loader of these scripts leaves in functions that are sent to a page. */
const named = (page: Page): Promise<unknown> => page.evaluate('globalThis.__name ??= (f) => f');
/** Where the edge is only when it is swollen, as shares of the picture. */
const SWOLLEN = [0.5, (26 + 40) / 360] as const;
/** When a page had drawn something there, by the clock of this machine. */
async function firstPicture(page: Page, across = 4 / SIZE.width, down = 0.5): Promise<number> {
  await named(page);
  return page.evaluate(
    (x, y) =>
      new Promise<number>((done) => {
        const g = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
        const look = (): void => {
          const canvas = document.querySelector('canvas');
          if (canvas && canvas.width > 0) {
            g.clearRect(0, 0, 1, 1);
            g.drawImage(canvas, x * canvas.width, y * canvas.height, 1, 1, 0, 0, 1, 1);
            if (g.getImageData(0, 0, 1, 1).data[3]! > 0) {
              done(performance.timeOrigin + performance.now());
              return;
            }
          }
          requestAnimationFrame(look);
        };
        look();
      }),
    across,
    down,
  );
}
/**
 * The same from outside, by what a display shows: who reads a canvas within Firefox before its worker has drawn may be made to wait for ten
 * seconds. @param pixels - of paper, from which on it is there
 */
async function firstOnDisplay(screen: () => Buffer, pixels: number): Promise<number> {
  while (papers(screen()) < pixels) await pause(5);
  return clock();
}
/** Pixels in the ink of the edge (#f2e9d4), which no browser's own bars have. */
function papers(screen: Buffer): number {
  let n = 0;
  for (let i = screen.length % 4; i < screen.length; i += 4)
    if (screen[i] === 0xd4 && screen[i + 1] === 0xe9 && screen[i + 2] === 0xf2) n++;
  return n;
}
/** How much paper a settled picture shows, less what may differ between two. */
async function settledPapers(screen: () => Buffer): Promise<number> {
  let before = -1;
  for (let now = 0; now === 0 || now !== before; now = papers(screen())) {
    before = now;
    await pause(300);
  }
  return 0.95 * before;
}
/** Notes when the pixel under the middle of the upper side comes and goes, picture by picture. */
export async function watchPixel(page: Page, across: number, down: number): Promise<void> {
  await named(page);
  return page.evaluate(
    (x, y) => {
      const seen: { at: number; on: boolean }[] = [],
        g = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!,
        canvas = document.querySelector('canvas')!;
      let was = false;
      const look = (): void => {
        g.clearRect(0, 0, 1, 1);
        g.drawImage(canvas, x * canvas.width, y * canvas.height, 1, 1, 0, 0, 1, 1);
        const on = g.getImageData(0, 0, 1, 1).data[3]! > 127;
        if (on !== was) seen.push({ at: performance.timeOrigin + performance.now(), on });
        was = on;
        requestAnimationFrame(look);
      };
      look();
      Object.assign(window, { seen });
    },
    across,
    down,
  );
}
export const pixelsSeen = (page: Page): Promise<{ at: number; on: boolean }[]> =>
  page.evaluate(() => (window as unknown as { seen: { at: number; on: boolean }[] }).seen);

async function numberToPixel(kit: PageKit, page: Page): Promise<number[]> {
  await watchPixel(page, ...SWOLLEN);
  const sent: number[] = [];
  for (let i = 0; i < 60; i++) {
    sent.push(clock());
    kit.set({ 'edge/swell': i % 2 ? 0 : 90 });
    await pause(120 + (i % 7) * 5);
  }
  await pause(300);
  const seen = await pixelsSeen(page);
  return sent.flatMap((at, i) => {
    const change = seen.find((s) => s.at > at && s.on === (i % 2 === 0));
    return change && change.at - at < 400 ? [change.at - at] : [];
  });
}
/** All script that an overlay loads; what only a model needs is not. */
function weight(): { plain: number; packed: number } {
  const folder = path.join(process.cwd(), '.cache/pages'),
    wanted = new Set<string>(),
    follow = (name: string): void => {
      if (wanted.has(name)) return;
      wanted.add(name);
      const text = readFileSync(path.join(folder, name), 'utf8');
      // What is imported on demand stays where it is.
      for (const [, other] of text.matchAll(/(?:from|import)\s*"\.\/([\w.-]+\.js)"/g)) follow(other!);
    };
  for (const [, name] of readFileSync(path.join(folder, 'page.html'), 'utf8').matchAll(
    /\/page\/([\w.-]+\.js)/g,
  ))
    follow(name!);
  let plain = 0,
    packed = 0;
  for (const name of wanted) {
    plain += readFileSync(path.join(folder, name)).length;
    packed += readFileSync(path.join(folder, `${name}.gz`)).length;
  }
  return { plain, packed };
}

/** Drives a server without a control window: one overlay of 160 numbers, one universe, and events that are counted. */
class Driver {
  readonly #socket: WebSocket;
  readonly #document = {
    id: overlayPage('crowd'),
    version: 1,
    show: { overlays: [] },
    map: {
      parameters: Object.fromEntries(Array.from({ length: 160 }, (_, i) => [`x/p${i}`, i])),
      vectors: {},
    },
    numbers: 160,
    points: 0,
    rest: Array.from({ length: 160 }, () => 0),
    media: [],
    kept: false,
  };
  readonly #frame: Buffer;
  readonly #universe = Buffer.alloc(FRAME_HEAD + 512);
  #timers: NodeJS.Timeout[] = [];
  #sent = 0;
  /** Events that were sent. */
  events = 0;
  state: Extract<ToDriver, { type: 'state' }> | null = null;
  /** How late its universe was, each time it was told. */
  late: number[] = [];

  constructor(server: Server) {
    this.#frame = Buffer.alloc(FRAME_HEAD + pageBytes(this.#document));
    this.#socket = new WebSocket(`ws://127.0.0.1:${server.port}/bridge?role=driver`, {
      headers: { Origin: `http://127.0.0.1:${server.port}` },
    });
    this.#socket.on('message', (data: Buffer, binary) => {
      if (binary) return;
      const m = JSON.parse(data.toString()) as ToDriver;
      if (m.type !== 'state') return;
      this.state = m;
      const s = m.streams.find((x) => x.id === 'lamps');
      if (s) this.late.push(s.late);
    });
  }
  async start(broker: string | null): Promise<void> {
    await until('the bridge', () => this.#socket.readyState === WebSocket.OPEN);
    const say = (message: object): void => this.#socket.send(JSON.stringify(message));
    say({ type: 'hello', protocol: BRIDGE_PROTOCOL, lease: 'bench-lease', take: true });
    if (broker) say({ type: 'broker', setting: { address: broker, lamps: false, signals: [] } });
    const stream = (
      id: string,
      to: StreamDeclaration['to'],
      size: number,
      mode: StreamDeclaration['mode'],
    ): object => ({
      id,
      to,
      size,
      mostPerSecond: 1000,
      mode,
      keepAlive: null,
      safe: { then: 'hold' },
      rest: null,
      fates: null,
      calm: null,
    });
    const page = { kind: 'page', page: this.#document.id } as const;
    say({
      type: 'outlets',
      version: 1,
      armed: false,
      wires: [{ id: 'w', protocol: 'artnet', target: { kind: 'simulated' }, priority: 100, sync: false }],
      streams: [
        stream('lamps', { kind: 'wire', wire: 'w', universe: 0 }, 512, 'latest'),
        stream('page', page, pageBytes(this.#document), 'latest'),
        stream('events', page, EVENTS_HEAD + EVENT_BYTES, 'ordered'),
      ],
    });
    say({ type: 'pages', all: [this.#document.id], documents: [this.#document] });
    this.#timers = [
      setInterval(() => this.#socket.send(Buffer.from([4])), 100),
      setInterval(() => this.#turn(), 15),
      setInterval(() => this.#event(), 50),
    ];
  }
  #turn(): void {
    const n = ++this.#sent,
      at = clock();
    writeHead(new DataView(this.#frame.buffer, this.#frame.byteOffset), FRAME_VALUE, 1, 1, at);
    this.#frame.writeUInt32LE(1, FRAME_HEAD);
    this.#frame.writeDoubleLE(n * 0.015, FRAME_HEAD + 8);
    for (let i = 0; i < 160; i++)
      this.#frame.writeFloatLE(Math.sin(n / 9 + i), FRAME_HEAD + PAGE_HEAD + 4 * i);
    this.#socket.send(this.#frame);
    if (n % 2) return;
    writeHead(new DataView(this.#universe.buffer, this.#universe.byteOffset), FRAME_VALUE, 0, 1, at);
    this.#universe.fill(n & 255, FRAME_HEAD);
    this.#socket.send(this.#universe);
  }
  #event(): void {
    const frame = Buffer.alloc(FRAME_HEAD + EVENTS_HEAD + EVENT_BYTES);
    writeHead(new DataView(frame.buffer, frame.byteOffset), FRAME_EVENTS, 2, 1, clock());
    frame.writeUInt32LE(1, FRAME_HEAD);
    frame.writeFloatLE(++this.events, FRAME_HEAD + EVENTS_HEAD + 12);
    this.#socket.send(frame);
  }
  stop(): void {
    for (const t of this.#timers) clearInterval(t);
    this.#socket.close();
  }
}

/** Pages without browsers, in as many processes as are asked for. */
class Crowd {
  readonly #children: ChildProcess[];
  constructor(urls: readonly string[], others: readonly string[], processes: number) {
    this.#children = Array.from({ length: processes }, (_, k) => {
      const child = fork(path.join(import.meta.dirname, 'crowdOfPages.ts'), [], {
        execArgv: ['--import', 'tsx'],
        serialization: 'advanced',
      });
      child.send({ urls: urls.filter((__, i) => i % processes === k), others } satisfies CrowdTask);
      return child;
    });
  }
  async tell(): Promise<CrowdSaid> {
    const all = await Promise.all(
      this.#children.map(
        (child) =>
          new Promise<CrowdSaid>((done) => {
            child.once('message', (said) => done(said as CrowdSaid));
            child.send('tell');
          }),
      ),
    );
    return {
      open: all.reduce((n, c) => n + c.open, 0),
      frames: all.reduce((n, c) => n + c.frames, 0),
      delays: all.flatMap((c) => c.delays),
      events: all[0]!.events,
      longestGap: Math.max(...all.map((c) => c.longestGap)),
    };
  }
  end(): void {
    for (const c of this.#children) c.kill();
  }
}
/** Seconds of processor that a process and its threads have used. */
function cpuOf(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) / 100;
}

const SECONDS = 60;
/** Two hundred pages on one bridge: what they cost it, how late they are, and whether lamps notice. */
export async function measureCrowd(report: Report): Promise<void> {
  const server = await startServer();
  const driver = new Driver(server);
  try {
    await driver.start(null);
    await pause(3000);
    driver.late = [];
    const idle = cpuOf(server.pid());
    await pause(10000);
    const alone = (cpuOf(server.pid()) - idle) / 10,
      lateAlone = driver.late;
    const url = `ws://127.0.0.1:${server.port}/bridge?role=page&page=${encodeURIComponent(overlayPage('crowd'))}&key=${server.key()}`;
    const crowd = new Crowd(
      Array.from({ length: 200 }, () => url),
      [],
      1,
    );
    await until('all of them', async () => (await crowd.tell()).open === 200);
    await pause(1000);
    await crowd.tell();
    driver.late = [];
    const before = cpuOf(server.pid()),
      eventsBefore = driver.events;
    await pause(SECONDS * 1000);
    const used = (cpuOf(server.pid()) - before) / SECONDS,
      said = await crowd.tell(),
      sentEvents = driver.events - eventsBefore;
    report('200 pages, a minute: numbers that a page got', said.frames / 200 / SECONDS, '/s', '66.7 sent');
    report('cost of the bridge with them, of a core', used * 100, '%', '');
    report('and without any', alone * 100, '%', '');
    report('from when numbers are sent to a page, p50', quantile(said.delays, 0.5), 'ms', '');
    report('and p99', quantile(said.delays, 0.99), 'ms', '');
    report('longest time in which a page had nothing', said.longestGap, 'ms', '');
    report('events that were lost', Math.max(0, sentEvents - 2 - said.events.length), '', '0');
    report(
      'lateness of a universe with them, 95th percentile',
      quantile(driver.late, 0.95),
      'ms',
      'as without',
    );
    report('and without any', quantile(lateAlone, 0.95), 'ms', '');
    crowd.end();
  } finally {
    driver.stop();
    await server.stop();
  }
}

const MOSQUITTO = ['/usr/sbin/mosquitto', '/usr/bin/mosquitto'].find((f) => existsSync(f));
const RELAYS = 10,
  PAGES = 2000,
  RELAYED_SECONDS = 30;
/** Two thousand pages by a broker and ten relays; then a relay, and the broker, killed and back. */
export async function measureRelays(report: Report): Promise<void> {
  if (!MOSQUITTO) {
    console.error('mosquitto is not here: pages by relays are not measured.');
    return;
  }
  const port = await freePort(),
    folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-broker-'));
  writeFileSync(
    path.join(folder, 'b.conf'),
    `listener ${port} 127.0.0.1\nallow_anonymous true\npersistence false\n`,
  );
  const startBroker = (): ChildProcess =>
    spawn(MOSQUITTO, ['-c', path.join(folder, 'b.conf')], { stdio: 'ignore' });
  let broker = startBroker();
  const server = await startServer(),
    driver = new Driver(server),
    relays: { child: ChildProcess; at: string; said: string }[] = [];
  try {
    await driver.start(`mqtt://127.0.0.1:${port}`);
    for (let i = 0; i < RELAYS; i++) {
      const at = await freePort(),
        child = spawn(
          process.execPath,
          [
            '.cache/server/relay.mjs',
            `mqtt://127.0.0.1:${port}`,
            '--port',
            String(at),
            '--listen',
            '127.0.0.1',
            '--name',
            `r${i}`,
          ],
          { stdio: ['ignore', 'pipe', 'ignore'] },
        ),
        relay = { child, at: `127.0.0.1:${at}`, said: '' };
      child.stdout.on('data', (d: Buffer) => (relay.said += d.toString()));
      relays.push(relay);
    }
    await until('every relay', () => relays.every((r) => /key=\w+/.test(r.said)), 60000);
    const key = /key=(\w+)/.exec(relays[0]!.said)![1]!,
      urls = relays.map(
        (r) => `ws://${r.at}/bridge?role=page&page=${encodeURIComponent(overlayPage('crowd'))}&key=${key}`,
      );
    driver.late = [];
    const crowd = new Crowd(
      Array.from({ length: PAGES }, (_, i) => urls[i % RELAYS]!),
      urls,
      2,
    );
    await until('all of them', async () => (await crowd.tell()).open === PAGES, 120000);
    await pause(2000);
    await crowd.tell();
    driver.late = [];
    const before = cpuOf(server.pid());
    await pause(RELAYED_SECONDS * 1000);
    const used = (cpuOf(server.pid()) - before) / RELAYED_SECONDS,
      said = await crowd.tell();
    report(
      `${PAGES} pages by ${RELAYS} relays, all on these two cores: numbers that a page got`,
      said.frames / PAGES / RELAYED_SECONDS,
      '/s',
      '66.7 sent',
    );
    report('cost of the bridge with them, of a core', used * 100, '%', '');
    report('from when numbers are sent to a page, p50', quantile(said.delays, 0.5), 'ms', '');
    report('and p99', quantile(said.delays, 0.99), 'ms', '');
    report('lateness of a universe meanwhile, 95th percentile', quantile(driver.late, 0.95), 'ms', '');
    crowd.end();
    await pause(1500);

    // A hundred pages, for what happens when something dies.
    const few = new Crowd(
      Array.from({ length: 100 }, () => urls[0]!),
      urls.slice(1),
      1,
    );
    await until('a hundred', async () => (await few.tell()).open === 100);
    await pause(1000);
    await few.tell();
    const fall = async (what: string, kill: () => Promise<void>): Promise<void> => {
      const from = driver.events;
      await kill();
      await until('all back', async () => {
        const { open, frames, ...rest } = await few.tell();
        got.push(...rest.events);
        gap = Math.max(gap, rest.longestGap);
        return open === 100 && frames > 100;
      });
      await pause(2500);
      const last = await few.tell();
      got.push(...last.events);
      gap = Math.max(gap, last.longestGap);
      const sent = driver.events - from;
      report(`${what}: until its pages had numbers again, by the longest`, gap / 1000, 's', '≤ 2');
      report(`${what}: events lost to a page`, Math.max(0, sent - 3 - got.length), `of ${sent}`, '');
      got = [];
      gap = 0;
    };
    let got: number[] = [],
      gap = 0;
    await fall('a relay killed', async () => {
      relays[0]!.child.kill('SIGKILL');
      await pause(50);
    });
    await fall('the broker killed, and started again after half a second', async () => {
      broker.kill('SIGKILL');
      await pause(500);
      broker = startBroker();
    });
    few.end();
  } finally {
    driver.stop();
    for (const { child } of relays) child.kill();
    broker.kill();
    await server.stop();
  }
}

/** Two screens on two machines of their own, by network namespaces; only where those may be made. */
export async function measureTwoMachines(report: Report): Promise<void> {
  const ip = (...args: string[]): boolean => spawnSync('ip', args, { stdio: 'ignore' }).status === 0;
  const names = ['batucada-a', 'batucada-b'];
  if (process.getuid?.() !== 0 || !ip('netns', 'add', names[0]!)) {
    console.error('Network namespaces cannot be made here: two machines are not measured.');
    return;
  }
  ip('netns', 'add', names[1]!);
  const kit = await PageKit.open(undefined, '0.0.0.0');
  try {
    const pages: Page[] = [],
      browsers: PageBrowser[] = [];
    for (const [i, name] of names.entries()) {
      ip('link', 'add', `bt${i}`, 'type', 'veth', 'peer', 'name', 'eth0', 'netns', name);
      ip('addr', 'add', `10.77.${i}.1/24`, 'dev', `bt${i}`);
      ip('link', 'set', `bt${i}`, 'up');
      for (const args of [
        ['addr', 'add', `10.77.${i}.2/24`, 'dev', 'eth0'],
        ['link', 'set', 'eth0', 'up'],
        ['link', 'set', 'lo', 'up'],
      ])
        ip('netns', 'exec', name, 'ip', ...args);
      const browser = await visit(null, { machine: { namespace: name, ahead: i * 3 } });
      browsers.push(browser);
      await browser.page.setViewport(SIZE);
      kit.show({ figures: [EDGE] });
      kit.set();
      await browser.page.goto(`http://10.77.${i}.1:${kit.port}/overlay/sheet?key=x`);
      await until('its picture', async () => (await pixelsOf(browser.page)).data.some((x) => x > 0));
      pages.push(browser.page);
    }
    for (const page of pages) await watchPixel(page, 0.5, (26 + 40) / 360);
    for (let i = 0; i < 60; i++) {
      kit.set({ 'edge/swell': i % 2 ? 0 : 90 });
      await pause(150);
    }
    await pause(300);
    // Both clocks of the day are one: namespaces share it, whatever their steady clocks say.
    const [a, b] = await Promise.all(pages.map((p) => daySeen(p)));
    const apart = a!.flatMap((x) => {
      const near = b!.filter((y) => y.on === x.on).map((y) => Math.abs(y.at - x.at));
      const least = Math.min(...near);
      return least < 140 ? [least] : [];
    });
    report(
      'two screens on two machines, apart at each change, median',
      quantile(apart, 0.5),
      'ms',
      '≤ 16.7: a picture',
    );
    report('and 95th percentile', quantile(apart, 0.95), 'ms', '');
    report('changes that were compared', apart.length, '', '');
    for (const b2 of browsers) await b2.close();
  } finally {
    await kit.close();
    for (const [i, name] of names.entries()) {
      ip('link', 'del', `bt${i}`);
      ip('netns', 'del', name);
    }
  }
}
/** What was seen, by the clock of the day. */
const daySeen = (page: Page): Promise<{ at: number; on: boolean }[]> =>
  page.evaluate(() => {
    const by = Date.now() - (performance.timeOrigin + performance.now());
    return (window as unknown as { seen: { at: number; on: boolean }[] }).seen.map((s) => ({
      at: s.at + by,
      on: s.on,
    }));
  });
