import { afterEach, describe, expect, it } from '@jest/globals';
import { createSocket, Socket } from 'node:dgram';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import {
  makeStreamMemory,
  OutletWord,
  StreamWriter,
  type SafeState,
  type StreamDeclaration,
} from '../../core/outlets';
import type { WireSetup } from '../../core/protocols';
import { SimulatedReceiver } from '../simulated/artnetReceiver';
import { WiresOut } from './wiresOut';
import { Outlets } from './outlets';
import * as kit from './testKit';
import { universe, until } from './testKit';

const open: { close(): unknown }[] = [];
afterEach(async () => {
  for (const x of open.splice(0)) await x.close();
});

const wire = (id: string, target: WireSetup['target'] = { kind: 'simulated' }): WireSetup =>
  kit.wire({ id, target });
const NOWHERE = { host: '127.0.0.1', port: 1 };
const CID = new Uint8Array(16).fill(7);
const stream = (
  at: number,
  { wire: over = 'w', ...change }: Partial<StreamDeclaration> & { wire?: string } = {},
): StreamDeclaration =>
  kit.stream(at, {
    id: `lamps ${over} ${at}`,
    to: { kind: 'wire', wire: over, universe: at },
    ...change,
  });
const first = (receiver: SimulatedReceiver, at: number): number | undefined =>
  receiver.universes.get(at)?.channels[0];

/** The sending thread, and the lamps that ship with us at its other end. */
async function pair(
  streams: readonly StreamDeclaration[] = [stream(0)],
): Promise<{ readonly outlets: Outlets; readonly receiver: SimulatedReceiver }> {
  const receiver = await SimulatedReceiver.open(0),
    outlets = new Outlets({ artnet: { host: receiver.host, port: receiver.port }, sacn: NOWHERE });
  open.push(outlets, receiver);
  outlets.declare([wire('w')], streams, false);
  return { outlets, receiver };
}

describe('lamps over real UDP, from a thread of their own', () => {
  it("carries channels to the right universe, decoded by the other end's own code", async () => {
    const { outlets, receiver } = await pair([stream(0x0102)]);
    outlets.write(0, universe(1, 2, 255));
    await until(() => receiver.universes.has(0x0102));
    expect([...receiver.universes.get(0x0102)!.channels.subarray(0, 4)]).toEqual([1, 2, 255, 0]);
    expect(receiver.bad).toBe(0);
  });
  it("finds the receiver by the standard's poll, and says how each stream is", async () => {
    const { outlets, receiver } = await pair();
    outlets.write(0, universe(7));
    await until(() => outlets.state.nodes.length === 1 && outlets.state.streams[0]!.sent > 0);
    expect(outlets.state.nodes[0]).toMatchObject({
      shortName: 'Rail lamps',
      port: receiver.port,
      universes: [0],
    });
    expect(outlets.state.streams[0]).toMatchObject({ id: 'lamps w 0', errors: 0, live: 1 });
    expect(outlets.state.wires[0]).toMatchObject({
      id: 'w',
      trouble: null,
      address: `${receiver.host}:${receiver.port}`,
    });
  });
  it('keeps to its rate while values rush, and ends on the last', async () => {
    const { outlets, receiver } = await pair([stream(0, { keepAlive: 4000 })]);
    const start = performance.now();
    for (let i = 1; i <= 250; i++) {
      outlets.write(0, universe(i));
      await new Promise((r) => setTimeout(r, 1));
    }
    await until(() => first(receiver, 0) === 250);
    expect(receiver.packets).toBeLessThanOrEqual(((performance.now() - start) / 1000) * 40 + 2);
  });
  it('sends again when nothing changes, though the system clock is set back by an hour', async () => {
    const { outlets, receiver } = await pair([stream(0, { keepAlive: 200 })]);
    outlets.write(0, universe(9));
    await until(() => receiver.packets >= 1);
    const now = Date.now;
    try {
      Date.now = () => now() - 3600000;
      const before = receiver.packets;
      outlets.write(0, universe(10));
      await until(() => first(receiver, 0) === 10);
      await until(() => receiver.packets >= before + 3);
    } finally {
      Date.now = now;
    }
  });
  it('leaves targets beyond this computer alone until armed, and says what it cannot do', async () => {
    const { outlets } = await pair();
    const to = (host: string): WireSetup['target'] => ({ kind: 'network', host, port: 6454 });
    outlets.declare(
      [wire('far', to('192.0.2.1')), wire('six', to('::1')), wire('name', to('no-such-node.invalid'))],
      ['far', 'six', 'name'].map((w) => stream(0, { wire: w })),
      false,
    );
    for (const place of [0, 1, 2]) outlets.write(place, universe(1));
    await until(
      () => outlets.state.wires.length === 3 && outlets.state.wires.every((w) => w.trouble !== null),
    );
    expect(outlets.state.wires.map((w) => w.trouble)).toEqual([
      expect.stringContaining('Arm'),
      expect.stringContaining('IPv4'),
      expect.stringContaining('no-such-node.invalid'),
    ]);
    expect(outlets.state.wires.map((w) => w.packets)).toEqual([0, 0, 0]);
  });
  it('blacks out on leaving', async () => {
    const { outlets, receiver } = await pair();
    outlets.write(0, universe(200));
    await until(() => first(receiver, 0) === 200);
    open.splice(open.indexOf(outlets), 1);
    await outlets.close();
    await until(() => first(receiver, 0) === 0);
  });
});

describe('lamps that belong to nothing any more', () => {
  it('go dark and are left alone: a universe renumbered, again and again as by scrubbing', async () => {
    const { outlets, receiver } = await pair();
    for (let u = 0; u < 12; u++) {
      outlets.declare([wire('w')], [stream(u)], false);
      outlets.write(0, universe(255));
      await until(() => first(receiver, u) === 255);
    }
    await until(() => Array.from({ length: 11 }, (_, u) => first(receiver, u)).every((x) => x === 0));
    expect(first(receiver, 11)).toBe(255);
    const quiet = (): number[] => Array.from({ length: 11 }, (_, u) => receiver.universes.get(u)!.packets);
    // The farewells are over, and the keep-alive of what is left goes on alone.
    const sent = receiver.universes.get(11)!.packets;
    await until(() => receiver.universes.get(11)!.packets > sent + 1);
    const before = quiet();
    await until(() => receiver.universes.get(11)!.packets > sent + 4);
    expect(quiet()).toEqual(before);
  });
  it('go dark where they were: a wire sent elsewhere, or removed', async () => {
    const there = await SimulatedReceiver.open(0),
      here = await SimulatedReceiver.open(0),
      outlets = new Outlets({ artnet: { host: here.host, port: here.port }, sacn: NOWHERE });
    open.push(outlets, there, here);
    const elsewhere: WireSetup['target'] = { kind: 'network', host: '127.0.0.1', port: there.port };
    outlets.declare([wire('w')], [stream(3)], false);
    outlets.write(0, universe(255));
    await until(() => first(here, 3) === 255);
    outlets.declare([wire('w', elsewhere)], [stream(3)], false);
    outlets.write(0, universe(255));
    await until(() => first(here, 3) === 0 && first(there, 3) === 255);
    outlets.declare([], [], false);
    await until(() => first(there, 3) === 0);
  });
  it('stay lit where another stream goes to the same place', async () => {
    const { outlets, receiver } = await pair();
    outlets.write(0, universe(255));
    await until(() => first(receiver, 0) === 255);
    const before = receiver.packets;
    outlets.declare([wire('v')], [stream(0, { wire: 'v' })], false);
    outlets.write(0, universe(254));
    await until(() => first(receiver, 0) === 254);
    let dark = false;
    receiver.onPacket = (_, channels) => {
      dark ||= channels[0] === 0;
    };
    await until(() => receiver.packets > before + 6);
    expect(dark).toBe(false);
  });
  it('go dark when they are disarmed', () => {
    // Beyond this computer nothing is really sent here: what would be is looked at instead.
    const sent: [string, number][] = [];
    const out = new WiresOut({ artnet: NOWHERE, sacn: NOWHERE }, CID, () => undefined);
    open.push(out);
    const { send } = Socket.prototype;
    Socket.prototype.send = function (this: Socket, ...args: unknown[]) {
      sent.push([String(args[2]), (args[0] as Buffer)[18] ?? -1]);
    } as typeof send;
    const memory = makeStreamMemory([512]);
    const declare = (armed: boolean, now: number): void =>
      out.declare(
        {
          wires: [wire('far', { kind: 'network', host: '192.0.2.1', port: 6454 })],
          streams: [stream(5, { wire: 'far' })],
          memory,
          armed,
        },
        now,
      );
    try {
      declare(true, 0);
      new StreamWriter(memory).write(0, universe(255));
      out.turn(0, 0);
      declare(false, 1000);
      for (let now = 1000; now < 2000; now += 10) out.turn(now, 0);
      const packets = sent.filter(([address, channel]) => address === '192.0.2.1' && channel >= 0);
      expect(packets.map(([, channel]) => channel)).toEqual([255, 0, 0, 0]);
    } finally {
      Socket.prototype.send = send;
    }
  });
});

describe('a driver that is not heard of any more', () => {
  async function silence(safe: SafeState, rest: string | null = null): Promise<SimulatedReceiver> {
    const { outlets, receiver } = await pair([stream(0, { safe, rest })]);
    outlets.beat();
    outlets.write(0, universe(200));
    await until(() => first(receiver, 0) === 200);
    return receiver;
  }
  it('hold: the last values are kept alive', async () => {
    const receiver = await silence({ then: 'hold' });
    const before = receiver.packets;
    await until(() => receiver.packets > before + 4);
    expect(first(receiver, 0)).toBe(200);
  });
  it('dark: the lamps go out after the time that was set', async () => {
    const receiver = await silence({ then: 'dark', afterMs: 300, overMs: 200 });
    await until(() => first(receiver, 0) === 0);
  });
  it('rest: they fade to what they rest at', async () => {
    const receiver = await silence(
      { then: 'rest', afterMs: 300, overMs: 200 },
      Buffer.from(universe(40)).toString('base64'),
    );
    await until(() => first(receiver, 0) === 40);
  });
  it('they come back as soon as it is heard again', async () => {
    const { outlets, receiver } = await pair([
      stream(0, { safe: { then: 'dark', afterMs: 200, overMs: 0 } }),
    ]);
    outlets.write(0, universe(200));
    await until(() => first(receiver, 0) === 0 && receiver.packets > 1);
    outlets.beat();
    await until(() => first(receiver, 0) === 200);
  });
});

describe('the sending thread', () => {
  const quietly = async (run: () => Promise<void>): Promise<string> => {
    const spoken = console.error;
    let said = '';
    console.error = (text: string) => {
      said += text;
    };
    try {
      await run();
    } finally {
      console.error = spoken;
    }
    return said;
  };
  it('that ends is started again with the last values', async () => {
    const { outlets, receiver } = await pair();
    outlets.write(0, universe(77));
    await until(() => first(receiver, 0) === 77);
    const said = await quietly(async () => {
      // A message that it cannot read ends it.
      outlets.thread.postMessage({ type: 'declare' });
      await until(() => outlets.restarts === 1);
    });
    expect(said).toContain('started again');
    const before = receiver.packets;
    await until(() => receiver.packets > before + 2);
    expect(first(receiver, 0)).toBe(77);
    outlets.write(0, universe(78));
    await until(() => first(receiver, 0) === 78);
  });
  it('that stood still and wakes up again sends nothing more, and ends by itself', async () => {
    const { outlets, receiver } = await pair();
    outlets.write(0, universe(55));
    await until(() => first(receiver, 0) === 55);
    const old = outlets.thread,
      gone = new Promise((done) => old.once('exit', done));
    await quietly(async () => {
      // As if the watch had seen it stand still: another is at work.
      outlets.replace();
      await gone;
    });
    outlets.write(0, universe(56));
    await until(() => first(receiver, 0) === 56);
    expect(outlets.restarts).toBe(1);
  });
  it('that stands still is started again, within a second of its last beat', async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-thread-')),
      script = path.join(folder, 'once.mjs'),
      real = pathToFileURL(path.join(__dirname, 'outletThread.mjs')).href;
    // The first of them beats once and then stands still; the next is the real one.
    writeFileSync(
      script,
      `import { existsSync, writeFileSync } from 'node:fs';
       import { workerData } from 'node:worker_threads';
       const mark = ${JSON.stringify(path.join(folder, 'mark'))};
       if (!existsSync(mark)) {
         writeFileSync(mark, '');
         Atomics.add(new Int32Array(workerData.words), ${OutletWord.Beat}, 1);
         for (;;);
       }
       await import(${JSON.stringify(real)});`,
    );
    const receiver = await SimulatedReceiver.open(0);
    await quietly(async () => {
      const outlets = new Outlets(
        { artnet: { host: receiver.host, port: receiver.port }, sacn: NOWHERE },
        script,
      );
      open.push(outlets, receiver, { close: () => rmSync(folder, { recursive: true }) });
      outlets.declare([wire('w')], [stream(0)], false);
      outlets.write(0, universe(33));
      await until(() => first(receiver, 0) === 33);
      expect(outlets.restarts).toBe(1);
    });
  });
});

describe('the simulated lamps', () => {
  it('count what is not Art-Net or came too late, and stay as they were', async () => {
    const { outlets, receiver } = await pair([stream(0, { keepAlive: 4000 })]);
    outlets.write(0, universe(50));
    await until(() => receiver.packets === 1);
    const stranger = createSocket('udp4');
    for (const junk of [
      Buffer.from('hello there, lamps'),
      Buffer.alloc(600, 1),
      Buffer.from('Art-Net\0\0P\0\x0e\x01'),
    ])
      stranger.send(junk, receiver.port, receiver.host);
    await until(() => receiver.bad === 3);
    expect(first(receiver, 0)).toBe(50);
    stranger.close();
  });
  it('take a free port when their own is taken', async () => {
    const one = await SimulatedReceiver.open(0);
    const two = await SimulatedReceiver.open(one.port);
    open.push(one, two);
    expect(two.port).not.toBe(one.port);
  });
});

it('nodes that answer by the thousand do not fill the state', async () => {
  const { outlets } = await pair();
  await until(() => outlets.state.nodes.length > 0);
  const reply = Buffer.alloc(239);
  reply.write('Art-Net\0', 0, 'latin1');
  reply.writeUInt16LE(0x2100, 8);
  const node = createSocket('udp4');
  const port = await new Promise<number>((found) => {
    node.on('message', (_, from) => found(from.port));
    node.bind(0, '127.0.0.1', () =>
      outlets.declare(
        [wire('w', { kind: 'network', host: '127.0.0.1', port: node.address().port })],
        [stream(0)],
        false,
      ),
    );
  });
  node.close();
  for (let i = 0; i < 300; i++) {
    const socket = createSocket('udp4');
    await new Promise<void>((done) =>
      socket.send(reply, port, '127.0.0.1', () => socket.close(() => done())),
    );
  }
  await until(() => outlets.state.nodes.length >= 64);
  expect(outlets.state.nodes.length).toBe(64);
});
