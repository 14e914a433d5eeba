import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import os from 'node:os';
import path from 'node:path';
import puppeteer, { type Browser, type ElementHandle, type Page, type WebWorker } from 'puppeteer-core';
import { WebSocket } from 'ws';
import { called } from './called';
import { writeWav } from '../src/core/audio/wav';
import { FRAME_EVENTS, FRAME_HEAD } from '../src/core/protocols/frameKinds';
import { EVENT_BYTES, EVENTS_HEAD, overlayPage, PAGE_HEAD, type ToPage } from '../src/core/protocols/pages';
import type { MeasureHandle } from '../src/ui/state/session';

const root = process.cwd();

/** What did not come within so long on a machine that others use as well does not come. */
const PATIENCE_MS = 90000;
/**
 * Waits for a state, not for a time, and leaves the page twice as long to itself as a look into it took.
 * @throws Error that names what was waited for
 */
export async function until<T>(
  what: string,
  look: () => T | Promise<T>,
  ms = PATIENCE_MS,
): Promise<NonNullable<T>> {
  const end = Date.now() + ms;
  for (;;) {
    const from = Date.now(),
      value = await look();
    if (value) return value as NonNullable<T>;
    const now = Date.now();
    if (now > end) throw new Error(`waited ${ms / 1000} s, and still not: ${what}`);
    await new Promise((r) => setTimeout(r, Math.min(300, Math.max(25, 2 * (now - from)))));
  }
}

export function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const server = createServer();
    server.listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number };
      server.close(() => resolve(port));
    });
  });
}

export interface Server {
  readonly port: number;
  readonly url: string;
  readonly folder: string;
  /** Where OSC is heard. */
  osc(): { readonly host: string; readonly port: number };
  key(): string;
  stop(): Promise<void>;
  restart(): Promise<void>;
  /** The process that serves, as it runs now. */
  pid(): number;
}

/** The real server on free ports, with data of its own. */
export async function startServer({ demo = false } = {}): Promise<Server> {
  const port = await freePort();
  const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-data-'));
  let child: ChildProcess | null = null,
    heard = '';
  const run = async (): Promise<void> => {
    let said = '';
    const started = spawn(process.execPath, ['scripts/keep.mjs'], {
      cwd: root,
      env: {
        ...process.env,
        NODE_ENV: 'production',
        PORT: String(port),
        BATUCADA_DATA: folder,
        BATUCADA_ARTNET_PORT: '0',
        BATUCADA_OSC_PORT: '0',
        BATUCADA_IDN_PORT: '0',
        BATUCADA_MQTT_PORT: '0',
        BATUCADA_DEMO: demo ? '1' : '',
        NEXT_TELEMETRY_DISABLED: '1',
      },
    });
    child = started;
    started.stdout.on('data', (d: Buffer) => {
      said += d.toString();
    });
    started.stderr.on('data', (d: Buffer) => {
      said += d.toString();
    });
    await until(`the server to be ready; it said: ${said}`, () => {
      if (started.exitCode !== null) throw new Error(`the server ended: ${said}`);
      return said.includes('is ready');
    });
    await until('where OSC is heard', () => (heard = /OSC is heard at (\S+:\d+)/.exec(said)?.[1] ?? ''));
  };
  const stop = async (): Promise<void> => {
    const running = child;
    child = null;
    if (!running || running.exitCode !== null) return;
    const gone = new Promise<void>((done) => running.once('exit', () => done()));
    running.kill('SIGTERM');
    // One that stands still hears nothing else.
    const patience = setTimeout(() => running.kill('SIGKILL'), 15000);
    await gone;
    clearTimeout(patience);
  };
  await run();
  return {
    port,
    url: `http://127.0.0.1:${port}/`,
    folder,
    osc: () => {
      const at = heard.lastIndexOf(':');
      return { host: heard.slice(0, at), port: Number(heard.slice(at + 1)) };
    },
    key: () => (JSON.parse(readFileSync(path.join(folder, 'bridge.json'), 'utf8')) as { key: string }).key,
    stop: async () => {
      await stop();
      rmSync(folder, { recursive: true, force: true });
    },
    pid: () =>
      Number(readFileSync(`/proc/${child!.pid}/task/${child!.pid}/children`, 'utf8').trim().split(' ')[0]),
    restart: async () => {
      await stop();
      await run();
    },
  };
}

export interface Visit {
  readonly browser: Browser;
  readonly page: Page;
  readonly noise: string[];
  readonly strangers: string[];
  close(): Promise<void>;
}
export interface VisitOptions {
  /** Without it, sound waits for a gesture, as it does for a real visitor. */
  readonly autoplay?: boolean;
  readonly microphone?: string;
  readonly refuseMicrophone?: boolean;
  /** Maps a host name to loopback: the page then has no safe address. */
  readonly host?: string;
  readonly throttleHidden?: boolean;
  /** Lets a page collect garbage and read its heap, for measuring. */
  readonly heap?: boolean;
  /** Pictures are drawn by the machine's own graphics driver, instead of by the browser itself as where there is no graphics card. */
  readonly card?: boolean;
  /** Displays of the machine, as the browser's own switch for them has it. */
  readonly displays?: string;
  /** A network namespace that it runs in, as on a machine of its own, with a steady clock that is so many seconds ahead. */
  readonly machine?: { readonly namespace: string; readonly ahead: number };
}

const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium';
/** A command that starts the browser on a machine of its own. */
function onMachine({ namespace, ahead }: NonNullable<VisitOptions['machine']>, folder: string): string {
  const file = path.join(folder, 'browser.sh');
  writeFileSync(
    file,
    `#!/bin/sh\nexec ip netns exec ${namespace} unshare --time --monotonic ${ahead} --fork ${CHROMIUM} "$@"\n`,
    { mode: 0o755 },
  );
  return file;
}

/** A browser with an empty profile, that notes every error on the console and every request that leaves the machine. */
export async function visit(
  url: string | null,
  {
    autoplay = false,
    microphone,
    refuseMicrophone = false,
    host,
    throttleHidden = false,
    heap = false,
    card = false,
    displays,
    machine,
  }: VisitOptions = {},
): Promise<Visit> {
  const profile = mkdtempSync(path.join(os.tmpdir(), 'batucada-profile-'));
  const gpu =
    card && existsSync('/usr/lib/x86_64-linux-gnu/dri')
      ? // The browser puts its window together by itself: done by such a driver, that takes most of the time there is.
        ['--use-angle=gl-egl', '--ignore-gpu-blocklist', '--disable-gpu-compositing']
      : [];
  const browser = await puppeteer.launch({
    executablePath: machine ? onMachine(machine, profile) : CHROMIUM,
    // On another machine it is not reached by a port of this one.
    pipe: machine !== undefined,
    headless: true,
    userDataDir: profile,
    protocolTimeout: heap ? 900000 : 120000,
    ...(throttleHidden && {
      ignoreDefaultArgs: [
        '--disable-background-timer-throttling',
        '--disable-backgrounding-occluded-windows',
        '--disable-renderer-backgrounding',
      ],
    }),
    args: [
      '--no-sandbox',
      '--disable-dev-shm-usage',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      ...gpu,
      ...(heap ? ['--js-flags=--expose-gc', '--enable-precise-memory-info'] : []),
      ...(autoplay ? ['--autoplay-policy=no-user-gesture-required'] : []),
      '--use-fake-device-for-media-stream',
      ...(refuseMicrophone ? [] : ['--use-fake-ui-for-media-stream']),
      ...(microphone ? [`--use-file-for-fake-audio-capture=${microphone}`] : []),
      ...(displays ? [`--screen-info=${displays}`] : []),
      ...(host ? [`--host-resolver-rules=MAP ${host} 127.0.0.1`] : []),
    ],
  });
  const noise: string[] = [],
    strangers: string[] = [];
  const watch = (page: Page): void => {
    page.setDefaultTimeout(PATIENCE_MS);
    page.on('console', (m) => {
      if (m.type() === 'error') noise.push(m.text());
    });
    page.on('pageerror', (e) => noise.push(String(e)));
    page.on('request', (r) => {
      const u = new URL(r.url());
      if (
        !['127.0.0.1', 'localhost', host].includes(u.hostname) &&
        !['data:', 'blob:', 'about:', 'chrome-error:'].includes(u.protocol)
      )
        strangers.push(r.url());
    });
  };
  const page = await browser.newPage();
  watch(page);
  browser.on('targetcreated', (t) => {
    if (t.type() === 'page')
      void t.page().then((p) => {
        if (p) watch(p);
      });
  });
  await page.setViewport({ width: 1280, height: 800 });
  // What is compiled for a script, not for a test, names the functions it takes along into the page.
  await page.evaluateOnNewDocument('globalThis.__name ??= (f) => f');
  if (url) await page.goto(url, { waitUntil: 'load' });
  return {
    browser,
    page,
    noise,
    strangers,
    close: async () => {
      await browser.close();
      rmSync(profile, { recursive: true, force: true, maxRetries: 3 });
    },
  };
}

/** Does something while a visit stands behind another tab: what it would draw, a machine without graphics cannot spare twice. */
export async function behind(v: Visit, what: () => Promise<void>): Promise<void> {
  const front = await v.browser.newPage();
  await front.bringToFront();
  try {
    await what();
  } finally {
    await front.close();
    await v.page.bringToFront();
  }
}
/** What bears this role and accessible name. */
export function named(page: Page, role: string, name: string): Promise<ElementHandle<Element>> {
  return until(`a ${role} called “${name}”`, () => called(page, role, name));
}
export async function press(page: Page, role: string, name: string): Promise<void> {
  await tapFound(`a ${role} called “${name}”`, () => called(page, role, name));
}
/** Presses what the selector finds, once it can be pressed, is in view, at rest, and under nothing: a menu that is going still takes the presses on what is behind it. */
export async function tap(page: Page, selector: string): Promise<void> {
  await tapFound(`“${selector}”`, () => page.$(selector));
}
async function tapFound(what: string, find: () => Promise<ElementHandle<Element> | null>): Promise<void> {
  const found = await until(`${what}, to be pressed`, async () => {
    const e = await find();
    return e && (await e.evaluate(isFree).catch(() => false)) ? e : null;
  });
  await found.click();
}
/** In the page. */
async function isFree(e: Element): Promise<boolean> {
  if (e.matches(':disabled,[aria-disabled=true]')) return false;
  e.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  const was = e.getBoundingClientRect();
  await new Promise((next) => {
    requestAnimationFrame(() => requestAnimationFrame(next));
    setTimeout(next, 1000);
  });
  const is = e.getBoundingClientRect(),
    top = document.elementFromPoint(is.x + is.width / 2, is.y + is.height / 2);
  return (
    is.width > 0 &&
    is.x === was.x &&
    is.y === was.y &&
    top !== null &&
    (e.contains(top) || top.contains(e) || (e.closest('label')?.contains(top) ?? false))
  );
}
/** Opens a menu by its button, once the one before has quite gone: a press on its backdrop would only close that. */
export async function openMenu(page: Page, button: string): Promise<void> {
  await until(
    'no menu in the way',
    async () => (await page.$('[role=menu],[role=presentation].MuiModal-root')) === null,
  );
  await press(page, 'button', button);
  await until(`the menu of “${button}”`, async () => (await page.$('[role=menuitem]')) !== null);
}
/** Chooses from a list, by its names, with the keyboard. */
export async function choose(page: Page, list: string, option: string): Promise<void> {
  await until('no list in the way', async () => (await page.$('[role=listbox]')) === null);
  await (await named(page, 'combobox', list)).focus();
  await page.keyboard.press('Enter');
  await press(page, 'option', option);
  await until('the list closed', async () => (await page.$('[role=listbox]')) === null);
}
/** Types into a field of a number. */
export async function enter(page: Page, field: string, value: string): Promise<void> {
  await (await named(page, 'slider', field)).focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
}
export async function undo(page: Page): Promise<void> {
  await page.keyboard.down('Control');
  await page.keyboard.press('z');
  await page.keyboard.up('Control');
}
export async function redo(page: Page): Promise<void> {
  await page.keyboard.down('Control');
  await page.keyboard.down('Shift');
  await page.keyboard.press('Z');
  await page.keyboard.up('Shift');
  await page.keyboard.up('Control');
}
export async function openShowFile(page: Page, file: string): Promise<void> {
  // A press counts as a person's for five seconds: a machine that was held up for longer opens no chooser, and is asked again.
  const chooser = await until('a chooser of files', async () => {
    await openMenu(page, 'Show menu');
    const opens = page.waitForFileChooser({ timeout: 10000 }).catch(() => null);
    await press(page, 'menuitem', 'Open a file …');
    return opens;
  });
  await chooser.accept([file]);
}
/** What a parameter is now: of this window's last picture, so a little behind the state. */
export const parameterOf = (page: Page, key: string): Promise<number> =>
  page.evaluate(
    (k) => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.parameter(k),
    key,
  );
/** From the opening page to the running ferry. */
export async function playFerry(page: Page): Promise<void> {
  await press(page, 'button', 'Play the ferry');
  await named(page, 'button', '1 Listen');
}
/** A thread of the page by its name; one that was ended a moment ago does not answer any more. */
export const threadOf = (page: Page, name: string): Promise<WebWorker> =>
  until(`the thread “${name}”`, async () => {
    for (const w of [...page.workers()].reverse()) {
      const is = await Promise.race([
        w.evaluate(() => self.name).catch(() => ''),
        new Promise<string>((r) => setTimeout(() => r(''), 500)),
      ]);
      if (is === name) return w;
    }
    return null;
  });

export async function textOf(page: Page, selector: string): Promise<string> {
  return page.$eval(selector, (e) => e.textContent ?? '').catch(() => '');
}

/** An overlay page's end of the bridge, without a browser: what arrives there, as it arrives. */
export class Listener {
  frames = 0;
  numbers: number[] = [];
  lastAt = 0;
  largestGapMs = 0;
  rest: number[] = [];
  /** Whether the last frame was of the dark, or of coming back from it. */
  dark = false;
  /** Events that came: show time, and how much in the parameter's unit. */
  readonly arrivals: (readonly [time: number, value: number])[] = [];
  #places: Readonly<Record<string, number>> = {};
  readonly #socket: WebSocket;
  constructor(server: Server, overlay: string) {
    this.#socket = new WebSocket(
      `ws://127.0.0.1:${server.port}/bridge?role=page&page=${encodeURIComponent(overlayPage(overlay))}&key=${server.key()}`,
    );
    this.#socket.on('error', () => undefined);
    this.#socket.on('message', (data: Buffer, binary) => {
      if (!binary) {
        const m = JSON.parse(data.toString()) as ToPage;
        if (m.type !== 'page') return;
        this.rest = [...(m.document?.rest ?? [])];
        this.#places = m.document?.map.parameters ?? {};
        return;
      }
      if (data[0] === FRAME_EVENTS) {
        for (let at = FRAME_HEAD + EVENTS_HEAD; at < data.length; at += EVENT_BYTES)
          this.arrivals.push([data.readDoubleLE(at), data.readFloatLE(at + 12)]);
        return;
      }
      this.dark = data.readFloatLE(FRAME_HEAD + 24) > 0;
      const now = performance.now();
      if (this.lastAt) this.largestGapMs = Math.max(this.largestGapMs, now - this.lastAt);
      this.lastAt = now;
      this.frames++;
      const from = FRAME_HEAD + PAGE_HEAD;
      this.numbers = Array.from({ length: (data.length - from) / 4 }, (_, i) =>
        data.readFloatLE(from + i * 4),
      );
    });
  }
  /** A parameter's number, NaN before any came. */
  number(key: string): number {
    return this.numbers[this.#places[key] ?? -1] ?? NaN;
  }
  close(): void {
    this.#socket.terminate();
  }
}

/** A microphone's sound: for each stretch, a tone's frequency (0 for silence), its seconds and its amplitude; played over and over. */
export function microphoneFile(
  stretches: readonly (readonly [hz: number, seconds: number, amplitude: number])[],
): string {
  const parts: number[] = [];
  for (const [hz, seconds, amplitude] of stretches)
    for (let i = 0; i < seconds * 48000; i++)
      parts.push(hz ? amplitude * Math.sin((2 * Math.PI * hz * i) / 48000) : 0);
  const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-mic-')), 'mic.wav');
  writeFileSync(file, writeWav([Float32Array.from(parts)], 48000, 16));
  return file;
}

/** What came over the page has come: it is quite there, and goes nowhere. */
async function settled(page: Page): Promise<void> {
  await until('what comes in has come', () =>
    page.$$eval('.MuiModal-root > *', (all) =>
      all
        .filter((e) => e.checkVisibility({ visibilityProperty: true }))
        .every((e) => getComputedStyle(e).opacity === '1' && e.getAnimations().length === 0),
    ),
  );
}
/** What keeps somebody from using a page, by axe-core: what is serious, and where. What still fades in is waited for. */
export async function faultsOf(page: Page): Promise<string[]> {
  await settled(page);
  if (!(await page.evaluate(() => 'axe' in globalThis)))
    await page.evaluate(readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8'));
  return page.evaluate(async () => {
    const { axe } = globalThis as unknown as {
      axe: {
        run(
          where: unknown,
          options: unknown,
        ): Promise<{ violations: { impact: string; id: string; nodes: { target: string[] }[] }[] }>;
      };
    };
    const { violations } = await axe.run(
      { exclude: ['iframe'] },
      { resultTypes: ['violations'], preload: false },
    );
    return violations
      .filter((x) => x.impact === 'serious' || x.impact === 'critical')
      .map((x) => `${x.id}: ${x.nodes.map((n) => n.target.join(' ')).join(' | ')}`);
  });
}
