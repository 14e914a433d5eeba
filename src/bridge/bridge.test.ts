import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { WebSocket } from 'ws';
import {
  ARRIVAL_BYTES,
  BRIDGE_PROTOCOL,
  DMX_FRAME_BYTES,
  FRAME_ARRIVALS,
  FRAME_DMX,
  FRAME_OVERLAY,
  FRAME_RECEIVED,
  OVERLAY_HEAD,
  type OverlayPage,
} from '../core/protocols/bridge';
import { startServer, type RunningServer } from './server';

let server: RunningServer;
let folder: string;
const sockets: WebSocket[] = [];
beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-bridge-'));
  server = await startServer({
    port: 0,
    listen: '127.0.0.1',
    artnetPort: 0,
    oscPort: 0,
    folder,
    pages: null,
  });
});
afterEach(async () => {
  for (const s of sockets.splice(0)) s.terminate();
  await server.close();
  rmSync(folder, { recursive: true, force: true });
});

interface Peer {
  readonly socket: WebSocket;
  readonly texts: Record<string, unknown>[];
  readonly frames: Buffer[];
  closed: number | null;
}
function connect(query: string, headers: Record<string, string> = {}): Promise<Peer> {
  return new Promise((resolve, reject) => {
    const socket = new WebSocket(`ws://127.0.0.1:${server.port}/bridge?${query}`, {
      headers: { Origin: `http://127.0.0.1:${server.port}`, ...headers },
    });
    sockets.push(socket);
    const peer: Peer = { socket, texts: [], frames: [], closed: null };
    socket.on('message', (d: Buffer, binary) => {
      if (binary) peer.frames.push(d);
      else peer.texts.push(JSON.parse(d.toString()) as Record<string, unknown>);
    });
    socket.on('open', () => resolve(peer));
    socket.on('close', (code) => {
      peer.closed = code;
    });
    socket.on('error', reject);
  });
}
async function until(what: () => boolean): Promise<void> {
  const end = Date.now() + 6000;
  while (!what()) {
    if (Date.now() > end) throw new Error(`waited for ${what}`);
    await new Promise((r) => setTimeout(r, 3));
  }
}
const say = (p: Peer, message: object): void => p.socket.send(JSON.stringify(message));
const heard = (p: Peer, type: string): boolean => p.texts.some((t) => t.type === type);
async function driver(lease = 'lease-one', take = false): Promise<Peer> {
  const p = await connect('role=driver');
  say(p, { type: 'hello', protocol: BRIDGE_PROTOCOL, lease, take });
  await until(() => heard(p, 'welcome') || heard(p, 'busy'));
  return p;
}
const overlay = (id: string, badge: string | null = null): OverlayPage => ({
  id,
  name: id,
  kind: 'frame',
  badge,
  parameters: [
    { id: 'swell', rest: [0] },
    { id: 'ink', rest: [1, 1, 1] },
  ],
});
function overlayFrame(version: number, numbers: number[]): Buffer {
  const b = Buffer.alloc(16 + 4 * numbers.length);
  b[0] = FRAME_OVERLAY;
  b.writeUInt32LE(version, 4);
  numbers.forEach((x, i) => b.writeFloatLE(x, 16 + 4 * i));
  return b;
}

describe('who may connect', () => {
  it("a driver only from this server's own page; a page by a name of this machine or with the key", async () => {
    await expect(connect('role=driver', { Origin: 'http://evil.test' })).rejects.toThrow('403');
    await expect(
      connect('role=driver', { Host: `evil.test:${server.port}`, Origin: `http://evil.test:${server.port}` }),
    ).rejects.toThrow('403');
    await expect(
      connect('role=page&overlay=a', {
        Host: `stream.test:${server.port}`,
        Origin: `http://stream.test:${server.port}`,
      }),
    ).rejects.toThrow('403');
    await expect(connect('role=other')).rejects.toThrow('403');
    await connect('role=page&overlay=a');
    await connect(`role=page&overlay=a&key=${server.held.key}`, {
      Host: `stream.test:${server.port}`,
      Origin: `http://stream.test:${server.port}`,
    });
  });
  it('other names are redirected or refused over HTTP', async () => {
    const get = (host: string, where = '/'): Promise<{ status: number; location: string | null }> =>
      new Promise((resolve, reject) => {
        void import('node:http').then(({ get: ask }) =>
          ask({ host: '127.0.0.1', port: server.port, path: where, headers: { Host: host } }, (r) => {
            r.resume();
            resolve({ status: r.statusCode!, location: r.headers.location ?? null });
          }).on('error', reject),
        );
      });
    expect(await get(`localhost:${server.port}`, '/?x=1')).toEqual({
      status: 308,
      location: `http://127.0.0.1:${server.port}/?x=1`,
    });
    expect((await get(`evil.test:${server.port}`)).status).toBe(403);
    expect((await get(`evil.test:${server.port}`, '/media/x')).status).toBe(403);
    expect((await get('a b')).status).toBe(400);
  });
});

describe('one driver at a time', () => {
  it('a second is told so; the same lease returns at once; taking over works', async () => {
    const first = await driver('lease-one');
    const second = await driver('lease-two');
    expect(heard(second, 'busy')).toBe(true);
    first.socket.close();
    await until(() => first.closed !== null);
    expect(heard(await driver('lease-one'), 'welcome')).toBe(true);
    const taker = await driver('lease-two', true);
    expect(heard(taker, 'welcome')).toBe(true);
  });
  it('frames of one who does not drive move nothing', async () => {
    const first = await driver('lease-one');
    say(first, {
      type: 'wires',
      armed: false,
      wires: [{ id: 'w', target: { kind: 'simulated' }, rate: 40, keepAlive: 800 }],
    });
    const second = await driver('lease-two');
    const frame = Buffer.alloc(DMX_FRAME_BYTES, 255);
    frame[0] = FRAME_DMX;
    frame[1] = 0;
    frame.writeUInt16LE(0, 2);
    second.socket.send(frame);
    second.socket.send(frame);
    const good = Buffer.from(frame);
    good.fill(7, 12);
    first.socket.send(good);
    await until(() => first.frames.some((f) => f[0] === FRAME_RECEIVED));
    expect(server.bridge.receiver.universes.get(0)!.channels[0]).toBe(7);
  });
});

describe('what a driver says', () => {
  it.each([
    ['not JSON', '{"type":'],
    ['of no known kind', '{"type":"fly"}'],
    [
      'out of range',
      '{"type":"wires","armed":false,"wires":[{"id":"w","rate":9000,"keepAlive":800,"target":{"kind":"simulated"}}]}',
    ],
    ['with extras', '{"type":"hello","protocol":1,"lease":"lease-one","take":false,"x":1}'],
    ['null', 'null'],
  ])('%s is refused in words, and the bridge goes on', async (_, text) => {
    const p = await driver();
    p.socket.send(text);
    await until(() => heard(p, 'refused'));
    expect(p.socket.readyState).toBe(WebSocket.OPEN);
  });
  it('too many messages end the connection; binary rubbish does not', async () => {
    const p = await driver();
    for (const junk of [Buffer.alloc(0), Buffer.alloc(3, 1), Buffer.alloc(1000, 9)]) p.socket.send(junk);
    say(p, { type: 'overlays', version: 1, overlays: [] });
    await until(() => server.held.version === 1);
    // Such as are quickly read: a slow machine must not earn them time.
    for (let i = 0; i < 2000; i++) p.socket.send('{}');
    await until(() => p.closed === 1008);
  });
});

describe('overlay pages', () => {
  it('get a thousand hits, each with its time and strength, though values come as seldom as they like', async () => {
    const page = await connect('role=page&overlay=b');
    const p = await driver();
    say(p, { type: 'overlays', version: 7, overlays: [overlay('a'), overlay('b')] });
    await until(() => page.texts.at(-1)?.version === 7);
    for (let i = 0; i < 1000; i += 4) {
      const b = Buffer.alloc(OVERLAY_HEAD + 4 * ARRIVAL_BYTES);
      b[0] = FRAME_ARRIVALS;
      b.writeUInt32LE(7, 4);
      for (let k = 0; k < 4; k++) {
        b.writeDoubleLE((i + k) / 100, OVERLAY_HEAD + k * ARRIVAL_BYTES);
        b.writeUInt32LE(4, OVERLAY_HEAD + k * ARRIVAL_BYTES + 8);
        b.writeFloatLE((i + k) / 10, OVERLAY_HEAD + k * ARRIVAL_BYTES + 12);
      }
      p.socket.send(b);
    }
    const old = Buffer.alloc(OVERLAY_HEAD + ARRIVAL_BYTES);
    old[0] = FRAME_ARRIVALS;
    old.writeUInt32LE(6, 4);
    p.socket.send(old); // of an older document
    p.socket.send(overlayFrame(7, [1, 1, 1, 1, 44, 0.5, 0.25, 0.125]));
    await until(() => page.frames.some((f) => f[0] === FRAME_OVERLAY));
    const got = page.frames
      .filter((f) => f[0] === FRAME_ARRIVALS)
      .flatMap((f) =>
        Array.from({ length: (f.length - OVERLAY_HEAD) / ARRIVAL_BYTES }, (_, k) => [
          f.readDoubleLE(OVERLAY_HEAD + k * ARRIVAL_BYTES),
          f.readFloatLE(OVERLAY_HEAD + k * ARRIVAL_BYTES + 12),
        ]),
      );
    expect(got).toEqual(Array.from({ length: 1000 }, (_, i) => [i / 100, Math.fround(i / 10)]));
  });
  it('opened first, late, or after a restart show the right thing', async () => {
    const early = await connect('role=page&overlay=b');
    await until(() => early.texts.length === 1);
    expect(early.texts[0]).toMatchObject({ overlay: null, live: false });
    const p = await driver();
    say(p, { type: 'overlays', version: 7, overlays: [overlay('a'), overlay('b')] });
    await until(() => early.texts.at(-1)?.version === 7);
    expect(early.texts.at(-1)).toMatchObject({ at: 4, live: true }); // after the four numbers of overlay a
    p.socket.send(overlayFrame(6, [9, 9, 9, 9, 9, 9, 9, 9])); // of an older document: not for this table
    p.socket.send(overlayFrame(7, [1, 1, 1, 1, 44, 0.5, 0.25, 0.125]));
    await until(() => early.frames.length === 1);
    expect(early.frames[0]!.readFloatLE(16 + 4 * 4)).toBe(44);
    const late = await connect('role=page&overlay=a');
    await until(() => late.frames.length === 1);
    expect(late.frames[0]!.readFloatLE(16)).toBe(1);

    const { key } = server.held;
    await server.close();
    server = await startServer({
      port: 0,
      listen: '127.0.0.1',
      artnetPort: 0,
      oscPort: 0,
      folder,
      pages: null,
    });
    expect(server.held.key).toBe(key); // addresses that were given out stay good
    const after = await connect('role=page&overlay=b');
    await until(() => after.texts.length === 1);
    expect(after.texts[0]).toMatchObject({ overlay: { id: 'b' }, live: false });
  });
});

describe('images', () => {
  const png = Buffer.from('89504e470d0a1a0a0000', 'hex');
  const hash = createHash('sha256').update(png).digest('hex');
  const put = (at: string, body: Buffer, headers: Record<string, string> = {}): Promise<Response> =>
    fetch(`http://127.0.0.1:${server.port}/media/${at}`, {
      method: 'PUT',
      body: new Uint8Array(body),
      headers: { Origin: `http://127.0.0.1:${server.port}`, 'Content-Type': 'image/png', ...headers },
    });
  it('are asked for, taken by their hash, and served where nothing in them can run', async () => {
    const p = await driver();
    say(p, { type: 'overlays', version: 1, overlays: [overlay('a', hash)] });
    await until(() => heard(p, 'need'));
    expect(p.texts.find((t) => t.type === 'need')).toMatchObject({ media: [hash] });
    expect((await put(hash, png)).status).toBe(204);
    const got = await fetch(`http://127.0.0.1:${server.port}/media/${hash}`);
    expect(Buffer.from(await got.arrayBuffer())).toEqual(png);
    expect(got.headers.get('content-security-policy')).toContain('sandbox');
    expect(server.held.missing()).toEqual([]);
  });
  it('are refused when they are not what their hash says, no images, or from elsewhere', async () => {
    expect((await put('b'.repeat(64), png)).status).toBe(400);
    expect((await put('../../etc', png)).status).not.toBe(204);
    expect((await put(hash, png, { 'Content-Type': 'text/html' })).status).toBe(415);
    expect((await put(hash, png, { Origin: 'http://evil.test' })).status).toBe(403);
    expect((await fetch(`http://127.0.0.1:${server.port}/media/${hash}`)).status).toBe(404);
  });
});

describe('numbers over the network', () => {
  const message = (address: string, value: number): Buffer => {
    const head = Buffer.alloc(Math.ceil((address.length + 1) / 4) * 4),
      number = Buffer.alloc(4);
    head.write(address, 'latin1');
    number.writeFloatBE(value);
    return Buffer.concat([head, Buffer.from(',f\0\0', 'latin1'), number]);
  };
  async function send(packets: readonly Buffer[]): Promise<void> {
    const socket = createSocket('udp4');
    for (const p of packets)
      await new Promise<void>((done) =>
        socket.send(p, server.bridge.osc.port, server.bridge.osc.host, () => done()),
      );
    socket.close();
  }
  const told = (p: Peer): [unknown, unknown][] =>
    p.texts.filter((t) => t.type === 'osc').map((t) => [t.address, t.value]);
  it('reach the driver by their addresses, the latest of each, and nobody else', async () => {
    const page = await connect('role=page&overlay=a'),
      p = await driver();
    await send(
      Array.from({ length: 100 }, (_, i) => message('/deck/fader', i / 100)).concat(message('/deck/pad', 1)),
    );
    await until(
      () =>
        told(p).some(([a]) => a === '/deck/pad') &&
        told(p).some(([a, v]) => a === '/deck/fader' && Math.abs((v as number) - 0.99) < 1e-6),
    );
    expect(told(p).length).toBeLessThanOrEqual(101);
    expect(told(page)).toEqual([]);
  });
  it('rubbish is counted and passed over', async () => {
    const p = await driver();
    await send([Buffer.from('hello'), Buffer.alloc(0), message('/deck/pad', NaN), message('/good', 0.5)]);
    await until(() => told(p).length === 1);
    expect(told(p)).toEqual([['/good', 0.5]]);
    expect(server.bridge.osc.bad).toBeGreaterThanOrEqual(1);
  });
});
