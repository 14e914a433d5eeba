import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Show } from '../src/core/show';
import { pixelsOf } from './pageKit';
import {
  choose,
  named,
  openMenu,
  playFerry,
  press,
  type Server,
  startServer,
  tap,
  textOf,
  undo,
  until,
  type Visit,
  visit,
} from './support';

let server: Server, v: Visit;
const downloads = mkdtempSync(path.join(os.tmpdir(), 'batucada-downloads-'));
beforeAll(async () => {
  server = await startServer({ demo: true });
  v = await visit(server.url);
  const client = await v.page.createCDPSession();
  await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: downloads });
  await playFerry(v.page);
  await v.page.keyboard.press('5');
});
afterAll(async () => {
  await v?.close();
  await server?.stop();
});

const show = (): Promise<Show> =>
  v.page.evaluate(() => (window as unknown as { batucadaMeasure: { show(): Show } }).batucadaMeasure.show());
const saved = (end: string): Promise<string> =>
  until(`a file ${end}`, () => {
    const name = readdirSync(downloads).find((f) => f.endsWith(end));
    return name && path.join(downloads, name);
  });

describe('the overlays’ place', () => {
  it('begins with something that moves: a start is an overlay of its own, undone in one step', async () => {
    await openMenu(v.page, '+ overlay');
    await press(
      v.page,
      'menuitem',
      'A talking badge A round badge in the corner whose edge swells while somebody talks, with a face for your own image.',
    );
    const made = await until('it', async () =>
      (await show()).overlays.find((o) => o.name === 'Talking badge'),
    );
    const s = await show(),
      own = s.figures.filter((f) => f.surface === made.id);
    expect(own.map((f) => f.form.kind)).toEqual(['print', 'edge']);
    for (const f of own) expect(s.routes.some((r) => r.target.thing === f.id)).toBe(true);
    await undo(v.page);
    await until('it gone', async () => (await show()).overlays.length === 1);
    expect((await show()).figures.some((f) => f.surface === made.id)).toBe(false);
  });

  it('lets the meter bump and appear in one press each, with ordinary routes left behind', async () => {
    await tap(v.page, '[role=listitem] button[title^="segmented meter"]');
    await press(v.page, 'button', 'Bump …');
    await choose(v.page, 'signal', 'Voice · level');
    await choose(v.page, 'direction', 'shrinks');
    await press(v.page, 'button', 'Bump');
    const bumped = await until('the route', async () =>
      (await show()).routes.find((r) => r.target.thing === 'bell-meter' && r.target.parameter === 'size'),
    );
    const meter = (await show()).figures.find((f) => f.id === 'bell-meter')!;
    // Downwards: it rests at its largest, and goes to its smallest.
    expect([bumped.signal, bumped.reach, meter.rest.size]).toEqual(['voice-level', 0.6, 0.75]);
    await press(v.page, 'button', 'Appears …');
    await choose(v.page, 'signal', 'The host speaks');
    await choose(v.page, 'way', 'rise');
    await press(v.page, 'button', 'Let it appear');
    const finish = await until('the finish', async () =>
      (await show()).finishes.find((f) => f.on === 'bell-meter'),
    );
    expect(finish.form).toEqual({ kind: 'appear', way: 'rise' });
    expect((await show()).routes.some((r) => r.signal === 'speaks' && r.target.thing === finish.id)).toBe(
      true,
    );
    await undo(v.page);
    await undo(v.page);
    await until('as it was', async () => !(await show()).finishes.some((f) => f.on === 'bell-meter'));
  });

  it('is driven by another sound in one place; what else those ears move keeps theirs', async () => {
    await press(v.page, 'button', 'Whole overlay addresses, size');
    const before = await show();
    await choose(v.page, 'Instead of Host’s voice', 'Deck stems');
    const after = await until('other ears', async () => {
      const s = await show();
      return s.ears.length > before.ears.length ? s : null;
    });
    const inputOf = (s: Show, thing: string, parameter: string): string => {
      const r = s.routes.find((x) => x.target.thing === thing && x.target.parameter === parameter)!;
      return s.ears.find((e) => e.id === r.signal.split('/')[0])!.input;
    };
    expect(inputOf(after, 'frame-edge', 'swell')).toBe('deck');
    expect(inputOf(after, 'third-appears', 'in')).toBe('deck');
    expect(inputOf(after, 'ferry', 'glow')).toBe('host');
    await undo(v.page);
    await until('as it was', async () => (await show()).ears.length === before.ears.length);
  });

  it('shows the camera itself, cut by the edge, and gives a matte of it', async () => {
    await press(v.page, 'button', 'Show the camera here');
    const s = await until('the camera', async () => {
      const now = await show();
      return now.figures.some((f) => f.surface === 'frame' && f.form.kind === 'camera') ? now : null;
    });
    const own = s.figures.filter((f) => f.surface === 'frame');
    expect(own[0]!.form.kind).toBe('camera'); // behind all that is on it
    expect(own.find((f) => f.id === 'frame-edge')!.form).toMatchObject({ cuts: true });
    const matte = await v.browser.newPage();
    await matte.setViewport({ width: 640, height: 360 });
    await matte.goto(`${server.url}matte/frame?key=${server.key()}`);
    await until('its middle white and its rim black', async () => {
      const p = await pixelsOf(matte);
      return p.red(p.width >> 1, p.height >> 1) === 255 && p.red(2, 2) === 0 && p.alpha(2, 2) === 255;
    });
    await matte.close();
    await v.page.bringToFront();
    await undo(v.page);
  });

  it('takes a figure of the picture over, with its routes, and keeps it through a reload', async () => {
    await v.page.keyboard.press('3');
    await tap(v.page, '[role=listitem] button[title^="glowing lanterns"]');
    await choose(v.page, 'copy to', 'Host frame');
    const copy = await until('the copy', async () =>
      (await show()).figures.find((f) => f.surface === 'frame' && f.form.kind === 'lanterns'),
    );
    const aims = (s: Show, thing: string): string[] =>
      s.routes.filter((r) => r.target.thing === thing).map((r) => `${r.signal} ${r.target.parameter}`);
    const now = await show();
    expect(aims(now, copy.id)).toEqual(aims(now, 'lanterns'));
    await until('it saved', async () => (await textOf(v.page, 'body')).length > 0);
    await v.page.reload({ waitUntil: 'load' });
    await named(v.page, 'button', '5 Overlays');
    await until('it there again', async () => (await show()).figures.some((f) => f.id === copy.id));
    await v.page.keyboard.press('5');
    await undo(v.page);
    await until('it gone', async () => !(await show()).figures.some((f) => f.id === copy.id));
  });

  it('keeps stills and recordings in which what is open stays open', async () => {
    await press(v.page, 'button', 'Whole overlay addresses, size');
    await named(v.page, 'image', 'The overlay, live');
    await until('it drawn', async () => /· [1-9]\d* frames\/s here/.test(await textOf(v.page, 'main')));
    await press(v.page, 'button', 'Keep a still');
    const still = await alphas(
      `data:image/png;base64,${readFileSync(await saved('.png')).toString('base64')}`,
      'img',
    );
    expect(still).toEqual({ rim: 255, middle: 0 });
    await press(v.page, 'button', 'Record, transparent');
    await until('some of it', async () =>
      /End the recording · 0:0[2-9]/.test(await textOf(v.page, '[aria-label="Record and keep"]')),
    );
    await tap(v.page, '[aria-label="Record and keep"] button');
    const film = readFileSync(await saved('.webm')).toString('base64');
    expect(await alphas(`data:video/webm;base64,${film}`, 'video')).toEqual({ rim: 255, middle: 0 });
  });
});

/** How much there is at the rim and in the middle of an image, or of a film’s picture, of the size that the overlay has. */
function alphas(url: string, kind: 'img' | 'video'): Promise<{ rim: number; middle: number }> {
  return v.page.evaluate(
    async (src, what) => {
      const g = new OffscreenCanvas(1280, 720).getContext('2d')!;
      if (what === 'img') {
        const image = new Image();
        image.src = src;
        await image.decode();
        g.drawImage(image, 0, 0, 1280, 720);
      } else {
        const film = document.createElement('video');
        film.muted = true;
        film.src = src;
        await film.play();
        await new Promise((done) => film.requestVideoFrameCallback(done));
        g.drawImage(film, 0, 0, 1280, 720);
      }
      const alpha = (x: number, y: number): number => {
        const a = g.getImageData(x, y, 1, 1).data[3]!;
        return a > 245 ? 255 : a < 10 ? 0 : a;
      };
      return { rim: alpha(640, 5), middle: alpha(640, 300) };
    },
    url,
    kind,
  );
}
