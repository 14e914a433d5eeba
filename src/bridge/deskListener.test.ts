import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { encodeSacnData, SACN_DATA_BYTES } from '../core/protocols';
import { DeskListener } from './deskListener';
import { SimulatedDesk } from './simulated/desk';
import { until } from './outlets/testKit';

const OURS = 'ab'.repeat(16);
let listener: DeskListener, desk: SimulatedDesk, heard: Map<number, number[] | null>;
beforeEach(async () => {
  listener = await DeskListener.open('127.0.0.1', { artnet: 0, sacn: 0 }, { cid: () => OURS, port: () => 0 });
  heard = new Map();
  listener.onUniverse = (universe, channels, _, is) => heard.set(universe, is ? [...channels] : null);
  desk = new SimulatedDesk({ artnet: listener.place('artnet'), sacn: listener.place('sacn') });
});
afterEach(async () => {
  desk.close();
  await listener.close();
});

describe('a desk on the network', () => {
  it.each(['artnet', 'sacn'] as const)(
    'is heard over %s, and lost when its cable is pulled',
    async (protocol) => {
      desk.set(protocol, 4, 512, 77);
      await until(() => heard.get(4)?.[511] === 77);
      expect(listener.desks.seen).toMatchObject([{ protocol, universe: 4, priority: 100, live: true }]);
      desk.set(protocol, 4, 1, 12);
      await until(() => heard.get(4)?.[0] === 12);
      const pulled = performance.now();
      desk.off();
      await until(() => heard.get(4) === null, 6000);
      // The last packet may be as old as the desk's own pace.
      expect(performance.now() - pulled).toBeGreaterThan(2400);
      expect(listener.bad).toBe(0);
    },
  );
  it('answers a poll with the universes that the show sends', async () => {
    listener.want([1, 2, 3, 4, 5, 40]);
    const socket = createSocket('udp4'),
      replies: Buffer[] = [];
    socket.on('message', (m) => replies.push(m));
    await new Promise<void>((done) => socket.bind(0, '127.0.0.1', done));
    const { port } = listener.place('artnet');
    socket.send(Buffer.from('4172742d4e657400002000 0e0200'.replace(' ', ''), 'hex'), port, '127.0.0.1');
    await until(() => replies.length === 3);
    socket.close();
    // Table ArtPollReply: 14 port · 18 NetSwitch · 19 SubSwitch · 173 ports · 190 SwOut · 211 BindIndex
    const all = replies.map((b) => {
      expect([b.length, b.readUInt16LE(8), b.readUInt16LE(14)]).toEqual([239, 0x2100, port]);
      return {
        bind: b[211],
        universes: [...b.subarray(190, 190 + b[173]!)].map((u) => (b[18]! << 8) + (b[19]! << 4) + u),
      };
    });
    expect(all.sort((a, b) => a.bind! - b.bind!)).toEqual([
      { bind: 1, universes: [1, 2, 3, 4] },
      { bind: 2, universes: [5] },
      { bind: 3, universes: [40] },
    ]);
  });
  it('counts what is not what it should be, never acts on it, and passes over what we sent ourselves', async () => {
    const socket = createSocket('udp4'),
      send = (bytes: Uint8Array, protocol: 'artnet' | 'sacn'): Promise<void> => {
        const { host, port } = listener.place(protocol);
        return new Promise((done) => socket.send(bytes, port, host, () => done()));
      };
    let seed = 7;
    const random = (): number => (seed = (seed * 1103515245 + 12345) & 0x7fffffff) / 0x7fffffff;
    for (let i = 0; i < 300; i++) {
      const bytes = Uint8Array.from({ length: Math.floor(random() * 700) }, () => random() * 256);
      await send(bytes, i % 2 ? 'artnet' : 'sacn');
    }
    const own = new Uint8Array(SACN_DATA_BYTES),
      source = { cid: Uint8Array.from(Buffer.from(OURS, 'hex')), name: new TextEncoder().encode('us') };
    encodeSacnData(own, source, 9, 1, 100, 0, new Uint8Array(512).fill(9));
    await send(own, 'sacn');
    desk.set('sacn', 2, 1, 5);
    await until(() => heard.get(2)?.[0] === 5);
    socket.close();
    expect([...heard.keys()]).toEqual([2]);
    expect(listener.bad).toBeGreaterThan(200);
  });
});
