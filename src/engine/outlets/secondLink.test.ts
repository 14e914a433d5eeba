import { afterAll, afterEach, beforeAll, describe, expect, it } from '@jest/globals';
import type { AddressInfo } from 'node:net';
import { WebSocket, WebSocketServer } from 'ws';
import type { Standing, ToSecond } from '../../core/protocols';
import { SecondLink, type StandbyReport } from './secondLink';

let first: WebSocketServer | null = null,
  link: SecondLink | null = null;
const before = (globalThis as { WebSocket?: unknown }).WebSocket;
beforeAll(() => {
  (globalThis as { WebSocket?: unknown }).WebSocket = WebSocket;
});
afterEach(() => {
  link?.close();
  for (const ws of first?.clients ?? []) ws.terminate();
  first?.close();
});
afterAll(() => {
  (globalThis as { WebSocket?: unknown }).WebSocket = before;
});

async function until(what: () => boolean): Promise<void> {
  const end = performance.now() + 10000;
  while (!what()) {
    if (performance.now() > end) throw new Error(`waited for ${what}`);
    await new Promise((r) => setTimeout(r, 5));
  }
}
/** A first computer that speaks as a bridge does, on a free port. */
async function speak(): Promise<{ readonly url: string; silence(): void }> {
  const server = new WebSocketServer({ port: 0, host: '127.0.0.1' });
  first = server;
  await new Promise((done) => server.once('listening', done));
  const tell = (message: ToSecond): void => {
    for (const ws of server.clients) ws.send(JSON.stringify(message));
  };
  const standing: Standing = { type: 'standing', name: 'Night Ferry', edition: 'e', memory: {} };
  server.on('connection', (ws) => ws.send(JSON.stringify(standing)));
  const timer = setInterval(() => tell({ type: 'first', drives: true, armed: true }), 50);
  return {
    url: `ws://127.0.0.1:${(server.address() as AddressInfo).port}`,
    silence: () => clearInterval(timer),
  };
}
function listen(url: string, drove: { armed: boolean } | null = null) {
  const seen = { armed: [] as boolean[], standings: 0, report: null as StandbyReport | null };
  link = new SecondLink(url, drove, {
    arm: (armed) => seen.armed.push(armed),
    standing: () => seen.standings++,
    report: (report) => (seen.report = report),
  });
  return seen;
}

describe('the link of a second computer', () => {
  it('sends nothing and lets nobody arm it while the first drives; takes over, armed, when that is silent', async () => {
    const { url, silence } = await speak(),
      seen = listen(url);
    // Whatever was armed before is not any more.
    expect(seen.armed).toEqual([false]);
    expect(link!.mayArm).toBe(false);
    await until(() => seen.report?.state === 'follows');
    expect([link!.mayArm, seen.standings, seen.armed.includes(true)]).toEqual([false, 1, false]);
    silence();
    await until(() => seen.report?.state === 'drives');
    expect([link!.mayArm, seen.armed.at(-1), seen.report?.armed]).toEqual([true, true, true]);
  });
  it('started anew while it drove, drives on where nobody is heard', async () => {
    const { url, silence } = await speak();
    silence();
    const seen = listen(url, { armed: true });
    await until(() => seen.report?.state === 'drives');
    expect(seen.armed).toEqual([false, true]);
  });
});
