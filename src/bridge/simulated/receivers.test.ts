import { afterAll, beforeAll, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { Desks } from '../../core/desk';
import {
  decodeArtDmx,
  decodeArtPollReply,
  decodeOsc,
  decodeSacnData,
  decodeSacnDiscovery,
  encodeArtDmx,
  encodeOsc,
  encodeSacnData,
  SACN_DATA_BYTES,
} from '../../core/protocols';
import { seeded } from '../../core/random';
import { SimulatedReceiver } from './artnetReceiver';
import { OscReceiver } from './oscReceiver';
import { SacnReceiver } from './sacnReceiver';

let artnet: SimulatedReceiver, sacn: SacnReceiver, osc: OscReceiver;
beforeAll(async () => {
  artnet = await SimulatedReceiver.open(0);
  sacn = await SacnReceiver.open(0);
  osc = await OscReceiver.open();
});
afterAll(() => Promise.all([artnet.close(), sacn.close(), osc.close()]));

/** A packet of the standard, with some of it changed, cut or drawn out at chance. */
function spoiled(whole: Uint8Array, random: () => number): Uint8Array {
  const length = random() < 0.3 ? Math.floor(random() * whole.length * 1.2) : whole.length,
    out = new Uint8Array(length);
  out.set(whole.subarray(0, length));
  for (let k = 0; k < 1 + random() * 6; k++)
    out[Math.floor(random() * Math.min(130, length))] = Math.floor(random() * 256);
  return out;
}

it('a million random packets throw nothing at whoever reads them, and drive nothing out of range', () => {
  const random = seeded(77),
    dmx = new Uint8Array(530),
    e131 = new Uint8Array(SACN_DATA_BYTES),
    said = new Uint8Array(24);
  encodeArtDmx(dmx, 3, 1, new Uint8Array(512).fill(9));
  encodeSacnData(
    e131,
    { cid: new Uint8Array(16), name: new Uint8Array(4) },
    4,
    1,
    100,
    0,
    new Uint8Array(512),
  );
  encodeOsc(said, new DataView(said.buffer), '/deck/level', 'f', 1);
  const desks = new Desks();
  for (let i = 0; i < 1000000; i++) {
    const junk =
      i % 4 === 0
        ? Uint8Array.from({ length: Math.floor(random() * 60) }, () => Math.floor(random() * 256))
        : spoiled([dmx, e131, said][i % 3]!, random);
    decodeArtPollReply(junk);
    const messages = decodeOsc(junk);
    if (messages?.some((m) => !m.address.startsWith('/'))) throw new Error('an address that is none');
    decodeSacnDiscovery(junk);
    const art = decodeArtDmx(junk),
      acn = decodeSacnData(junk);
    for (const [protocol, universe, channels] of [
      ['artnet', art?.universe, art?.channels],
      ['sacn', acn && acn.universe - 1, acn?.channels],
    ] as const) {
      if (universe === undefined || universe === null || !channels) continue;
      if (universe < 0 || universe > 63998 || channels.length > 512) throw new Error('out of range');
      desks.take(
        {
          protocol,
          desk: protocol,
          name: '',
          address: '',
          universe,
          priority: acn?.priority ?? 100,
          sequence: null,
          ended: acn?.ended ?? false,
          channels,
        },
        i,
      );
    }
  }
  expect(desks.seen.length).toBeGreaterThan(0);
  expect(desks.seen.length).toBeLessThanOrEqual(256);
});

it('spoiled packets over real UDP are counted or shown as what they say, and the next good one is read', async () => {
  const random = seeded(78),
    socket = createSocket('udp4'),
    dmx = new Uint8Array(530),
    e131 = new Uint8Array(SACN_DATA_BYTES),
    said = new Uint8Array(24),
    source = { cid: new Uint8Array(16).fill(1), name: new Uint8Array(4) };
  encodeArtDmx(dmx, 3, 0, new Uint8Array(512).fill(9));
  encodeOsc(said, new DataView(said.buffer), '/deck/level', 'f', 1);
  const send = (bytes: Uint8Array, to: { host: string; port: number }): Promise<void> =>
    new Promise((done) => socket.send(bytes, to.port, to.host, () => done()));
  for (let i = 0; i < 3000; i++) {
    encodeSacnData(e131, source, 4, i & 255, 100, 0, new Uint8Array(512).fill(9));
    await send(spoiled(dmx, random), artnet);
    await send(spoiled(e131, random), sacn);
    await send(spoiled(said, random), osc);
    // Who reads them has its turn, or the system drops what waits.
    if (i % 20 === 0) await new Promise((r) => setImmediate(r));
  }
  const fresh = { cid: new Uint8Array(16).fill(2), name: new Uint8Array(4) };
  encodeSacnData(e131, fresh, 900, 1, 200, 0, new Uint8Array(512).fill(42));
  encodeArtDmx(dmx, 900, 0, new Uint8Array(512).fill(42));
  encodeOsc(said, new DataView(said.buffer), '/deck/final', 'f', 42);
  const end = performance.now() + 10000;
  const all = (): boolean =>
    artnet.universes.get(900)?.channels[0] === 42 &&
    sacn.universes.get(899)?.channels[0] === 42 &&
    osc.heard.get('/deck/final')?.value === 42;
  while (!all() && performance.now() < end) {
    await send(dmx, artnet);
    await send(e131, sacn);
    await send(said, osc);
    await new Promise((r) => setTimeout(r, 5));
  }
  socket.close();
  expect(all()).toBe(true);
  expect([artnet.bad > 100, sacn.bad > 100, osc.bad > 100]).toEqual([true, true, true]);
});
