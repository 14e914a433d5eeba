import { createSocket, type Socket } from 'node:dgram';
import type { Browser, Page } from 'puppeteer-core';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { emptyShow } from '../src/core/ferry/show';
import { EMPTY_MEMORY, type Show, type Wire } from '../src/core/show/types';
import { writeShowFile } from '../src/data/showFile';
import { openShowFile, type Server, until } from './support';

/** What lamps do when something fails, by real means, as a node on the network sees it. */

/** A node on UDP: what came, when, and with what in it. */
export class Node {
  /** Time and first channel of every packet of its universe. */
  seen: { readonly at: number; readonly level: number; readonly shutter: number }[] = [];
  #socket: Socket | null = null;
  port = 0;

  async open(port = 0): Promise<void> {
    const socket = createSocket('udp4');
    socket.on('message', (m) => {
      if (m.readUInt16LE(8) === 0x5000)
        this.seen.push({ at: performance.now(), level: m[18]!, shutter: m[18 + SHUTTER]! });
    });
    await new Promise<void>((done) => socket.bind(port, '127.0.0.1', done));
    this.#socket = socket;
    this.port = socket.address().port;
  }
  close(): void {
    this.#socket?.close();
    this.#socket = null;
  }
  get last(): { readonly at: number; readonly level: number; readonly shutter: number } | undefined {
    return this.seen.at(-1);
  }
  /** What was seen is not looked at again. */
  forget(): void {
    this.seen = [];
  }
  since(at: number): readonly { readonly at: number; readonly level: number }[] {
    return this.seen.filter((p) => p.at >= at);
  }
}
/** The strobe stands behind the first lamp; its shutter is its first channel but one. */
const STROBE_AT = 10,
  SHUTTER = STROBE_AT - 1;
/** Without a show the lamps fade out within this, after so long. */
const AFTER_MS = 600,
  OVER_MS = 300;

/** A wire that goes to a node on loopback. */
export const wireTo = (port: number, more: Pick<Wire, 'rate' | 'keepAlive' | 'safe'>): Wire => ({
  id: 'wire-1',
  name: 'Wire',
  protocol: 'artnet',
  universes: null,
  target: { kind: 'network', host: '127.0.0.1', port },
  priority: 100,
  sync: false,
  ...more,
});
/** A lamp that is lit and a strobe that flashes, sent to a node on loopback. */
function faultShow(port: number): Show {
  return {
    ...emptyShow('lamp-faults', 'Lamp faults'),
    fixtures: [
      { id: 'a', name: 'A', mode: 'rgb', universe: 0, address: 1, rest: { dimmer: 100, colour: '#ffffff' } },
      {
        id: 's',
        name: 'S',
        mode: 'strobe',
        universe: 0,
        address: STROBE_AT,
        rest: { dimmer: 100, strobe: 2 },
      },
    ],
    wires: [
      wireTo(port, { rate: 40, keepAlive: 400, safe: { then: 'dark', afterMs: AFTER_MS, overMs: OVER_MS } }),
    ],
  };
}

/** One fault: what it took, in ms, and the brightest that was sent after the lamps had come to rest. */
export interface LampFault {
  readonly fault: string;
  /** Until the lamps were safe: out, or held. */
  readonly safeMs: number;
  /** From the remedy until they were lit again. */
  readonly backMs: number;
  /** Packets that were neither what was on, nor on its way to rest. */
  readonly wrong: number;
}

const lit = (node: Node): boolean => node.last?.level === 255;

/** As a file that is opened, so that it is there again for the next page. */
export async function openFaultShow(page: Page, node: Node): Promise<void> {
  const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-faults-')), 'faults.batucada'),
    blob = await writeShowFile({ show: faultShow(node.port), memory: EMPTY_MEMORY, media: [] });
  writeFileSync(file, new Uint8Array(await blob.arrayBuffer()));
  await openShowFile(page, file);
  await until('lamps that are lit', () => lit(node));
}

/** The page crashes: lamps hold, fade out as their wire says, and come back with the next page. */
export async function pageCrashes(browser: Browser, page: Page, url: string, node: Node): Promise<LampFault> {
  const from = performance.now();
  await page.goto('chrome://crash').catch(() => undefined);
  const dark = await until('dark lamps', () => node.since(from).find((p) => p.level === 0));
  const after = node.since(from);
  // It may only fall, once it falls; before that it is what was on.
  const wrong = after.filter((p, i) => i > 0 && p.level > after[i - 1]!.level).length;
  const back = performance.now(),
    next = await browser.newPage();
  await next.goto(url, { waitUntil: 'load' });
  await until('lamps that are lit again', () => lit(node));
  return { fault: 'page crashed', safeMs: dark.at - from, backMs: performance.now() - back, wrong };
}

/** The server is killed outright: whoever keeps it starts it again, and what was on is on. */
export async function serverDies(server: Server, node: Node): Promise<LampFault> {
  const from = performance.now();
  process.kill(server.pid(), 'SIGKILL');
  const first = await until('packets again', () => node.since(from + 60)[0]);
  const on = await until('what was on', () => node.since(from + 60).find((p) => p.level === 255));
  return {
    fault: 'server killed',
    safeMs: 0,
    backMs: on.at - from,
    wrong:
      node.since(from + 60).filter((p) => p.at < on.at && p.level !== 255).length +
      (first.level === 255 ? 0 : 1),
  };
}

/** The node is gone for a while, and back at the same place. */
export async function nodeGoes(node: Node): Promise<LampFault> {
  const { port } = node;
  node.close();
  await new Promise((done) => setTimeout(done, 1500));
  const back = performance.now();
  await node.open(port);
  const first = await until('packets again', () => node.since(back)[0]);
  return {
    fault: 'receiver gone and back',
    safeMs: 0,
    backMs: first.at - back,
    wrong: first.level === 255 ? 0 : 1,
  };
}

/** Everything stands still, as when a machine sleeps, and goes on. */
export async function machineSleeps(server: Server, browser: Browser, node: Node): Promise<LampFault> {
  const pids = [server.pid(), browser.process()!.pid!];
  for (const pid of pids) process.kill(pid, 'SIGSTOP');
  const asleep = performance.now();
  await new Promise((done) => setTimeout(done, 2500));
  const during = node.since(asleep + 100).length;
  const woke = performance.now();
  for (const pid of pids) process.kill(pid, 'SIGCONT');
  const on = await until('what was on', () => node.since(woke).find((p) => p.level === 255));
  return { fault: 'machine asleep and awake', safeMs: 0, backMs: on.at - woke, wrong: during };
}

/** The page stands still: whatever flashes is calm within about a second, whatever the lamps do. */
export async function pageHangs(page: Page, node: Node): Promise<LampFault> {
  const session = await page.createCDPSession();
  await until('a strobe that flashes', () => (node.last?.shutter ?? 0) > 40);
  const from = performance.now();
  // All of its threads: the debugger pauses the page, and the process is stopped by the system.
  const pid = await rendererOf(page);
  process.kill(pid, 'SIGSTOP');
  const calm = await until('a calm strobe', () => node.seen.find((p) => p.at > from && p.shutter <= 40));
  await until('dark lamps', () => node.last?.level === 0);
  const back = performance.now();
  process.kill(pid, 'SIGCONT');
  await until('lamps that are lit again', () => lit(node));
  await session.detach();
  return {
    fault: 'page stopped: strobe calm',
    safeMs: calm.at - from,
    backMs: performance.now() - back,
    wrong: 0,
  };
}
/** The process of the page. */
export async function rendererOf(page: Page): Promise<number> {
  const session = await page.browser().target().createCDPSession();
  const { processInfo } = await session.send('SystemInfo.getProcessInfo');
  await session.detach();
  const busiest = processInfo.filter((p) => p.type === 'renderer').sort((a, b) => b.cpuTime - a.cpuTime)[0];
  return busiest!.id;
}
