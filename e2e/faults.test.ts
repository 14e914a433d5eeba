import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { createSocket } from 'node:dgram';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { WebWorker } from 'puppeteer-core';
import { EMPTY_MEMORY, type Show } from '../src/core/show/types';
import { writeShowFile } from '../src/data/showFile';
import type { MeasureHandle } from '../src/ui/state/session';
import { Word } from '../src/engine/memory/control';
import { crowdShow } from './crowd';
import {
  named,
  openShowFile,
  playFerry,
  startServer,
  textOf,
  threadOf,
  until,
  visit,
  type Server,
  type Visit,
} from './support';

let server: Server;
let at: Visit;
beforeAll(async () => {
  server = await startServer();
  at = await visit(server.url);
  await playFerry(at.page);
});
afterAll(async () => {
  await at?.close();
  await server?.stop();
});

const word = (w: Word): Promise<number> =>
  at.page.evaluate(
    (k) => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.word(k as never),
    w as number,
  );
/** The worker that is the conductor, or another that bears such a word in its address. */
const worker = (is: string): Promise<WebWorker> => threadOf(at.page, is);
const ticks = (): Promise<number> => word(Word.Ticks);
/** Ticks go on by themselves. */
async function goesOn(): Promise<void> {
  const from = await ticks();
  await until('the show goes on', async () => (await ticks()) > from + 50);
}
const alerts = (): Promise<string> => textOf(at.page, '[role=alert]');

describe('when something fails inside', () => {
  it('a tick that throws is told in a sign with its remedy, the show goes on, and the sign clears by itself', async () => {
    const conductor = await worker('conductor');
    await conductor.evaluate(() => {
      const set = Float32Array.prototype.set;
      let left = 40;
      Float32Array.prototype.set = function (this: Float32Array, ...args: Parameters<typeof set>) {
        if (left-- > 0) throw new Error('made to fail');
        return set.apply(this, args);
      };
    });
    await until('a sign that says so', async () => (await alerts()).includes('made to fail'));
    expect(await alerts()).toContain('Undo your last edit');
    await goesOn();
    await until('the sign clears', async () => !(await alerts()).includes('made to fail'));
  });

  it('an audio graph that was closed is told, the show goes on, and the next press makes another', async () => {
    const audio = (): Promise<number> => word(Word.AudioBlocks);
    await at.page.evaluateOnNewDocument(() => {
      const Own = AudioContext,
        made: AudioContext[] = [];
      Object.assign(window, {
        graphs: made,
        AudioContext: class extends Own {
          constructor(options?: AudioContextOptions) {
            super(options);
            made.push(this);
          }
        },
      });
    });
    await at.page.reload({ waitUntil: 'load' });
    await named(at.page, 'button', '1 Listen');
    const press = (): Promise<void> => at.page.mouse.click(400, 90);
    await press();
    const runs = async (): Promise<boolean> => {
      const from = await audio();
      await until('the next look', () => new Promise((r) => setTimeout(() => r(true), 100)));
      return (await audio()) > from;
    };
    await until('the sound', runs);
    await at.page.evaluate(() => (window as unknown as { graphs: AudioContext[] }).graphs.at(-1)!.close());
    await until('it to stand still', async () => !(await runs()));
    await goesOn();
    await until('the sign to tell', async () => (await alerts()).includes('The sound has stopped.'));
    await press();
    await until('the sound again', runs);
    await until('the sign clears', async () => !(await alerts()).includes('The sound has stopped.'));
    await goesOn();
  });

  it.each([
    ['conductor', 'The show’s thread had stopped'],
    ['outlets', 'The outputs’ thread had stopped'],
  ])('%s that stands still is started again, and said so', async (is, words) => {
    const before = await worker(is);
    const stopped = performance.now();
    void before
      .evaluate(() => {
        for (;;);
      })
      .catch(() => undefined);
    await until('the words', async () => (await textOf(at.page, 'body')).includes(words));
    const took = performance.now() - stopped;
    await goesOn();
    // Found within 0.6 s and started again at once; the rest is what a shared machine takes for it.
    expect(took).toBeLessThan(10000);
  });

  it('pictures and lamps follow the conductor that was started again', async () => {
    await named(at.page, 'button', '4 Rig').then((b) => b.click());
    await named(at.page, 'button', 'Wires').then((b) => b.click());
    await until('lamps that are lit by their packets', () =>
      at.page.evaluate(() => /packets/i.test(document.body.textContent ?? '')),
    );
    const packets = async (): Promise<number> =>
      Number(((await textOf(at.page, 'main')).match(/([\d,. ]+) packets/)?.[1] ?? 'x').replace(/\D/g, ''));
    const before = await until('a count of packets', packets);
    await until('more packets', async () => (await packets()) > before + 20);
    const noise = at.noise.filter((n) => !n.includes('made to fail'));
    expect(noise).toEqual([]);
  });

  it('a fader on the network moves a lamp while the window stands still for two seconds', async () => {
    const node = createSocket('udp4'),
      fader = createSocket('udp4');
    try {
      await new Promise<void>((done) => node.bind(0, '127.0.0.1', () => done()));
      let dimmer = -1;
      // ArtDmx: the channels follow its head of 18 bytes.
      node.on('message', (m) => {
        if (m.readUInt16LE(8) === 0x5000) dimmer = m[18]!;
      });
      const base = crowdShow(2);
      const show: Show = {
        ...base,
        id: 'fader',
        name: 'Fader',
        makers: [
          {
            id: 'knob',
            name: 'Knob',
            making: { kind: 'slider', touch: { by: 'osc', address: '/deck/fader', low: 0, high: 1 } },
          },
        ],
        fixtures: [
          { ...base.fixtures[0]!, id: 'lamp-1', mode: 'drgb', universe: 0, address: 1, rest: { dimmer: 0 } },
        ],
        routes: [
          {
            ...base.routes[0]!,
            signal: 'knob',
            target: { thing: 'lamp-1', parameter: 'dimmer' },
            shaping: { amount: 1 },
            reach: 100,
          },
        ],
        wires: [
          {
            ...base.wires[0]!,
            target: { kind: 'network', host: '127.0.0.1', port: node.address().port },
          },
        ],
      };
      const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-fader-')), 'fader.batucada');
      const packed = await writeShowFile({ show, memory: EMPTY_MEMORY, media: [] });
      writeFileSync(file, new Uint8Array(await packed.arrayBuffer()));
      await openShowFile(at.page, file);
      await until('the lamp at rest', () => dimmer === 0);
      const move = (value: number): Promise<void> =>
        new Promise((done) => {
          const b = Buffer.concat([Buffer.from('/deck/fader\0,f\0\0', 'latin1'), Buffer.alloc(4)]);
          b.writeFloatBE(value, 16);
          fader.send(b, server.osc().port, server.osc().host, () => done());
        });
      await until('the fader to move it', async () => {
        await move(0.2);
        return dimmer === 51;
      });
      let stands = true;
      const still = at.page
        .evaluate(() => {
          const end = performance.now() + 2000;
          while (performance.now() < end);
        })
        .then(() => {
          stands = false;
        });
      await move(0.8);
      await until('the lamp to follow', () => dimmer === 204);
      expect(stands).toBe(true);
      await still;
    } finally {
      node.close();
      fader.close();
    }
  });
});
