import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { type ChildProcess, spawn } from 'node:child_process';
import { existsSync, mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { connectAsync, type MqttClient } from 'mqtt';
import { WebSocket } from 'ws';
import { overlayPage } from '../src/core/protocols';
import { BridgePlan } from '../src/engine/memory/bridgePlan';
import {
  freePort,
  playFerry,
  press,
  type Server,
  startServer,
  textOf,
  until,
  type Visit,
  visit,
} from './support';

/** Debian's broker, for the way to relays. */
const MOSQUITTO = ['/usr/sbin/mosquitto', '/usr/bin/mosquitto'].find((f) => existsSync(f));
if (!MOSQUITTO)
  console.warn('mosquitto is not here: relays are not tried. Install it: apt-get install mosquitto');

interface RelayProcess {
  readonly child: ChildProcess;
  readonly at: string;
  said(): string;
}
async function startRelay(broker: number, name: string): Promise<RelayProcess> {
  const port = await freePort(),
    child = spawn(
      process.execPath,
      [
        '.cache/server/relay.mjs',
        `mqtt://127.0.0.1:${broker}`,
        ...['--port', String(port), '--listen', '127.0.0.1', '--name', name],
      ],
      { cwd: process.cwd() },
    );
  let said = '';
  child.stdout.on('data', (d: Buffer) => (said += d.toString()));
  child.stderr.on('data', (d: Buffer) => (said += d.toString()));
  return { child, at: `http://127.0.0.1:${port}`, said: () => said };
}
function startBroker(port: number): ChildProcess {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-broker-')),
    file = path.join(folder, 'broker.conf');
  writeFileSync(file, `listener ${port} 127.0.0.1\nallow_anonymous true\npersistence false\n`);
  return spawn(MOSQUITTO!, ['-c', file], { stdio: 'ignore' });
}
const ended = (child: ChildProcess): Promise<void> =>
  new Promise((done) => {
    if (child.exitCode !== null || child.signalCode !== null) done();
    else child.once('exit', () => done());
  });

let server: Server, v: Visit;
const before = globalThis.WebSocket;
beforeAll(async () => {
  globalThis.WebSocket = WebSocket as unknown as typeof globalThis.WebSocket;
  server = await startServer({ demo: true });
  v = await visit(server.url);
  await playFerry(v.page);
  await v.page.keyboard.press('5');
  await press(v.page, 'button', 'Many pages, and other programs …');
});
afterAll(async () => {
  globalThis.WebSocket = before;
  await v?.close();
  await server?.stop();
});

describe('other programs on this machine', () => {
  it('read signals by name with the key, and nothing without it; nobody but Batucada publishes', async () => {
    const dialog = '[role=dialog]',
      words = await until('the broker', async () => {
        const text = await textOf(v.page, dialog);
        return /mqtt:\/\/127\.0\.0\.1:\d+/.test(text) ? text : null;
      }),
      address = /mqtt:\/\/127\.0\.0\.1:\d+/.exec(words)![0],
      house = /batucada\/([0-9a-z]+)/.exec(words)![1]!,
      key = await v.page.$$eval('[role=dialog] code', (all) => all.at(-1)!.textContent);
    await expect(
      connectAsync(address, { username: 'x', password: 'wrong', protocolVersion: 4 }, false),
    ).rejects.toThrow();
    await v.page.select('[aria-label="Publish a signal"]', 'deck-level');
    await until('it chosen', async () => (await textOf(v.page, dialog)).includes('Deck · level ×'));
    const client: MqttClient = await connectAsync(address, {
        username: 'x',
        password: key,
        protocolVersion: 4,
      }),
      heard: number[] = [];
    client.on('message', (topic, payload) => {
      if (topic === `batucada/${house}/signal/Deck · level`) heard.push(Number(payload.toString()));
    });
    await client.subscribeAsync(`batucada/${house}/signal/#`);
    await until('its values', () => heard.length > 20);
    expect(heard.every((x) => Number.isFinite(x) && x >= 0 && x < 2)).toBe(true);
    expect(new Set(heard).size).toBeGreaterThan(10);
    // What somebody else says is nobody's business: they are shut out.
    const shut = new Promise((done) => client.once('close', () => done(true)));
    client.publish(`batucada/${house}/state`, '{}');
    expect(await shut).toBe(true);
    await client.endAsync(true);
  });
});

(MOSQUITTO ? describe : describe.skip)('pages by way of a broker', () => {
  let port: number, broker: ChildProcess, hill: RelayProcess, pier: RelayProcess;
  beforeAll(async () => {
    port = await freePort();
    broker = startBroker(port);
    await v.page.type('[aria-label="Address of the broker"]', `mqtt://127.0.0.1:${port}`);
    await v.page.keyboard.press('Enter');
    hill = await startRelay(port, 'hill');
    pier = await startRelay(port, 'pier');
  });
  afterAll(async () => {
    for (const { child } of [hill, pier].filter(Boolean)) child.kill();
    broker?.kill();
  });

  it('come from any relay with its key; one that dies is only its pages’ trouble, and they find another', async () => {
    const address = await until('addresses', () => /http:\S+overlay\/frame\?key=(\S+)/.exec(hill.said())),
      key = address[1]!;
    await until('addresses of the other', () => pier.said().includes('overlay/frame'));
    await until('both known', async () => {
      const text = await textOf(v.page, '[role=dialog]');
      return text.includes('hill') && text.includes('pier');
    });
    // Plain http, in words where something is wrong.
    const wrong = await fetch(`${hill.at}/overlay/frame?key=nope`);
    expect([wrong.status, await wrong.text()]).toEqual([
      403,
      'This page needs its key. Copy its whole address again.',
    ]);
    const page = await fetch(address[0]);
    expect([page.status, page.headers.get('content-type')]).toEqual([200, 'text/html; charset=utf-8']);

    const url = (relay: RelayProcess): string =>
      `${relay.at.replace('http', 'ws')}/bridge?role=page&page=${encodeURIComponent(overlayPage('frame'))}&key=${key}`;
    const plan = new BridgePlan<'overlays' | 'figures'>(url(hill), () => undefined);
    /** How many frames have come; what goes to rest by itself is none. */
    let from = 0;
    const count = (): number => {
      plan.frames?.read();
      return (plan.frames?.tick ?? 0) - from;
    };
    await until('numbers by the first', () => count() > 10);
    expect(plan.show!.figures.some((f) => f.id === 'frame-edge')).toBe(true);
    const file = plan.show!.figures.flatMap((f) =>
      f.form.kind === 'image' && f.form.media ? [f.form.media] : [],
    )[0]!;
    const media = await fetch(`${hill.at}/media/${file}?key=${key}`);
    expect([media.status, media.headers.get('content-type')]).toEqual([200, 'image/svg+xml']);

    hill.child.kill('SIGKILL');
    await ended(hill.child);
    await until('it gone', () => !plan.live || (count(), false));
    from += count();
    await until('numbers by the other', () => count() > 10);
    expect(plan.live).toBe(true);

    // The broker goes, and comes back: the show goes on, and so do its pages.
    broker.kill('SIGKILL');
    await ended(broker);
    await until('it said', async () =>
      (await textOf(v.page, '[role=dialog]')).includes('away, and tried again; the show goes on'),
    );
    await until('the page to know', () => (count(), !plan.live));
    broker = startBroker(port);
    from += count();
    await until('numbers again', () => count() > 10);
    await until(
      'nobody away',
      async () => !(await textOf(v.page, '[role=dialog]')).includes('away, and tried'),
    );
    plan.leave();
  });
});
