/**
 * From a hand to a lamp: how long after a key, a controller, a message or a phone the packet that tells of it reaches a node on the
 * network, in the running application. The browser's MIDI is stood in for, port and messages; everything behind it is real.
 */
import { createSocket } from 'node:dgram';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { WebSocket } from 'ws';
import { Node, wireTo } from '../../e2e/lampFaults';
import { openShowFile, playFerry, startServer, until, visit } from '../../e2e/support';
import { emptyShow } from '../../src/core/ferry';
import { EMPTY_MEMORY, type Grip, type Show } from '../../src/core/show';
import { writeShowFile } from '../../src/data/showFile';

export const HANDS = ['key', 'MIDI', 'OSC', 'phone'] as const;
type Hand = (typeof HANDS)[number];
const TIMES = 40;

/** One lamp behind a master that is down; a key, a note and a message flash it. */
function handShow(port: number): Show {
  const flash = { do: 'flash', master: 'lamps' } as const,
    touches: Grip['touch'][] = [
      { by: 'key', key: 'x' },
      { by: 'midi', device: 'port', message: 'note', channel: 1, number: 60 },
      { by: 'osc', address: '/flash', low: 0, high: 1 },
    ];
  return {
    ...emptyShow('hands', 'Hands'),
    fixtures: [
      { id: 'a', name: 'A', mode: 'rgb', universe: 0, address: 1, rest: { dimmer: 100, colour: '#ffffff' } },
    ],
    grips: touches.map((touch, i) => ({ id: `grip-${i}`, touch, deed: flash, page: null, answers: false })),
    wires: [wireTo(port, { rate: 44, keepAlive: 800, safe: { then: 'hold' } })],
  };
}

/** A port that notes come from, in place of the browser's own. In the page. */
function standIn(): void {
  const port = Object.assign(new EventTarget(), {
    id: 'port',
    name: 'Port',
    type: 'input',
    state: 'connected',
    connection: 'open',
    open: () => Promise.resolve(port),
    close: () => Promise.resolve(port),
  });
  const access = Object.assign(new EventTarget(), {
    inputs: new Map([['port', port]]),
    outputs: new Map(),
    onstatechange: null,
    sysexEnabled: false,
  });
  Object.assign(navigator, { requestMIDIAccess: () => Promise.resolve(access) });
  Object.assign(window, {
    playNote: (on: boolean) => {
      const e = Object.assign(new Event('midimessage'), {
        data: Uint8Array.of(on ? 0x90 : 0x80, 60, on ? 100 : 0),
      });
      port.dispatchEvent(e);
    },
  });
}

/** Milliseconds from each press and each letting go to the packet, by what it was done with. */
export async function handsToPacket(): Promise<Readonly<Record<Hand, number[]>>> {
  const server = await startServer(),
    v = await visit(server.url, { autoplay: true }),
    node = new Node(),
    udp = createSocket('udp4');
  await node.open();
  try {
    const { page } = v;
    await v.browser.defaultBrowserContext().overridePermissions(new URL(server.url).origin, ['midi']);
    // Whoever runs this file wraps functions in a helper that the page has not.
    await page.evaluateOnNewDocument('globalThis.__name = (f) => f');
    await page.evaluateOnNewDocument(standIn);
    await page.reload({ waitUntil: 'load' });
    await playFerry(page);
    const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-hands-')), 'hands.batucada'),
      blob = await writeShowFile({ show: handShow(node.port), memory: EMPTY_MEMORY, media: [] });
    writeFileSync(file, new Uint8Array(await blob.arrayBuffer()));
    await openShowFile(page, file);
    await until('a lamp that is lit', () => node.last?.level === 255);
    const { phoneKey } = JSON.parse(readFileSync(path.join(server.folder, 'bridge.json'), 'utf8')) as {
      phoneKey: string;
    };
    const phone = new WebSocket(`ws://127.0.0.1:${server.port}/bridge?role=phone&key=${phoneKey}`);
    await new Promise((done, failed) => phone.once('open', done).once('error', failed));
    const master = (value: number): void =>
      phone.send(JSON.stringify({ type: 'act', act: { do: 'master', master: 'lamps', value } }));
    const { host, port } = server.osc();
    /** Does it, and says when, by this process's clock. */
    const does: Record<Hand, (on: boolean) => Promise<number>> = {
      key: (on) => inPage(on, 'key'),
      MIDI: (on) => inPage(on, 'note'),
      OSC: async (on) => {
        const b = Buffer.concat([Buffer.from('/flash\0\0,f\0\0', 'latin1'), Buffer.alloc(4)]);
        b.writeFloatBE(on ? 1 : 0, 12);
        const at = performance.now();
        await new Promise<void>((done) => udp.send(b, port, host, () => done()));
        return at;
      },
      phone: async (on) => {
        const at = performance.now();
        master(on ? 1 : 0);
        return at;
      },
    };
    /** In the page it happens when the page says, by the clock of the machine. */
    async function inPage(on: boolean, what: 'key' | 'note'): Promise<number> {
      const at = await page.evaluate(
        (down, which) => {
          if (which === 'note') (window as unknown as { playNote(on: boolean): void }).playNote(down);
          else
            document.body.dispatchEvent(
              new KeyboardEvent(down ? 'keydown' : 'keyup', { key: 'x', bubbles: true }),
            );
          return performance.timeOrigin + performance.now();
        },
        on,
        what,
      );
      return at - performance.timeOrigin;
    }
    master(0);
    await until('a lamp that is out', () => node.last?.level === 0);
    const took: Record<Hand, number[]> = { key: [], MIDI: [], OSC: [], phone: [] };
    for (const hand of HANDS)
      for (let i = 0; i < TIMES; i++) {
        const on = i % 2 === 0,
          at = await does[hand](on),
          packet = await until(`${hand} to ${on ? 'light' : 'darken'} it`, () =>
            node.seen.find((p) => p.at >= at && p.level === (on ? 255 : 0)),
          );
        took[hand].push(packet.at - at);
        // Not in step with the packets.
        await new Promise((r) => setTimeout(r, 60 + ((i * 37) % 50)));
      }
    phone.terminate();
    return took;
  } finally {
    udp.close();
    node.close();
    await v.close();
    await server.stop();
  }
}
