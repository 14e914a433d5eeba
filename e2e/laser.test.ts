import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { WebSocket } from 'ws';
import { FRAME_SEEN, LASER_PAGE, SEEN_HEAD, SEEN_POINT, writeIlda } from '../src/core/protocols';
import { armLaser, openBeams, openLaser, pressSign, says } from './laserStage';
import { called } from './called';
import { withFerry } from './stage';
import {
  choose,
  enter,
  named,
  openMenu,
  press,
  redo,
  type Server,
  tap,
  textOf,
  undo,
  until,
  type Visit,
} from './support';

let v: Visit, server: Server;
withFerry(async (s, first) => {
  server = s;
  v = first;
  await openLaser(v.page);
});
const figures = (): Promise<string> => textOf(v.page, '[aria-label="Figures of the laser"]');
const side = (): Promise<string> => textOf(v.page, '[aria-label="The laser"]');
const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-laser-'));
async function give(name: string, content: string | Uint8Array): Promise<void> {
  const file = path.join(folder, name);
  writeFileSync(file, content);
  const input = (await v.page.$('input[aria-label="Drawing or frames"]')) as ElementHandle<HTMLInputElement>;
  await input.uploadFile(file);
}
const dark = (): Promise<true> =>
  until('it to be dark', async () => (await says(v.page)).startsWith('Dark') || null);
describe('a laser', () => {
  it('has the demo’s beams, and is dark: neither of the two acts arms it alone', async () => {
    expect(await figures()).toMatch(/River line.*Gulls.*Ferry’s name/);
    expect(await says(v.page)).toContain('It is not armed.');
    // The sign alone only goes there.
    await pressSign(v.page);
    await new Promise((r) => setTimeout(r, 400));
    expect(await says(v.page)).toContain('It is not armed.');
    await press(v.page, 'button', 'make ready');
    await until('the second act to be asked for', async () =>
      (await says(v.page)).includes('press the Laser sign'),
    );
    await press(v.page, 'button', 'not now');
    await dark();
  });
  it('draws when it is armed by both, in two places', async () => {
    // This machine may be held up between two looks, and has it dark again: both are looked at while it is lit.
    await openBeams(v.page);
    await until('the sign lit, with its numbers', async () => {
      await armLaser(v.page);
      return (
        (await textOf(v.page, '[aria-label=Signs]')).includes('lit') &&
        /[\d ]+ points\/s · \d+ pictures\/s/.test(await says(v.page))
      );
    });
  });
  it('goes dark by key 0, and is not lit again by itself', async () => {
    await openBeams(v.page);
    await until('the words', async () => {
      await armLaser(v.page);
      await v.page.keyboard.press('0');
      await dark();
      if ((await says(v.page)).includes('Dark was pressed')) return true;
      // Held up, it was dark before the key was there.
      await v.page.keyboard.press('0');
      return false;
    });
    await v.page.keyboard.press('0');
    await new Promise((r) => setTimeout(r, 800));
    expect(await says(v.page)).toMatch(/^Dark/);
  });
  it('is disarmed by its own button', async () => {
    await until('it to be disarmed', async () => {
      await armLaser(v.page);
      const button = await called(v.page, 'button', 'disarm');
      await button?.click();
      await until('it dark', async () => (await says(v.page)).startsWith('Dark'));
      return (await says(v.page)).includes('It was disarmed');
    });
  });
  it('is disarmed by a reload', async () => {
    await armLaser(v.page);
    await v.page.reload({ waitUntil: 'load' });
    await named(v.page, 'button', '1 Listen');
    await openLaser(v.page);
    await new Promise((r) => setTimeout(r, 600));
    expect(await says(v.page)).toMatch(/^Dark/);
  });
});

describe('figures of a laser', () => {
  it('of every kind are added, moved by a signal, twinned, laid aside and taken away; each is one step back', async () => {
    for (const [kind, name] of [
      ['ring', 'Ring'],
      ['fan of beams', 'Fan of beams'],
      ['points', 'Points'],
      ['figure of the picture', 'Figure of the picture'],
    ] as const) {
      await openMenu(v.page, '+ figure');
      await press(v.page, 'menuitem', kind);
      await until(name, async () => (await figures()).includes(name));
    }
    await choose(v.page, 'Figure of the picture', 'Moon');
    await until(
      'an outline',
      async () => (await v.page.$('[aria-label="Figures of the laser"] button[aria-pressed=true]')) !== null,
    );
    for (let i = 0; i < 5; i++) await undo(v.page);
    await until('them gone', async () => !(await figures()).includes('Ring'));
    await redo(v.page);
    await until('the ring again', async () => (await figures()).includes('Ring'));
    await tap(v.page, '[aria-label="Figures of the laser"] > :nth-child(4) button');
    await until('its panel', async () => (await side()).includes('ring of the laser'));
    await openMenu(v.page, '+ move this: Ring · size');
    await tap(v.page, '[role=menu] [role=menuitem]:not([aria-disabled=true])');
    await until('its route', async () => (await figures()).includes('1 route'));
    await v.page.keyboard.press('Escape');
    await press(v.page, 'button', 'mirrored twin');
    await until('its twin', async () => (await side()).includes('twin of Ring'));
    await press(v.page, 'button', 'do not draw it');
    await until('it off', async () => (await figures()).includes('off'));
    for (let i = 0; i < 4; i++) await undo(v.page);
    await until('all as it was', async () => !(await figures()).includes('Ring'));
  });
  it('come from drawings and from ILDA files; what is damaged or would run is said, and changes nothing', async () => {
    await give('gull.svg', '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0 L10 0 L5 8 Z"/></svg>');
    await until('the drawing', async () => (await side()).includes('gull.svg: one stroke'));
    const square = (r: number): Float32Array =>
      Float32Array.from(
        [0, 1, 2, 3, 0].flatMap((k) => {
          const a = (Math.PI / 2) * k;
          return [r * Math.cos(a), r * Math.sin(a), 1, 0.5, 0];
        }),
      );
    await give(
      'two.ild',
      writeIlda([
        { name: 'a', points: square(0.5) },
        { name: 'b', points: square(0.9) },
      ]),
    );
    await until('the frames', async () => (await side()).includes('two.ild: 2 frames'));
    const before = await figures();
    for (const [name, content, words] of [
      ['cut.ild', writeIlda([{ name: 'a', points: square(0.5) }]).slice(0, 50), 'nothing is changed'],
      [
        'run.svg',
        '<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>',
        'would run or be fetched',
      ],
      [
        'far.svg',
        '<svg xmlns="http://www.w3.org/2000/svg"><image href="http://a.example/x.png"/></svg>',
        'would run or be fetched',
      ],
      ['no.ild', 'something else', 'no ILDA section'],
    ] as const) {
      await give(name, content);
      await until(words, async () => {
        const said = (await textOf(v.page, 'body')).split(`“${name}” was not read`)[1];
        return said?.slice(0, 200).includes(words);
      });
    }
    expect(await figures()).toBe(before);
    await openMenu(v.page, 'save a frame');
    await press(v.page, 'menuitem', 'ILDA, with a palette (format 1)');
    await until('it saved', async () => (await textOf(v.page, 'body')).includes('Saved as laser-frame.ild'));
    await undo(v.page);
    await undo(v.page);
  });
});

describe('where a laser may shine', () => {
  const handle = (name: string): Promise<ElementHandle<Element>> => named(v.page, 'button', name);
  it('is set behind a code, by hand or by keys, step by step back, and kept by the server', async () => {
    await press(v.page, 'button', 'zones …');
    await press(v.page, 'button', 'use this code');
    await until('the least', async () =>
      (await textOf(v.page, '[role=dialog]')).includes('At least 4 signs'),
    );
    await v.page.type('[aria-label=Code]', 'night-ferry');
    await press(v.page, 'button', 'use this code');
    await until('the zones', async () => (await side()).includes('Where it may shine'));
    await press(v.page, 'button', '+ zone');
    await until('a zone', async () => (await side()).includes('zone 1'));
    await press(v.page, 'button', 'Remove zone 1');
    await until('none', async () => !(await side()).includes('zone 1'));
    await press(v.page, 'button', 'undo');
    await until('it again', async () => (await side()).includes('zone 1'));
    await press(v.page, 'button', 'undo');
    const at = async (): Promise<number> =>
      (await handle('Corner 3 of keep-out 1')).evaluate((e) => e.getBoundingClientRect().top);
    const from = await at();
    await (await handle('Corner 3 of keep-out 1')).focus();
    for (let i = 0; i < 3; i++) await v.page.keyboard.press('ArrowUp');
    await until('it higher', async () => (await at()) < from - 3);
    await press(v.page, 'button', 'undo');
    await until('it back', async () => Math.abs((await at()) - from) < 1);
    // The scanner's range is clear before it is wrong.
    await press(v.page, 'button', '+ Scanner');
    await enter(v.page, 'Points a second', '20000');
    await press(v.page, 'button', 'back to the figures');
    await server.restart();
    await until('the setting, locked', async () => (await side()).includes('make ready'));
    await until('the server', async () => (await says(v.page)).includes('not armed'));
    await press(v.page, 'button', 'zones …');
    await until('its lock', async () => (await textOf(v.page, '[role=dialog]')).includes('The laser’s lock'));
    await v.page.type('[aria-label=Code]', 'night-barge');
    await press(v.page, 'button', 'open');
    await until('that it is wrong', async () =>
      (await textOf(v.page, '[role=dialog]')).includes('not the code'),
    );
    await new Promise((r) => setTimeout(r, 1100));
    await v.page.focus('[aria-label=Code]');
    await v.page.keyboard.down('Control');
    await v.page.keyboard.press('a');
    await v.page.keyboard.up('Control');
    await v.page.type('[aria-label=Code]', 'night-ferry');
    await press(v.page, 'button', 'open');
    await until('the zones', async () => (await side()).includes('Where it may shine'));
    await press(v.page, 'button', '+ Scanner');
    expect(await textOf(v.page, '[aria-label="Points a second"]')).toContain('20000');
    await enter(v.page, 'Points a second', '30000');
    await press(v.page, 'button', 'back to the figures');
  });
  it('cuts what is drawn when a keep-out is dragged over it, as the projector’s mirrors tell', async () => {
    await openBeams(v.page);
    const mirrors = new Mirrors(server);
    const lit = async (low: number, high: number): Promise<boolean> => {
      await armLaser(v.page);
      const from = performance.now();
      await new Promise((r) => setTimeout(r, 250));
      return mirrors.seen.some((p) => p.at > from && p.y > low && p.y < high);
    };
    await until('gulls', () => lit(0.1, 0.4));
    await press(v.page, 'button', 'zones …');
    for (const corner of [3, 4]) {
      const grip = (await (await handle(`Corner ${corner} of keep-out 1`)).boundingBox())!,
        field = (await (await v.page.$('canvas[aria-label^="The laser’s field"]'))!.boundingBox())!,
        half = Math.min(field.width, field.height) / 2 - 22;
      await v.page.mouse.move(grip.x + 16, grip.y + 16);
      await v.page.mouse.down();
      await v.page.mouse.move(grip.x + 16, field.y + field.height / 2 - 0.5 * half, { steps: 6 });
      await v.page.mouse.up();
    }
    await press(v.page, 'button', 'back to the figures');
    const from = performance.now();
    await until('the name', () => lit(0.55, 0.9));
    // Mirrors overshoot by less than the margin that is kept.
    expect(mirrors.seen.filter((p) => p.at > from && p.y < 0.5)).toEqual([]);
    mirrors.close();
  });
  it('is seen on a page of its own, while the window that made it is behind', async () => {
    const page = await v.browser.newPage();
    await page.goto(new URL('/laser', server.url).href);
    await until('light on it', async () => {
      await v.page.bringToFront();
      await armLaser(v.page);
      await page.bringToFront();
      await new Promise((r) => setTimeout(r, 250));
      return page.evaluate(() => {
        const canvas = document.querySelector('canvas')!,
          { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
        for (let i = 0; i < data.length; i += 4) if (data[i]! + data[i + 1]! > 120) return true;
        return false;
      });
    });
    await v.page.bringToFront();
    await page.close();
  });
});

/** What the projector's mirrors drew lit, as its page is told. */
class Mirrors {
  readonly seen: { readonly at: number; readonly x: number; readonly y: number }[] = [];
  readonly #socket: WebSocket;
  constructor(at: Server) {
    this.#socket = new WebSocket(
      new URL(`/bridge?role=page&page=${LASER_PAGE}&key=${at.key()}`, at.url.replace(/^http/, 'ws')),
    );
    this.#socket.on('message', (m: Buffer, binary) => {
      if (!binary || m[0] !== FRAME_SEEN) return;
      for (let p = SEEN_HEAD; p < m.length; p += SEEN_POINT)
        if (m[p + 4]! + m[p + 5]! + m[p + 6]! > 0)
          this.seen.push({
            at: performance.now(),
            x: m.readInt16LE(p) / 27000,
            y: m.readInt16LE(p + 2) / 27000,
          });
    });
  }
  close(): void {
    this.#socket.terminate();
  }
}
