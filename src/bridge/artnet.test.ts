import { afterEach, describe, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { ArtnetSender } from './artnetSender';
import { SimulatedReceiver } from './simulated/artnetReceiver';

const open: { close(): unknown }[] = [];
afterEach(async () => {
  for (const x of open.splice(0)) await x.close();
});

async function until(what: () => boolean, ms = 5000): Promise<void> {
  const end = Date.now() + ms;
  while (!what()) {
    if (Date.now() > end) throw new Error(`waited ${ms} ms for: ${what}`);
    await new Promise((r) => setTimeout(r, 2));
  }
}
async function pair(
  rate = 40,
  keepAlive = 300,
): Promise<{ sender: ArtnetSender; receiver: SimulatedReceiver }> {
  const receiver = await SimulatedReceiver.open(0);
  const sender = new ArtnetSender(() => ({ host: receiver.host, port: receiver.port }));
  sender.setWires([{ id: 'w', target: { kind: 'simulated' }, rate, keepAlive }], false);
  open.push(sender, receiver);
  return { sender, receiver };
}
const universe = (...channels: number[]): Uint8Array => {
  const u = new Uint8Array(512);
  u.set(channels);
  return u;
};

describe('Art-Net over real UDP', () => {
  it("carries channels to the right universe, decoded by the other end's own code", async () => {
    const { sender, receiver } = await pair();
    sender.set(0, 0x0102, universe(1, 2, 255));
    await until(() => receiver.universes.has(0x0102));
    expect([...receiver.universes.get(0x0102)!.channels.subarray(0, 4)]).toEqual([1, 2, 255, 0]);
    expect(receiver.bad).toBe(0);
  });
  it("finds the receiver by the standard's poll", async () => {
    const { sender, receiver } = await pair();
    await until(() => sender.nodes.size === 1);
    expect([...sender.nodes.values()][0]).toMatchObject({
      shortName: 'Rail lamps',
      port: receiver.port,
      universes: [0],
    });
  });
  it('keeps to its rate while values rush, and ends on the last', async () => {
    const { sender, receiver } = await pair(40, 4000);
    const start = Date.now();
    for (let i = 1; i <= 250; i++) {
      sender.set(0, 0, universe(i));
      await new Promise((r) => setTimeout(r, 1));
    }
    await until(() => receiver.universes.get(0)?.channels[0] === 250);
    expect(receiver.packets).toBeLessThanOrEqual(((Date.now() - start) / 1000) * 40 + 2);
  });
  it('sends again when nothing changes', async () => {
    const { sender, receiver } = await pair(40, 200);
    sender.set(0, 0, universe(9));
    await until(() => receiver.packets >= 3);
    expect(receiver.universes.get(0)!.channels[0]).toBe(9);
  });
  it('leaves targets beyond this computer alone until armed', async () => {
    const { sender } = await pair();
    const far = {
      id: 'far',
      target: { kind: 'network', host: '192.0.2.1', port: 6454 } as const,
      rate: 40,
      keepAlive: 800,
    };
    sender.setWires([far], false);
    expect(sender.state()[0]!.trouble).toContain('Arm');
    sender.set(0, 0, universe(1));
    expect(sender.state()[0]!.packets).toBe(0);
  });
  it('blacks out on leaving', async () => {
    const { sender, receiver } = await pair();
    sender.set(0, 0, universe(200));
    await until(() => receiver.universes.get(0)?.channels[0] === 200);
    await sender.blackout();
    await until(() => receiver.universes.get(0)!.channels[0] === 0);
  });
  it('the receiver counts what is not Art-Net or came too late, and stays as it was', async () => {
    const { sender, receiver } = await pair();
    sender.set(0, 0, universe(50));
    await until(() => receiver.packets === 1);
    const stranger = createSocket('udp4');
    for (const junk of [
      Buffer.from('hello there, lamps'),
      Buffer.alloc(600, 1),
      Buffer.from('Art-Net\0\0P\0\x0e\x01'),
    ])
      stranger.send(junk, receiver.port, receiver.host);
    await until(() => receiver.bad === 3);
    expect(receiver.universes.get(0)!.channels[0]).toBe(50);
    stranger.close();
  });
  it('takes a free port when its own is taken', async () => {
    const first = await SimulatedReceiver.open(0);
    const second = await SimulatedReceiver.open(first.port);
    open.push(first, second);
    expect(second.port).not.toBe(first.port);
  });
});
