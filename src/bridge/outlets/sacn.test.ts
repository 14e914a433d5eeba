import { afterEach, describe, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { Fate, type StreamDeclaration } from '../../core/outlets';
import { encodeSacnData, SACN_DATA_BYTES, type WireSetup } from '../../core/protocols';
import { SimulatedReceiver } from '../simulated/artnetReceiver';
import { SacnReceiver } from '../simulated/sacnReceiver';
import { Outlets } from './outlets';
import { stream, universe, until, wire } from './testKit';

const open: { close(): unknown }[] = [];
afterEach(async () => {
  for (const x of open.splice(0)) await x.close();
});
const sacnWire = (more: Partial<WireSetup> = {}): WireSetup => wire({ protocol: 'sacn', ...more });
async function pair(
  streams: readonly StreamDeclaration[],
  setup: WireSetup = sacnWire(),
): Promise<{ outlets: Outlets; sacn: SacnReceiver; artnet: SimulatedReceiver }> {
  const sacn = await SacnReceiver.open(0),
    artnet = await SimulatedReceiver.open(0),
    at = (r: { host: string; port: number }) => ({ host: r.host, port: r.port }),
    outlets = new Outlets({ artnet: at(artnet), sacn: at(sacn) });
  open.push(outlets, sacn, artnet);
  outlets.declare([setup], streams, false);
  return { outlets, sacn, artnet };
}
const channels = (r: SacnReceiver, u: number, n: number): number[] => [
  ...(r.universes.get(u)?.channels.subarray(0, n) ?? []),
];

describe('lamps on sACN, over real UDP', () => {
  it("carries channels to the right universe, decoded by the other end's own code, and says which it sends", async () => {
    const { outlets, sacn, artnet } = await pair([stream(0), stream(299)]);
    outlets.write(0, universe(1, 2, 255));
    outlets.write(1, universe(9));
    await until(() => sacn.universes.size === 2 && sacn.discovered.size === 2);
    expect(channels(sacn, 0, 4)).toEqual([1, 2, 255, 0]);
    expect(channels(sacn, 299, 1)).toEqual([9]);
    expect([...sacn.discovered]).toEqual([1, 300]);
    expect([sacn.bad, artnet.packets]).toEqual([0, 0]);
  });
  it('a universe that is not sent any more goes dark, and then says that it has ended', async () => {
    const { outlets, sacn } = await pair([stream(0), stream(1)]);
    outlets.write(0, universe(200));
    outlets.write(1, universe(100));
    await until(() => channels(sacn, 0, 1)[0] === 200 && channels(sacn, 1, 1)[0] === 100);
    outlets.declare([sacnWire()], [stream(1)], false);
    await until(() => channels(sacn, 0, 1)[0] === 0 && sacn.ended === 1);
    expect(channels(sacn, 1, 1)).toEqual([100]);
  });
  it('on leaving all of it does', async () => {
    const { outlets, sacn } = await pair([stream(0), stream(1)]);
    outlets.write(0, universe(200));
    outlets.write(1, universe(100));
    await until(() => channels(sacn, 0, 1)[0] === 200 && channels(sacn, 1, 1)[0] === 100);
    open.splice(open.indexOf(outlets), 1);
    await outlets.close();
    await until(() => sacn.ended === 2);
    expect([channels(sacn, 0, 1), channels(sacn, 1, 1)]).toEqual([[0], [0]]);
  });
  it('universes of a wire that is synced are shown when it says so', async () => {
    const { outlets, sacn } = await pair([stream(4), stream(5)], sacnWire({ sync: true }));
    outlets.write(0, universe(11));
    outlets.write(1, universe(12));
    await until(() => channels(sacn, 4, 1)[0] === 11 && channels(sacn, 5, 1)[0] === 12);
    expect(sacn.syncs).toBeGreaterThan(0);
    expect(sacn.bad).toBe(0);
  });
  it('goes dark at its end though it is synced: the last packets wait for none', async () => {
    const { outlets, sacn } = await pair([stream(4), stream(5)], sacnWire({ sync: true }));
    outlets.write(0, universe(11));
    outlets.write(1, universe(12));
    await until(() => channels(sacn, 4, 1)[0] === 11 && channels(sacn, 5, 1)[0] === 12);
    outlets.declare([sacnWire({ sync: true })], [stream(5)], false);
    await until(() => channels(sacn, 4, 1)[0] === 0);
    open.splice(open.indexOf(outlets), 1);
    await outlets.close();
    await until(() => channels(sacn, 5, 1)[0] === 0);
  });
  it('Art-Net has a sync of its own, that its nodes know', async () => {
    const { outlets, artnet } = await pair([stream(4)], sacnWire({ protocol: 'artnet', sync: true }));
    outlets.write(0, universe(11));
    await until(() => artnet.universes.get(4)?.channels[0] === 11 && artnet.syncs > 0);
    expect(artnet.bad).toBe(0);
  });
  it('a source of a higher priority is heard in its place', async () => {
    const { outlets, sacn } = await pair([stream(0)]);
    outlets.write(0, universe(50));
    await until(() => channels(sacn, 0, 1)[0] === 50);
    const other = createSocket('udp4'),
      packet = new Uint8Array(SACN_DATA_BYTES),
      source = { cid: new Uint8Array(16).fill(1), name: new Uint8Array(1) };
    open.push(other);
    encodeSacnData(packet, source, 1, 0, 150, 0, universe(99));
    other.send(packet, sacn.port, sacn.host);
    await until(() => channels(sacn, 0, 1)[0] === 99);
    await until(() => outlets.state.streams.length === 1);
    const before = outlets.state.streams[0]!.sent;
    outlets.write(0, universe(51));
    await until(() => outlets.state.streams[0]!.sent > before + 3);
    expect(channels(sacn, 0, 1)).toEqual([99]);
  });
  it('goes to the group of each universe, from the interface that was chosen', async () => {
    const sacn = await SacnReceiver.open(5568, '0.0.0.0');
    open.push(sacn);
    // Groups have the standard's own port, and no other will do.
    if (sacn.port !== 5568)
      throw new Error('UDP port 5568 is taken by another program. End it for this test.');
    sacn.join(6, '127.0.0.1');
    const outlets = new Outlets({
      artnet: { host: '127.0.0.1', port: 1 },
      sacn: { host: '127.0.0.1', port: 1 },
    });
    open.push(outlets);
    outlets.declare(
      [sacnWire({ target: { kind: 'multicast', from: '127.0.0.1' } })],
      [stream(6), stream(7)],
      false,
    );
    outlets.write(0, universe(66));
    outlets.write(1, universe(77));
    await until(() => channels(sacn, 6, 1)[0] === 66);
    await until(() => outlets.state.wires.length === 1);
    expect(sacn.universes.has(7)).toBe(false);
    expect(outlets.state.wires[0]).toMatchObject({ trouble: null, errors: 0 });
  });
  it('groups beyond this computer wait until the outputs are armed', async () => {
    const { outlets } = await pair([stream(0)], sacnWire({ target: { kind: 'multicast', from: null } }));
    outlets.write(0, universe(1));
    await until(() => outlets.state.wires[0]?.trouble != null);
    expect(outlets.state.wires[0]).toMatchObject({ trouble: expect.stringContaining('Arm'), packets: 0 });
  });
});

describe('a head and a strobe that nobody drives', () => {
  /** Pan in two bytes, a shutter that flashes, a dimmer in two bytes, one colour. */
  const fates = Buffer.from(
    universe(Fate.Held, Fate.Held, Fate.Calm, Fate.LightPair, Fate.Light, Fate.Light),
  ).toString('base64');
  const calm = Buffer.from(universe(0, 0, 32)).toString('base64');
  const moving = (change: Partial<StreamDeclaration> = {}): StreamDeclaration =>
    stream(0, { fates, calm, ...change });
  const LIVE = [120, 7, 200, 0x80, 0x40, 255];

  it('held, goes on shining where it points, but stops flashing within two seconds', async () => {
    const { outlets, sacn } = await pair([moving()]);
    outlets.write(0, universe(...LIVE));
    await until(() => channels(sacn, 0, 6).join() === LIVE.join());
    const from = performance.now();
    await until(() => channels(sacn, 0, 3)[2] === 32);
    expect(performance.now() - from).toBeLessThan(4000);
    expect(channels(sacn, 0, 6)).toEqual([120, 7, 32, 0x80, 0x40, 255]);
    outlets.beat();
    await until(() => channels(sacn, 0, 3)[2] === 200);
  });
  it('goes dark where it points, and does not swing', async () => {
    const { outlets, sacn } = await pair([moving({ safe: { then: 'dark', afterMs: 200, overMs: 300 } })]);
    const pans = new Set<number>();
    sacn.onPacket = (_, c) => void pans.add(c[0]! * 256 + c[1]!);
    outlets.write(0, universe(...LIVE));
    await until(() => channels(sacn, 0, 6).join() === '120,7,32,0,0,0');
    expect([...pans]).toEqual([120 * 256 + 7]);
  });
  it('taken off the wire, or left by the server, goes dark where it points', async () => {
    const { outlets, sacn } = await pair([moving()]);
    outlets.write(0, universe(...LIVE));
    await until(() => channels(sacn, 0, 6).join() === LIVE.join());
    outlets.declare([sacnWire()], [], false);
    await until(() => channels(sacn, 0, 6).join() === '120,7,32,0,0,0');
    outlets.declare([sacnWire()], [moving()], false);
    outlets.write(0, universe(...LIVE));
    await until(() => channels(sacn, 0, 6).join() === LIVE.join());
    open.splice(open.indexOf(outlets), 1);
    await outlets.close();
    await until(() => channels(sacn, 0, 6).join() === '120,7,32,0,0,0');
  });
});
