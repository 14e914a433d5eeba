import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { createSocket } from 'node:dgram';
import { mkdtempSync, rmSync } from 'node:fs';
import { connect as netConnect } from 'node:net';
import os, { networkInterfaces } from 'node:os';
import path from 'node:path';
import type { StreamDeclaration } from '../core/outlets';
import { WebSocket } from 'ws';
import {
  PAGE_PROTOCOL,
  BRIDGE_PROTOCOL,
  EVENT_BYTES,
  EVENTS_HEAD,
  FRAME_EVENTS,
  FRAME_HEAD,
  FRAME_RECEIVED,
  FRAME_VALUE,
  PAGE_HEAD,
  type PageDocument,
  writeHead,
} from '../core/protocols';
import { serverIn } from './outlets/testKit';
import { startServer, type RunningServer } from './server';

let server: RunningServer;
let folder: string;
const sockets: WebSocket[] = [];
beforeEach(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-bridge-'));
  server = await serverIn(folder);
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
  const end = Date.now() + 30000;
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
const documentOf = (id: string, version: number, media: readonly string[] = []): PageDocument => ({
  id: `overlay/${id}`,
  version,
  show: { overlays: [{ id }] },
  map: { parameters: { [`${id}/swell`]: 0, [`${id}/ink`]: 1 }, vectors: {} },
  numbers: 4,
  points: 0,
  rest: [0, 1, 1, 1],
  media,
  kept: true,
});
const WIRE = { id: 'w', protocol: 'artnet', target: { kind: 'simulated' }, priority: 100, sync: false };
const LAMPS: StreamDeclaration = {
  id: 'lamps w 0',
  to: { kind: 'wire', wire: 'w', universe: 0 },
  size: 512,
  mostPerSecond: 40,
  mode: 'latest',
  keepAlive: 800,
  safe: { then: 'hold' },
  rest: null,
  fates: null,
  calm: null,
};
const numbersOf = (id: string): StreamDeclaration => ({
  ...LAMPS,
  id: `page overlay/${id}`,
  to: { kind: 'page', page: `overlay/${id}` },
  size: PAGE_HEAD + 16,
  keepAlive: null,
});
const eventsOf = (id: string): StreamDeclaration => ({
  ...numbersOf(id),
  id: `events ${id}`,
  size: EVENTS_HEAD + 4 * EVENT_BYTES,
  mode: 'ordered',
});
/** Two overlays and a universe: streams 0 to 4. The overlays' documents bear the same version. */
const declare = (p: Peer, version: number, change: object = {}): void => {
  say(p, {
    type: 'outlets',
    version,
    armed: false,
    wires: [WIRE],
    streams: [numbersOf('a'), numbersOf('b'), eventsOf('a'), eventsOf('b'), LAMPS],
    ...change,
  });
  say(p, {
    type: 'pages',
    all: ['overlay/a', 'overlay/b'],
    documents: [documentOf('a', version), documentOf('b', version)],
  });
};
const versionOf = (p: Peer): unknown => (p.texts.at(-1)?.document as PageDocument | null)?.version;
function frame(kind: number, place: number, version: number, value: Uint8Array): Buffer {
  const b = Buffer.alloc(FRAME_HEAD + value.length);
  writeHead(new DataView(b.buffer, b.byteOffset), kind, place, version, 1);
  b.set(value, FRAME_HEAD);
  return b;
}
const FIRST_NUMBER = FRAME_HEAD + PAGE_HEAD;
const overlayFrame = (place: number, version: number, numbers: number[]): Buffer =>
  frame(
    FRAME_VALUE,
    place,
    version,
    Buffer.concat([Buffer.alloc(PAGE_HEAD), Buffer.from(Float32Array.from(numbers).buffer)]),
  );

describe('who may connect', () => {
  it("a driver only from this server's own page; a page by a name of this machine or with the key", async () => {
    await expect(connect('role=driver', { Origin: 'http://evil.test' })).rejects.toThrow('403');
    await expect(
      connect('role=driver', { Host: `evil.test:${server.port}`, Origin: `http://evil.test:${server.port}` }),
    ).rejects.toThrow('403');
    await expect(
      connect('role=page&page=overlay/a', {
        Host: `stream.test:${server.port}`,
        Origin: `http://stream.test:${server.port}`,
      }),
    ).rejects.toThrow('403');
    await expect(connect('role=other')).rejects.toThrow('403');
    await connect('role=page&page=overlay/a');
    await connect(`role=page&page=overlay/a&key=${server.folder.key}`, {
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

describe('upgrades that nobody answers', () => {
  /** Asks for an upgrade and never closes its own end. @returns what it was told, once the other end is quite gone */
  const ask = (where: string): Promise<string> =>
    new Promise((resolve) => {
      let said = '';
      const socket = netConnect({ port: server.port, host: '127.0.0.1', allowHalfOpen: true }, () =>
        socket.write(
          `GET ${where} HTTP/1.1\r\nHost: 127.0.0.1:${server.port}\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n\r\n`,
        ),
      );
      let poke: NodeJS.Timeout | undefined;
      socket.on('data', (d: Buffer) => {
        said += d.toString();
        poke ??= setInterval(() => socket.write('x'), 5);
      });
      // Only a socket that is destroyed over there refuses what is written to it.
      socket.on('error', () => undefined);
      socket.on('close', () => {
        clearInterval(poke);
        resolve(said);
      });
    });
  it.each([
    ['/bridge?role=driver', '403'],
    ['/bridge', '403'],
    ['/_next/static/chunk.js', '404'],
    ['/', '404'],
    ['/bridge?role=page&page=' + 'x'.repeat(81), '403'],
  ])('%s is refused (%s) and closed', async (where, status) => {
    expect(await ask(where)).toContain(` ${status} `);
  });
});

describe('open to the network', () => {
  const address = Object.values(networkInterfaces())
    .flat()
    .find((i) => i && i.family === 'IPv4' && !i.internal)?.address;
  (address ? it : it.skip)(
    'another machine is nobody by the names it sends, drives with its own key, and is told no other',
    async () => {
      const far = await startServer({
        port: 0,
        listen: '0.0.0.0',
        artnetPort: 0,
        sacnPort: 0,
        idnPort: 0,
        oscPort: 0,
        folder: mkdtempSync(path.join(folder, 'far-')),
        pages: null,
      });
      try {
        const headers = {
          Host: `127.0.0.1:${far.port}`,
          Origin: `http://127.0.0.1:${far.port}`,
        };
        const reach = (query: string): Promise<WebSocket> =>
          new Promise((resolve, reject) => {
            const socket = new WebSocket(`ws://${address}:${far.port}/bridge?${query}`, { headers });
            sockets.push(socket);
            socket.on('open', () => resolve(socket));
            socket.on('error', reject);
          });
        await expect(reach('role=driver')).rejects.toThrow('403');
        await expect(reach(`role=driver&drive=${far.folder.key}`)).rejects.toThrow('403');
        await expect(reach('role=page&page=overlay/a')).rejects.toThrow('403');
        const put = await fetch(`http://${address}:${far.port}/bridge/receiver?pulled=yes`, {
          method: 'POST',
          headers: { Origin: headers.Origin },
        });
        expect(put.status).toBe(403);
        const socket = await reach(`role=driver&drive=${far.folder.driveKey}`);
        const welcome = new Promise<Record<string, unknown>>((told) =>
          socket.on('message', (d: Buffer) => told(JSON.parse(d.toString()) as Record<string, unknown>)),
        );
        socket.send(
          JSON.stringify({ type: 'hello', protocol: BRIDGE_PROTOCOL, lease: 'lease-far', take: false }),
        );
        expect(await welcome).toMatchObject({ type: 'welcome', key: null });
      } finally {
        await far.close();
      }
    },
  );
  it('on every address of both kinds it opens, and hears OSC there', async () => {
    const both = await startServer({
      port: 0,
      listen: '::',
      artnetPort: 0,
      sacnPort: 0,
      idnPort: 0,
      oscPort: 0,
      folder: mkdtempSync(path.join(folder, 'both-')),
      pages: null,
    });
    try {
      expect((await fetch(`http://127.0.0.1:${both.port}/nothing`)).status).toBe(404);
      expect(both.bridge.osc.port).toBeGreaterThan(0);
    } finally {
      await both.close();
    }
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
    declare(first, 3);
    await until(() => server.folder.page('overlay/a')?.version === 3);
    const second = await driver('lease-two');
    const seen: number[] = [],
      { onPacket } = server.bridge.receivers.artnet;
    server.bridge.receivers.artnet.onPacket = (...packet) => {
      seen.push(packet[1][0]!);
      onPacket?.(...packet);
    };
    const lit = frame(FRAME_VALUE, 4, 3, new Uint8Array(512).fill(255));
    second.socket.send(lit);
    second.socket.send(lit);
    say(second, { type: 'nonsense' });
    await until(() => heard(second, 'refused'));
    // It has been read, and the lamps have had their time to show it.
    const states = (): number => first.texts.filter((t) => t.type === 'state').length,
      from = states();
    await until(() => states() >= from + 2);
    first.socket.send(frame(FRAME_VALUE, 4, 2, new Uint8Array(512).fill(99))); // of an older list
    first.socket.send(frame(FRAME_VALUE, 4, 3, new Uint8Array(512).fill(7)));
    await until(() => first.frames.some((f) => f[0] === FRAME_RECEIVED));
    expect(server.bridge.receivers.artnet.universes.get(0)!.channels[0]).toBe(7);
    // Nor for a moment before.
    expect(new Set(seen)).toEqual(new Set([7]));
  });
});

describe('what a driver says', () => {
  it.each([
    ['not JSON', '{"type":'],
    ['of no known kind', '{"type":"fly"}'],
    [
      'out of range',
      '{"type":"outlets","version":1,"armed":false,"wires":[],"streams":[{"id":"x","size":-1}]}',
    ],
    ['with extras', '{"type":"hello","protocol":2,"lease":"lease-one","take":false,"x":1}'],
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
    declare(p, 1);
    await until(() => server.folder.page('overlay/a')?.version === 1);
    // Such as are quickly read: a slow machine must not earn them time.
    for (let i = 0; i < 2000; i++) p.socket.send('{}');
    await until(() => p.closed === 1008);
  });
});

describe('overlay pages', () => {
  it('get a thousand hits, each with its time and strength, though values come as seldom as they like', async () => {
    const page = await connect('role=page&page=overlay/b');
    const p = await driver();
    declare(p, 7);
    await until(() => versionOf(page) === 7);
    const events = (from: number, count: number): Uint8Array => {
      const b = Buffer.alloc(EVENTS_HEAD + count * EVENT_BYTES);
      for (let k = 0; k < count; k++) {
        const at = EVENTS_HEAD + k * EVENT_BYTES;
        b.writeDoubleLE((from + k) / 100, at);
        b.writeUInt32LE(0, at + 8);
        b.writeFloatLE((from + k) / 10, at + 12);
      }
      return b;
    };
    for (let i = 0; i < 1000; i += 4) p.socket.send(frame(FRAME_EVENTS, 3, 7, events(i, 4)));
    p.socket.send(frame(FRAME_EVENTS, 3, 6, events(5000, 1))); // of an older document
    p.socket.send(frame(FRAME_EVENTS, 2, 7, events(6000, 1))); // of another overlay
    p.socket.send(overlayFrame(1, 7, [44, 0.5, 0.25, 0.125]));
    await until(() => page.frames.some((f) => f[0] === FRAME_VALUE));
    const got = page.frames
      .filter((f) => f[0] === FRAME_EVENTS)
      .flatMap((f) =>
        Array.from({ length: (f.length - FRAME_HEAD - EVENTS_HEAD) / EVENT_BYTES }, (_, k) => [
          f.readDoubleLE(FRAME_HEAD + EVENTS_HEAD + k * EVENT_BYTES),
          f.readFloatLE(FRAME_HEAD + EVENTS_HEAD + k * EVENT_BYTES + 12),
        ]),
      );
    expect(got).toEqual(Array.from({ length: 1000 }, (_, i) => [i / 100, Math.fround(i / 10)]));
  });
  it('opened first, late, or after a restart show the right thing', async () => {
    const early = await connect('role=page&page=overlay/b');
    await until(() => early.texts.length === 2);
    expect(early.texts).toMatchObject([
      { type: 'hello', protocol: PAGE_PROTOCOL },
      { type: 'page', document: null, live: false },
    ]);
    const p = await driver();
    declare(p, 7);
    await until(() => versionOf(early) === 7);
    expect(early.texts.at(-1)).toMatchObject({ document: { id: 'overlay/b' }, live: true });
    p.socket.send(overlayFrame(1, 6, [9, 9, 9, 9])); // of an older document: not for this list
    p.socket.send(overlayFrame(0, 7, [1, 1, 1, 1])); // for the other overlay
    p.socket.send(overlayFrame(1, 7, [44, 0.5, 0.25, 0.125]));
    await until(() => early.frames.length === 1);
    expect(early.frames[0]!.readFloatLE(FIRST_NUMBER)).toBe(44);
    const late = await connect('role=page&page=overlay/a');
    await until(() => late.frames.length === 1);
    expect(late.frames[0]!.readFloatLE(FIRST_NUMBER)).toBe(1);

    const { key } = server.folder;
    await server.close();
    server = await serverIn(folder);
    expect(server.folder.key).toBe(key); // addresses that were given out stay good
    const after = await connect('role=page&page=overlay/b');
    await until(() => after.texts.length === 2);
    expect(after.texts[1]).toMatchObject({ document: { id: 'overlay/b' }, live: false });
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
    say(p, { type: 'pages', all: ['overlay/a'], documents: [documentOf('a', 1, [hash])] });
    await until(() => heard(p, 'need'));
    expect(p.texts.find((t) => t.type === 'need')).toMatchObject({ media: [hash] });
    expect((await put(hash, png)).status).toBe(204);
    const got = await fetch(`http://127.0.0.1:${server.port}/media/${hash}`);
    expect(Buffer.from(await got.arrayBuffer())).toEqual(png);
    expect(got.headers.get('content-security-policy')).toContain('sandbox');
    expect(await server.folder.missing()).toEqual([]);
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
    p.texts.flatMap((t) => (t.type === 'osc' ? (t.messages as [unknown, unknown][]) : []));
  it('reach the driver by their addresses, each and in their order, and nobody else', async () => {
    const page = await connect('role=page&page=overlay/a'),
      p = await driver();
    await send(
      Array.from({ length: 100 }, (_, i) => message('/deck/fader', i / 100)).concat(message('/deck/pad', 1)),
    );
    await until(
      () =>
        told(p).some(([a]) => a === '/deck/pad') &&
        told(p).some(([a, v]) => a === '/deck/fader' && Math.abs((v as number) - 0.99) < 1e-6),
    );
    const fader = told(p).filter(([a]) => a === '/deck/fader');
    expect(fader.map(([, v]) => Math.round((v as number) * 100))).toEqual(
      Array.from({ length: 100 }, (_, i) => i),
    );
    expect(told(page)).toEqual([]);
  });
  it('a press and its release stay two, however close they come', async () => {
    const p = await driver();
    await send([message('/deck/pad', 1), message('/deck/pad', 0)]);
    await until(() => told(p).length === 2);
    expect(told(p)).toEqual([
      ['/deck/pad', 1],
      ['/deck/pad', 0],
    ]);
  });
  it('rubbish is counted and passed over', async () => {
    const p = await driver();
    await send([Buffer.from('hello'), Buffer.alloc(0), message('/deck/pad', NaN), message('/good', 0.5)]);
    await until(() => told(p).length === 1);
    expect(told(p)).toEqual([['/good', 0.5]]);
    expect(server.bridge.osc.bad).toBeGreaterThanOrEqual(1);
  });
});
