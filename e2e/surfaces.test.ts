import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import type { Page } from 'puppeteer-core';
import { bulgeAt, EDGE_REACH, glowAt } from '../src/core/figures';
import { PAGE_PROTOCOL } from '../src/core/protocols';
import { seeded } from '../src/core/random';
import { newEdgeForm, newFigure, type Figure } from '../src/core/show';
import { PAGE_HOLD_MS } from '../src/engine/memory/bridgePlan';
import {
  FIREFOX,
  flared,
  openFirefox,
  type PageBrowser,
  PageKit,
  type Pixels,
  settled,
  watched,
} from './pageKit';
import { until, visit } from './support';

const SIZE = { width: 640, height: 360 };
const edge = (change: object = {}, rest: Figure['rest'] = {}): Figure =>
  newFigure('edge', 'Edge', { ...newEdgeForm(SIZE), line: false, ...change }, { x: 320, y: 180 }, rest);
const ground = newFigure('ground', 'Ground', { kind: 'ground' }, { x: 0, y: 0 });

/** Whether the left half is the right one mirrored, and the upper the lower one, to the last bit. */
function mirrored({ width, height, data }: Pixels): { across: boolean; up: boolean } {
  const rows = Array.from({ length: height }, (_, y) => data.subarray(4 * y * width, 4 * (y + 1) * width));
  const turned = (row: Buffer): Buffer => {
    const words = new Uint32Array(row.buffer, row.byteOffset, width);
    return Buffer.from(Uint32Array.from(words).reverse().buffer);
  };
  return {
    across: rows.every((row) => turned(Buffer.from(row)).equals(row)),
    up: rows.every((row, y) => row.equals(rows[height - 1 - y]!)),
  };
}
const random = seeded(17);
const noise = (n: number): number[] => Array.from({ length: n }, () => random() * 60);

/** The same in each browser that is here. */
const BROWSERS: readonly (readonly [string, () => Promise<PageBrowser>])[] = [
  ['Chromium', () => visit(null)],
  ...(FIREFOX ? [['Firefox', openFirefox] as const] : []),
];
if (!FIREFOX)
  console.warn('Firefox is not here: pages are tried in Chromium alone. Install firefox-esr and xvfb.');

describe.each(BROWSERS)('a page in %s', (_, launch) => {
  let kit: PageKit, browser: PageBrowser, page: Page;
  beforeAll(async () => {
    kit = await PageKit.open();
    browser = await launch();
    page = (await browser.browser.pages())[0] ?? (await browser.browser.newPage());
    await page.setViewport(SIZE);
    kit.show({ figures: [edge()] });
    await page.goto(kit.address());
  });
  afterAll(async () => {
    await browser?.close();
    await kit?.close();
  });

  it('draws a plain frame in silence: closed, as thick as it says, open within', async () => {
    kit.show({ figures: [edge()] });
    kit.set();
    const p = await settled(page, 'the plain frame');
    expect([p.width, p.height]).toEqual([640, 360]);
    let wrong = 0;
    for (let y = 0; y < 360; y++)
      for (let x = 0; x < 640; x++) {
        const within = Math.min(x, y, 639 - x, 359 - y) < 26;
        if (p.alpha(x, y) !== (within ? 255 : 0)) wrong++;
      }
    expect(wrong).toBe(0);
  });

  it.each([
    ['a rectangle', {}],
    ['a rectangle with corners, both ways', { corner: 40, way: 'both', width: 480, height: 240 }],
    ['a ring', { outline: 'round', width: 260, height: 260, bulge: 'even', way: 'both' }],
    [
      'a drawing',
      {
        outline: 'drawing',
        width: 300,
        height: 240,
        drawing: [0, 1, 1, 0.2, 0.6, -1, -0.7, -0.8, -1, 0.3],
        way: 'both',
      },
    ],
  ])('is mirrored to the pixel, whatever the sound does: %s', async (__, change) => {
    kit.show({ figures: [edge(change)], rows: { 'edge/swell': 24 } });
    let before: Pixels | null = null;
    for (let i = 0; i < 4; i++) {
      kit.set(
        { 'edge/glow': 20 + 10 * i, 'edge/glowOut': 50, 'edge/thick': 8 + i },
        { 'edge/swell': noise(24) },
      );
      const last: Pixels | null = before;
      const p = await settled(page, 'another shape', (now) => last === null || !now.same(last));
      before = p;
      expect(mirrored(p)).toEqual({ across: true, up: true });
      expect(p.data.some((x) => x > 0)).toBe(true);
    }
  });

  it('cuts what is under it along the moving edge, to a pixel; its matte is the same', async () => {
    // With a border that does not show there is nothing but the cut.
    kit.show({ figures: [ground, edge({ cuts: true }, { thick: 0, shown: 0 })] });
    const swell = 60;
    kit.set({ 'edge/swell': swell });
    const p = await settled(
      page,
      'the cut',
      (now) => now.alpha(320, 20) === 0 && now.alpha(320, 180) === 255,
    );
    for (const x of [60, 140, 250, 320, 400, 555]) {
      const u = Math.abs(x + 0.5 - 320) / 320,
        // It reaches one pixel under the border, along the normal.
        slope = (swell * 4 * u * (1 - u * u)) / 320,
        edgeAt = swell * bulgeAt(u, 'middle') - Math.sqrt(1 + slope * slope);
      let first = 0;
      while (p.alpha(x, first) < 128) first++;
      expect(Math.abs(first - edgeAt)).toBeLessThanOrEqual(1);
    }
    const matte = await browser.browser.newPage();
    await matte.setViewport(SIZE);
    await matte.goto(kit.address('matte'));
    kit.set({ 'edge/swell': swell });
    const m = await settled(matte, 'the matte', (now) => now.red(320, 180) === 255 && now.red(320, 20) === 0);
    let wrong = 0;
    for (let y = 0; y < 360; y++)
      for (let x = 0; x < 640; x++)
        if (m.alpha(x, y) !== 255 || Math.abs(m.red(x, y) - p.alpha(x, y)) > 2) wrong++;
    expect(wrong).toBe(0);
    await matte.close();
  });

  it('lies upon what is under it, border and all, and sparks lie upon that', async () => {
    kit.show({ figures: [ground, edge({}, { ink: '#ff0000' })] });
    kit.set();
    await settled(
      page,
      'the frame on the ground',
      (p) =>
        p.red(5, 180) === 255 &&
        p.red(634, 180) === 255 &&
        p.alpha(320, 180) === 255 &&
        p.red(320, 180) < 100,
    );
    kit.show({ figures: [ground, edge({}, { ink: '#ff0000', thick: 0 })] });
    kit.set();
    await settled(page, 'no border', (now) => now.red(5, 180) < 100);
    const spark = await flared(page, 250);
    await until('a spark', () => {
      kit.event('edge/spark', 100);
      return spark();
    });
    await settled(page, 'it gone', (now) => !now.data.some((x, i) => i % 4 === 0 && x > 250));
  });

  it('glows along the edge as it is described, at right angles to it', async () => {
    kit.show({ figures: [edge()] });
    kit.set({ 'edge/glow': 100 });
    const p = await settled(
      page,
      'the glow',
      (now) => now.alpha(320, 30) > 0 && now.alpha(320, 180) === 0 && now.alpha(5, 180) === 255,
    );
    for (let d = 1; d < EDGE_REACH + 4; d++)
      // Straight down from the upper side and straight in from the left.
      for (const a of [p.alpha(320, 26 + d), p.alpha(26 + d, 180)])
        expect(Math.abs(a - 255 * glowAt(d + 0.5, EDGE_REACH))).toBeLessThanOrEqual(2);
    // Where the edge slants it is the distance at right angles that counts.
    kit.set({ 'edge/glow': 100, 'edge/swell': 120 });
    const q = await settled(page, 'the slanting glow', (now) => now.alpha(320, 150) > 128);
    const [hw, hh] = [320 - 26, 180 - 26],
      curve = (x: number): number => 120 * bulgeAt(Math.min(1, Math.abs(x) / hw), 'middle');
    for (const x of [-150, -90, 60, 120])
      for (const far of [6, 12]) {
        // The nearest point of the curve to a place below it, by looking closely.
        const y = hh - curve(x) - far * 1.05;
        let near = Infinity;
        for (let cx = x - 60; cx <= x + 60; cx += 0.05)
          near = Math.min(near, Math.hypot(cx - x, hh - curve(cx) - y));
        const a = q.alpha(Math.floor(320 + x), Math.floor(180 - y));
        expect(Math.abs(a / 255 - glowAt(near, EDGE_REACH))).toBeLessThan(0.09);
      }
  });

  it('moves each letter by its own band only', async () => {
    const letters = newFigure(
      'letters',
      'Letters',
      { kind: 'letters', text: 'I I I I', of: null, face: 'plain', wide: 0, align: 'middle', outline: 0 },
      { x: 320, y: 180 },
    );
    kit.show({ figures: [letters], rows: { 'letters/rise': 4 } });
    const columns = (p: Pixels): { top: number; left: number }[] => {
      const out: { top: number; left: number }[] = [];
      for (let x = 0, inside = false; x < 640; x++) {
        let top = -1;
        for (let y = 0; y < 360 && top < 0; y++) if (p.alpha(x, y) > 128) top = y;
        if (top < 0) inside = false;
        else if (!inside) {
          inside = true;
          out.push({ top, left: x });
        } else out.at(-1)!.top = Math.min(out.at(-1)!.top, top);
      }
      return out;
    };
    kit.set();
    const rest = columns(await settled(page, 'the letters at rest', (p) => columns(p).length === 4));
    for (let band = 0; band < 4; band++) {
      kit.set({}, { 'letters/rise': [0, 1, 2, 3].map((i) => (i === band ? 60 : 0)) });
      const now = columns(
        await settled(page, `letter ${band + 1} lifted`, (p) => {
          const c = columns(p);
          return c.length === 4 && c[band]!.top < rest[band]!.top - 30;
        }),
      );
      expect(now.map((c) => c.left)).toEqual(rest.map((c) => c.left));
      expect(now.map((c, i) => rest[i]!.top - c.top)).toEqual([0, 1, 2, 3].map((i) => (i === band ? 60 : 0)));
    }
  });

  it('blinks white, and is nothing between, to see how late it comes', async () => {
    kit.show({ figures: [edge()] });
    kit.set({}, {}, 1);
    await settled(page, 'all of it white', (p) => p.data.every((x) => x === 255));
    kit.set({}, {}, -1);
    await settled(page, 'nothing', (p) => p.data.every((x) => x === 0));
    kit.set();
    await settled(page, 'the frame', (p) => p.alpha(5, 180) === 255 && p.alpha(320, 180) === 0);
  });

  it('of another version than the server loads itself anew, once, and then says so', async () => {
    const other = await PageKit.open(undefined, '127.0.0.1', PAGE_PROTOCOL + 1),
      tab = await browser.browser.newPage();
    try {
      let loads = 0;
      tab.on('load', () => loads++);
      other.show({ figures: [edge()] });
      await tab.goto(other.address());
      const words = await until('words', () =>
        tab.$eval('[role=status]', (e) => ((e as HTMLElement).hidden ? '' : e.textContent)).catch(() => ''),
      );
      expect(words).toBe(
        'This page is of another version than the server that it looks at. Load it again once that is up to date.',
      );
      expect(loads).toBe(2);
    } finally {
      await tab.close();
      await other.close();
    }
  });

  it('holds while nobody drives, comes to rest gently, connects again by itself, and says in words what is gone', async () => {
    kit.show({ figures: [edge()] });
    kit.set({ 'edge/swell': 90 });
    const swollen = (p: Pixels): boolean => p.alpha(320, 26 + 60) === 255;
    await settled(page, 'the frame swollen', swollen);
    const { port } = kit,
      // However seldom a page gets to look: what it sees before it may let go is the frame that was.
      fell = await watched(page, 320, 26 + 60),
      left = Date.now();
    await kit.close();
    try {
      await settled(page, 'the frame at rest', (p) => p.alpha(320, 28) === 0 && p.alpha(320, 20) === 255);
      expect((await fell()) - left).toBeGreaterThanOrEqual(PAGE_HOLD_MS);
    } finally {
      kit = await PageKit.open(port);
    }
    kit.show({ figures: [edge()] });
    await until('the page back', () => kit.hub.count === 1);
    kit.set({ 'edge/swell': 90 });
    await settled(page, 'the frame swollen again', swollen);
    await until('who watches', () => {
      const [w] = kit.hub.watchers([`overlay/sheet`]);
      return w && w.name !== '' && w.picturesPerSecond! > 0;
    });
    kit.show(null);
    const words = await until('words', () =>
      page.$eval('[role=status]', (e) => ((e as HTMLElement).hidden ? '' : e.textContent)),
    );
    expect(words).toBe('This overlay is not in the show any more. Copy the address of another in Overlays.');
  });
});
