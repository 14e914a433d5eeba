/**
 * From a hand to a lamp and to the picture: how long after a key, a controller, a message or a phone the packet that tells of it
 * reaches a node on the network, and a pixel of this window's picture is another, in the running application. The browser's MIDI is stood in for, port and messages; everything behind it is real.
 */
import { createSocket } from 'node:dgram';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { WebSocket } from 'ws';
import { Node, wireTo } from '../../e2e/lampFaults';
import { openShowFile, playFerry, startServer, until, visit } from '../../e2e/support';
import { emptyShow } from '../../src/core/ferry';
import { EMPTY_MEMORY, type Grip, newFigure, type Show } from '../../src/core/show';
import { writeShowFile } from '../../src/data/showFile';

export const HANDS = ['key', 'MIDI', 'OSC', 'phone'] as const;
type Hand = (typeof HANDS)[number];
const TIMES = 40,
  /** By then a picture shows it, also where the processor draws. */
  PICTURE_MS = 350;
const nothing = (): Record<Hand, number[]> => ({ key: [], MIDI: [], OSC: [], phone: [] });

/** One lamp and a white picture behind a master that is down; a key, a note and a message flash it. */
function handShow(port: number): Show {
  const flash = { do: 'flash', master: 'all' } as const,
    touches: Grip['touch'][] = [
      { by: 'key', key: 'x' },
      { by: 'midi', device: 'port', message: 'note', channel: 1, number: 60 },
      { by: 'osc', address: '/flash', low: 0, high: 1 },
    ];
  return {
    ...emptyShow('hands', 'Hands'),
    figures: [
      newFigure('ground', 'Ground', { kind: 'ground' }, { x: 0, y: 0 }, { ink: '#ffffff', lines: 0 }),
    ],
    // Its flashes are quicker than three a second.
    flashLimit: null,
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

/** Notes each time the middle of this window's picture becomes light or dark, by the clock of the machine. In the page. */
function watchMiddle(): void {
  const seen: { at: number; on: boolean }[] = [],
    g = new OffscreenCanvas(1, 1).getContext('2d', { willReadFrequently: true })!;
  let was = false;
  const look = (): void => {
    // The picture is the canvas with a display’s shape, however small it is drawn where the processor does it.
    const canvas = [...document.querySelectorAll('canvas')].find(
      (c) => Math.abs(c.width / c.height - 16 / 9) < 0.05,
    );
    if (canvas) {
      g.drawImage(canvas, canvas.width / 2, canvas.height / 2, 1, 1, 0, 0, 1, 1);
      const on = g.getImageData(0, 0, 1, 1).data[0]! > 127;
      if (on !== was) seen.push({ at: performance.timeOrigin + performance.now(), on });
      was = on;
    }
    requestAnimationFrame(look);
  };
  look();
  Object.assign(window, { seen });
}

/** What was done with each hand, in milliseconds from each press and each letting go: to the packet, and to the pixel where it was seen. */
export interface HandsTook {
  readonly packet: Readonly<Record<Hand, number[]>>;
  readonly pixel: Readonly<Record<Hand, number[]>>;
}
export async function handsToOutputs(): Promise<HandsTook> {
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
      phone.send(JSON.stringify({ type: 'act', act: { do: 'master', master: 'all', value } }));
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
    await page.evaluate(watchMiddle);
    const took = nothing(),
      done: Record<Hand, { at: number; on: boolean }[]> = { key: [], MIDI: [], OSC: [], phone: [] };
    for (const hand of HANDS)
      for (let i = 0; i < TIMES; i++) {
        const on = i % 2 === 0,
          at = await does[hand](on),
          packet = await until(`${hand} to ${on ? 'light' : 'darken'} it`, () =>
            node.seen.find((p) => p.at >= at && p.level === (on ? 255 : 0)),
          );
        took[hand].push(packet.at - at);
        done[hand].push({ at: at + performance.timeOrigin, on });
        // Not in step with the packets, and long enough for a picture.
        await new Promise((r) => setTimeout(r, PICTURE_MS + ((i * 37) % 50)));
      }
    phone.terminate();
    const seen = await page.evaluate(
        () => (window as unknown as { seen: { at: number; on: boolean }[] }).seen,
      ),
      pixel = nothing();
    for (const hand of HANDS)
      for (const { at, on } of done[hand]) {
        const change = seen.find((s) => s.at > at && s.on === on);
        if (change && change.at - at < PICTURE_MS) pixel[hand].push(change.at - at);
      }
    return { packet: took, pixel };
  } finally {
    udp.close();
    node.close();
    await v.close();
    await server.stop();
  }
}
