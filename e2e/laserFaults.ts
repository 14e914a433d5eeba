import type { Browser, Page } from 'puppeteer-core';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { Projector } from '../src/bridge/simulated/projector';
import { USUAL_LASER } from '../src/core/laser';
import { rendererOf } from './lampFaults';
import { armLaser } from './laserStage';
import { named, type Server, threadOf, until } from './support';

/** What a laser does when something fails, by real means, as a projector on the network sees it. */

/** A projector in this process, to which the server's laser is sent from now on; as if it had been set behind its lock. */
export async function ownProjector(server: Server): Promise<Projector> {
  const projector = await Projector.open(0),
    file = path.join(server.folder, 'bridge.json'),
    saved = JSON.parse(readFileSync(file, 'utf8')) as Record<string, unknown>;
  const to = { kind: 'network', host: projector.host, port: projector.port } as const;
  writeFileSync(file, JSON.stringify({ ...saved, laser: { setting: { ...USUAL_LASER, to }, lock: null } }));
  await serverAgain(server);
  await served(server);
  return projector;
}
/** The server is killed outright, and there again. */
export async function serverAgain(server: Server): Promise<void> {
  const pid = server.pid();
  process.kill(pid, 'SIGKILL');
  await until('another server', () => {
    try {
      return server.pid() !== pid;
    } catch {
      return false;
    }
  });
}
/** Its pages are served a moment later. */
const served = (server: Server): Promise<true> =>
  until('its pages', () =>
    fetch(server.url, { signal: AbortSignal.timeout(5000) }).then(
      (r) => r.ok || null,
      () => null,
    ),
  );

/** One fault: from it to the last lit point, in ms (less than 0: it was dark by then), and points that were lit later on. */
export interface LaserFault {
  readonly fault: string;
  readonly darkMs: number;
  readonly litLater: number;
}
const LATER_MS = 400;
/** Light just now: a machine that is held up may have had it dark before the fault, which proves nothing. It is seen as it comes, so that the fault follows it at once. */
async function litNow(page: Page, projector: Projector): Promise<void> {
  await until('light at the projector', async () => {
    await armLaser(page);
    const from = performance.now();
    return until('a lit point', () => projector.litAt > from, 1000).catch(() => false);
  });
}
async function after(projector: Projector, fault: string, from: number): Promise<LaserFault> {
  await new Promise((r) => setTimeout(r, LATER_MS));
  const last = projector.litAt;
  await new Promise((r) => setTimeout(r, LATER_MS));
  return {
    fault,
    darkMs: last - from,
    litLater: projector.seen.filter((p) => p.at > last && p.r + p.g + p.b > 0).length,
  };
}

/** The thread that makes its points stands still. */
export async function pointsStop(page: Page, projector: Projector): Promise<LaserFault> {
  const worker = await threadOf(page, 'outlets');
  await litNow(page, projector);
  const from = performance.now();
  void worker
    .evaluate(() => {
      for (;;);
    })
    .catch(() => undefined);
  const seen = await after(projector, 'thread of its points stopped', from);
  // The thread is started again, and the window drives again.
  await until('it to be told', async () => (await named(page, 'button', 'make ready')) !== null);
  return seen;
}
/** The server stands still for a while, as when a machine is put to sleep, and goes on. */
export async function serverSleeps(page: Page, server: Server, projector: Projector): Promise<LaserFault> {
  await litNow(page, projector);
  const from = performance.now();
  process.kill(server.pid(), 'SIGSTOP');
  await new Promise((r) => setTimeout(r, 300));
  process.kill(server.pid(), 'SIGCONT');
  return after(projector, 'server stopped and gone on', from);
}
export async function serverKilled(page: Page, server: Server, projector: Projector): Promise<LaserFault> {
  await litNow(page, projector);
  const from = performance.now();
  await serverAgain(server);
  return after(projector, 'server killed', from);
}
/** The page crashes; the next one opens in its place. */
export async function pageCrashed(
  browser: Browser,
  page: Page,
  url: string,
  projector: Projector,
): Promise<LaserFault> {
  const pid = await rendererOf(page);
  await litNow(page, projector);
  const from = performance.now();
  process.kill(pid, 'SIGKILL');
  const seen = await after(projector, 'page crashed', from),
    next = await browser.newPage();
  await next.goto(url, { waitUntil: 'load' });
  await named(next, 'button', '1 Listen');
  await new Promise((r) => setTimeout(r, LATER_MS));
  return {
    ...seen,
    litLater: seen.litLater + projector.seen.filter((p) => p.at > from + 200 && p.g > 0).length,
  };
}
