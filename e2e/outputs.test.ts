import { describe, expect, it } from '@jest/globals';
import { called } from './called';
import { withFerry } from './stage';
import {
  behind,
  choose,
  enter,
  Listener,
  named,
  press,
  textOf,
  undo,
  until,
  visit,
  type Server,
  type Visit,
} from './support';

let server: Server;
let v: Visit;
// A server that is started anew is not there for a moment; the browser says so by itself, once a try.
withFerry((s, first) => {
  server = s;
  v = first;
}, /WebSocket connection|ERR_CONNECTION_REFUSED/);
/** Channels of the two oldest lamps of the rail, as they arrived. */
const lamps = async (): Promise<number[]> =>
  (
    await v.page.$$eval(
      '[aria-label="Channels of Rail lamp left as received"], [aria-label="Channels of Rail lamp right as received"]',
      (all) => all.map((e) => e.textContent ?? ''),
    )
  ).flatMap((t) => t.trim().split(/\s+/).map(Number));
/** Mean brightness of a stretch of the page, 0 to 255, decoded by the browser itself. */
async function brightness(
  page: Visit['page'],
  clip: { x: number; y: number; width: number; height: number },
  decoder = v.page,
): Promise<number> {
  const shot = await page.screenshot({ clip, encoding: 'base64' });
  return decoder.evaluate(async (data) => {
    const image = await createImageBitmap(await (await fetch(`data:image/png;base64,${data}`)).blob());
    const g = new OffscreenCanvas(image.width, image.height).getContext('2d')!;
    g.drawImage(image, 0, 0);
    const px = g.getImageData(0, 0, image.width, image.height).data;
    let sum = 0;
    for (let i = 0; i < px.length; i += 4) sum += (px[i]! + px[i + 1]! + px[i + 2]!) / 3;
    return sum / (px.length / 4);
  }, shot);
}

/** What an overlay's page shows at a place of its 1280 × 720, with its alpha. */
const overlayPixel = (page: Pick<Visit['page'], '$eval'>, x: number, y: number): Promise<number[]> =>
  page.$eval(
    'canvas',
    (c, px, py) => {
      const g = new OffscreenCanvas(1280, 720).getContext('2d')!;
      g.drawImage(c as HTMLCanvasElement, 0, 0, 1280, 720);
      return [...g.getImageData(px, py, 1, 1).data];
    },
    x,
    y,
  );

describe('outputs', () => {
  it('the Rig shows what the simulated lamps decoded, and that they answer the poll', async () => {
    await v.page.keyboard.press('4');
    await named(v.page, 'heading', 'The deck, as its packets light it');
    await until('a burning lamp', async () => (await lamps()).some((x) => x > 60));
    await press(v.page, 'button', 'Wires');
    await until('the poll answered', async () => (await textOf(v.page, 'main')).includes('answers the poll'));
    await press(v.page, 'button', 'Pull the Art-Net cable');
    await until(
      'the sign to tell',
      async () =>
        (await called(v.page, 'button', 'Lamps trouble')) !== null &&
        (await textOf(v.page, 'header [role=alert]')).includes('cable is out'),
    );
    await press(v.page, 'button', 'Plug the Art-Net cable in');
    await until('the sign well again', async () => (await called(v.page, 'button', 'Lamps good')) !== null);
  });

  it('a lamp of another kind keeps its routes, and two that share a channel say so, with the way out', async () => {
    await v.page.keyboard.press('4');
    await press(v.page, 'button', 'Patch');
    const kind = (words: string): Promise<void> => choose(v.page, 'Kind of Rail lamp left', words);
    const alerts = (): Promise<string[]> =>
      v.page.$$eval('tbody [role=alert]', (all) => all.map((e) => e.textContent ?? ''));
    const routed = (): Promise<string> => textOf(v.page, '[aria-label="Selected lamp"]');
    expect(await routed()).toContain('Low drum · hit → 100 %');
    // Elsewhere in the same universe it is lit at once.
    await enter(v.page, 'Address of Rail lamp left', '60');
    await until('it lit at its new address', async () => (await lamps()).slice(0, 3).some((x) => x > 40));
    await undo(v.page);
    // One channel more reaches into the lamp beside it.
    await kind('colour lamp with white, 4 channels');
    await until('both to say so', async () => (await alerts()).length === 2);
    expect((await alerts())[0]).toContain('shared with Rail lamp right');
    // Until then neither is sent.
    await until('both dark', async () => (await lamps()).every((x) => x === 0));
    await press(v.page, 'button', 'Next free address for Rail lamp left');
    await until('neither to say so', async () => (await alerts()).length === 0);
    await until('both lit', async () => (await lamps()).filter((x) => x > 0).length >= 3);
    for (const words of ['colour lamp with white', 'Low drum · hit → 100 %', 'Voice · level'])
      expect(await routed()).toContain(words);
    for (let i = 0; i < 2; i++) await undo(v.page);
    await until('it as it was', async () => (await lamps()).length === 7);
  });

  it('an overlay works from another browser, without a safe address, opened before anything, with its image', () =>
    behind(v, async () => {
      const other = await visit(null, { host: 'stream.test' });
      try {
        await other.page.goto(`http://stream.test:${server.port}/overlay/frame?key=${server.key()}`, {
          waitUntil: 'load',
        });
        expect(
          await other.page.evaluate(() => [
            isSecureContext,
            getComputedStyle(document.body).backgroundColor,
            getComputedStyle(document.documentElement).backgroundColor,
          ]),
        ).toEqual([false, 'rgba(0, 0, 0, 0)', 'rgba(0, 0, 0, 0)']);
        const pixel = (x: number, y: number): Promise<number[]> => overlayPixel(other.page, x, y);
        await until('the frame', async () => (await pixel(4, 360))[3] === 255);
        expect((await pixel(640, 360))[3]).toBe(0); // nothing over the host
        await until("the badge's own ink", async () => {
          const [r, g, b] = await pixel(118, 602);
          return r! > 200 && g! > 150 && b! > 30;
        });
        // At rest it ends 75 pixels above its middle; each stroke takes it beyond.
        await until('it to move with the drums', async () => (await pixel(118, 602 - 80))[3]! > 128);
        // A bridge that is started anew: the page finds it by itself.
        await server.restart();
        const listener = new Listener(server, 'frame');
        await until('values again', () => listener.frames > 5);
        listener.close();
        expect((await pixel(4, 360))[3]).toBe(255);
        const refused = await other.page.goto(`http://stream.test:${server.port}/overlay/frame?key=wrong`);
        expect(refused!.status()).toBe(403);
        expect((await other.page.goto(`http://stream.test:${server.port}/`))!.status()).toBe(403);
        expect(other.strangers).toEqual([]);
      } finally {
        await other.close();
      }
    }));

  it('the stand-in streaming page shows the overlay over the camera, and names are redirected to the one address', () =>
    behind(v, async () => {
      const other = await visit(`http://localhost:${server.port}/`);
      try {
        expect(other.page.url()).toBe(server.url);
        await other.page.goto(`${server.url}stream/frame?key=${server.key()}`, { waitUntil: 'load' });
        await until('the overlay in the stream', async () => {
          const frame = other.page.frames().find((f) => f.url().includes('/overlay/'));
          return frame && (await overlayPixel(frame, 4, 360).catch(() => [0, 0, 0, 0]))[3] === 255;
        });
      } finally {
        await other.close();
      }
    }));

  it('every hit reaches an overlay page by itself, however seldom it draws', async () => {
    const other = await visit(null);
    const listener = new Listener(server, 'frame');
    try {
      await v.page.keyboard.press('1');
      await named(v.page, 'button', 'Pause');
      await v.page.keyboard.press('Space');
      await named(v.page, 'button', 'Play');
      await until('the last hit passed on', async () => {
        const n = listener.arrivals.length;
        await new Promise((r) => setTimeout(r, 500));
        return n === listener.arrivals.length;
      });
      listener.arrivals.length = 0;
      await other.page.goto(`${server.url}overlay/frame?key=${server.key()}`, { waitUntil: 'load' });
      const sparks = async (): Promise<number> =>
        Number(await other.page.$eval('canvas', (c) => c.dataset.arrived ?? 'NaN'));
      await until('the page to draw', async () => (await sparks()) === 0);
      await v.page.keyboard.press('Space');
      await until('eight hits', () => listener.arrivals.length >= 8);
      await v.page.keyboard.press('Space');
      await until('a spark of each', async () => {
        const n = listener.arrivals.length;
        await new Promise((r) => setTimeout(r, 500));
        return n === listener.arrivals.length && (await sparks()) === n;
      });
      const times = listener.arrivals.map(([t]) => t);
      expect(new Set(times).size).toBe(times.length);
      expect(times).toEqual([...times].sort((a, b) => a - b));
      expect(listener.arrivals.every(([, value]) => value > 0 && value <= 100)).toBe(true);
      expect(new Set(listener.arrivals.map(([, value]) => value)).size).toBeGreaterThan(2);
      await v.page.keyboard.press('Space');
    } finally {
      listener.close();
      await other.close();
    }
  });

  it('a page on another machine draws the very picture of a screen, without a safe address or shared memory', async () => {
    const other = await visit(null, { host: 'stream.test' });
    try {
      const address = `http://stream.test:${server.port}/picture/screen-main?key=`;
      expect((await other.page.goto(`${address}wrong`))!.status()).toBe(403);
      await other.page.goto(`${address}${server.key()}`, { waitUntil: 'load' });
      expect(await other.page.evaluate(() => [isSecureContext, typeof SharedArrayBuffer])).toEqual([
        false,
        'undefined',
      ]);
      const small = (page: Visit['page']): Promise<number[]> =>
        page.evaluate(() => {
          const g = new OffscreenCanvas(32, 18).getContext('2d')!;
          g.drawImage(document.querySelector('canvas')!, 0, 0, 32, 18);
          return [...g.getImageData(0, 0, 32, 18).data].filter((_, i) => i % 4 < 3);
        });
      const mean = (x: number[]): number => x.reduce((n, y) => n + y, 0) / x.length;
      const apart = (a: number[], b: number[]): number => mean(a.map((x, i) => Math.abs(x - b[i]!)));
      await until('its picture', async () => mean(await small(other.page)) > 20);
      const before = await small(other.page);
      await until('it to move', async () => apart(before, await small(other.page)) > 0.5);
      // The window beside it, with both held.
      const opened = new Promise<Visit['page']>((done) =>
        v.browser.once('targetcreated', (t) => void t.page().then((p) => done(p!))),
      );
      await v.page.bringToFront();
      await v.page.keyboard.press('3');
      await press(v.page, 'button', 'Screens …');
      await press(v.page, 'button', 'Screen on another machine');
      await until('the page counted', async () =>
        (await textOf(v.page, '[role=dialog]')).includes('One page draws the picture now.'),
      );
      await press(v.page, 'button', 'Open');
      const screen = await opened;
      await until('the picture of the window', async () => mean(await small(screen)) > 20);
      await v.page.bringToFront();
      await v.page.keyboard.press('Escape');
      await v.page.keyboard.press('9');
      await named(v.page, 'button', 'Freeze everything is held');
      await screen.bringToFront();
      await until('the same picture', async () => apart(await small(screen), await small(other.page)) < 2);
      const held = await small(screen),
        mirrored = Array.from({ length: held.length / 3 }, (_, i) => {
          const row = Math.floor(i / 32) * 32,
            from = (row + 31 - (i % 32)) * 3;
          return held.slice(from, from + 3);
        }).flat();
      expect(apart(held, mirrored)).toBeGreaterThan(8);
      await screen.close();
      await v.page.bringToFront();
      await v.page.keyboard.press('9');
      await v.page.keyboard.press('0');
      await until('it dark', async () => mean(await small(other.page)) < 1);
      await v.page.keyboard.press('0');
      await until('it bright again', async () => mean(await small(other.page)) > 20);
      expect(other.strangers).toEqual([]);
    } finally {
      await other.close();
    }
  });

  it('a screen has its own picture; dark takes out picture, lamps and overlay, and freeze holds them', async () => {
    await v.page.keyboard.press('3');
    await press(v.page, 'button', 'Screens …');
    await named(v.page, 'button', 'Open');
    const opened = new Promise<Visit['page']>((done) =>
      v.browser.once('targetcreated', (t) => {
        void t.page().then((p) => done(p!));
      }),
    );
    await press(v.page, 'button', 'Open');
    const screen = await opened;
    await screen.setViewport({ width: 640, height: 360 });
    const all = { x: 0, y: 0, width: 640, height: 360 };
    await until("the screen's picture", async () => (await brightness(screen, all)) > 20);
    expect(await screen.evaluate(() => document.querySelectorAll('button, a, input').length)).toBe(0);
    // The control window is loaded anew: the screen keeps its picture, without a blink, and follows the new one by itself.
    await screen.evaluate(() => {
      const g = new OffscreenCanvas(16, 9).getContext('2d', { willReadFrequently: true })!,
        seen = { darkest: 255, looks: 0, timer: 0 };
      Object.assign(window, { seen });
      seen.timer = window.setInterval(() => {
        g.clearRect(0, 0, 16, 9);
        g.drawImage(document.querySelector('canvas')!, 0, 0, 16, 9);
        const px = g.getImageData(0, 0, 16, 9).data;
        let sum = 0;
        for (let i = 0; i < px.length; i += 4) sum += (px[i]! + px[i + 1]! + px[i + 2]!) / 3;
        seen.darkest = Math.min(seen.darkest, sum / (px.length / 4));
        seen.looks++;
      }, 15);
    });
    const seen = (): Promise<{ darkest: number; looks: number; timer: number }> =>
      screen.evaluate(
        () => (window as unknown as { seen: { darkest: number; looks: number; timer: number } }).seen,
      );
    await until('looks before', async () => (await seen()).looks > 10);
    await v.page.reload({ waitUntil: 'load' });
    await named(v.page, 'button', '4 Rig');
    await screen.bringToFront();
    await until('the screen to move again', async () => {
      const a = await screen.screenshot({ encoding: 'base64' });
      await until('the next picture', () => new Promise((r) => setTimeout(() => r(true), 60)));
      return (await screen.screenshot({ encoding: 'base64' })) !== a;
    });
    const { darkest, timer } = await seen();
    await screen.evaluate((t) => clearInterval(t), timer);
    expect(darkest).toBeGreaterThan(20);
    const listener = new Listener(server, 'frame');
    await v.page.bringToFront();
    await v.page.keyboard.press('4');
    await v.page.waitForSelector('tbody');

    await v.page.keyboard.press('0');
    await until('the lamps out', async () => {
      const [r, g, b, d] = await lamps();
      return r === 0 && g === 0 && b === 0 && d === 0;
    });
    await until('the overlay told that it is dark', () => listener.dark);
    await until(
      'the overlay plain',
      () =>
        listener.number('frame-edge/swell') === 0 &&
        listener.number('frame-edge/glow') === 0 &&
        listener.number('third-appears/in') === 0 &&
        listener.number('frame-edge/shown') === 100,
    );
    await until('the screen black', async () => (await brightness(screen, all)) < 1);
    await v.page.bringToFront();
    await v.page.keyboard.press('0');
    await until('the screen back', async () => (await brightness(screen, all)) > 20);
    await v.page.bringToFront();
    await until('the lamps back', async () => (await lamps()).some((x) => x > 10));
    await until('the overlay told of it', () => !listener.dark);

    await v.page.keyboard.press('9');
    await until('freeze', async () => (await called(v.page, 'button', 'Freeze everything is held')) !== null);
    await until('everything to be held', async () => {
      const a = (await lamps()).join();
      await until('more ticks', async () => {
        const n = await textOf(v.page, '[aria-label=Inputs]');
        return n !== undefined;
      });
      return a === (await lamps()).join();
    });
    await v.page.keyboard.press('9');
    const held = (await lamps()).join();
    await until('movement again', async () => (await lamps()).join() !== held);
    listener.close();
    await screen.close();
  });
});
