import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { WebSocket } from 'ws';
import { BRIDGE_PROTOCOL, secondUrl, type ToSecond } from '../core/protocols';
import { Standby } from '../core/standby';
import { serverIn, until } from './outlets/testKit';
import type { RunningServer } from './server';

let server: RunningServer, folder: string, phoneKey: string;
const sockets: WebSocket[] = [];
beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-seconds-'));
  server = await serverIn(folder);
});
afterEach(async () => {
  for (const s of sockets.splice(0)) s.terminate();
  await server.close();
  rmSync(folder, { recursive: true, force: true });
});

/** A window that drives, as far as a bridge can tell; armed. */
async function drive(): Promise<WebSocket> {
  const ws = new WebSocket(`ws://127.0.0.1:${server.port}/bridge?role=driver`, {
    headers: { Origin: `http://127.0.0.1:${server.port}` },
  });
  sockets.push(ws);
  let key: string | null = null;
  ws.on('message', (d: Buffer, binary) => {
    if (binary) return;
    const said = JSON.parse(d.toString()) as { type: string; phoneKey?: string };
    if (said.type === 'welcome') key = said.phoneKey ?? '';
  });
  ws.on('open', () =>
    ws.send(JSON.stringify({ type: 'hello', protocol: BRIDGE_PROTOCOL, lease: 'lease-one', take: false })),
  );
  await until(() => key !== null);
  phoneKey = key!;
  ws.send(JSON.stringify({ type: 'outlets', version: 1, armed: true, wires: [], streams: [] }));
  return ws;
}
/** A computer that stands by, with what it was told. */
function standBy(address: string): {
  readonly told: ToSecond[];
  readonly standby: Standby;
  refused: boolean;
} {
  const second = { told: [] as ToSecond[], standby: new Standby(), refused: false },
    ws = new WebSocket(secondUrl(address)!);
  sockets.push(ws);
  ws.on('error', () => {
    second.refused = true;
  });
  ws.on('message', (d: Buffer) => {
    const said = JSON.parse(d.toString()) as ToSecond;
    second.told.push(said);
    if (said.type === 'first') second.standby.heard(said, performance.now());
  });
  return second;
}
const address = (key: string): string => `http://127.0.0.1:${server.port}/second?key=${key}`;

describe('computers that stand by', () => {
  it('are told how the show stands, also those that come later, and nobody without the key', async () => {
    const ws = await drive();
    const standing = { type: 'standing', name: 'Night Ferry', edition: '1-2', memory: { dark: true } };
    const first = standBy(address(phoneKey));
    await until(() => first.told.some((t) => t.type === 'first' && t.drives && t.armed));
    ws.send(JSON.stringify(standing));
    await until(() => first.told.some((t) => t.type === 'standing'));
    const later = standBy(address(phoneKey));
    await until(() => later.told.length > 0);
    expect(later.told[0]).toEqual(standing);
    const stranger = standBy(address('0000'));
    await until(() => stranger.refused);
    expect(stranger.told).toEqual([]);
  });
  it('drive when the window of the first stays away, and when all of it is gone, armed as it was', async () => {
    const ws = await drive(),
      { standby } = standBy(address(phoneKey));
    await until(() => standby.state === 'follows');
    ws.terminate();
    const empty = performance.now();
    await until(() => {
      standby.step(performance.now());
      return standby.state === 'drives';
    });
    expect(standby.armed).toBe(true);
    // Not before a page could have been loaded anew: four seconds, less what the last word of it was old.
    expect(performance.now() - empty).toBeGreaterThan(3000);
    await drive();
    await until(() => standby.state === 'follows');
    await server.close();
    await until(() => {
      standby.step(performance.now());
      return standby.state === 'drives';
    });
    expect(standby.armed).toBe(true);
    server = await serverIn(folder);
  });
  it('takes an address for one that the first shows, and nothing else', () => {
    expect(secondUrl('http://10.0.0.5:3000/second?key=ab c')).toBe(
      'ws://10.0.0.5:3000/bridge?role=second&key=ab%20c',
    );
    for (const bad of ['', '10.0.0.5', 'http://10.0.0.5:3000/second', 'ftp://x/?key=1', 'javascript:1?key=1'])
      expect(secondUrl(bad)).toBeNull();
  });
});
