import { describe, it } from '@jest/globals';
import { withFerry } from './stage';
import { named, openMenu, textOf, until, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
  await v.page.keyboard.press('3');
});
/** Colours of the preview at places of the picture (from its lower left, in picture pixels), as `#rrggbb`. */
async function pixels(places: readonly (readonly [x: number, y: number])[]): Promise<string[]> {
  const canvas = (await v.page.waitForSelector('canvas[aria-label="The picture, live"]'))!;
  const { x, y, width, height } = (await canvas.boundingBox())!;
  const shot = await v.page.screenshot({ clip: { x, y, width, height }, encoding: 'base64' });
  return v.page.evaluate(async (data, at) => {
    const image = await createImageBitmap(await (await fetch(`data:image/png;base64,${data}`)).blob());
    const g = new OffscreenCanvas(image.width, image.height).getContext('2d')!;
    g.drawImage(image, 0, 0);
    return at.map(([px, py]) => `#${[...g.getImageData(Math.round((px / 1280) * image.width), Math.round((1 - py / 720) * image.height), 1, 1).data.slice(0, 3)].map((n) => n.toString(16).padStart(2, '0')).join('')}`);
  }, shot, places);
}
const near = (a: string, b: string): boolean => [1, 3, 5].every((i) => Math.abs(Number.parseInt(a.slice(i, i + 2), 16) - Number.parseInt(b.slice(i, i + 2), 16)) < 14);
async function addFigure(kind: string): Promise<void> {
  await openMenu(v.page, '+ figure');
  await v.page.$$eval('[role=menuitem]', (all, k) => { (all.find((e) => (e.textContent ?? '').startsWith(k)) as HTMLElement).click(); }, kind);
}
async function byHand(name: string, key: 'Home' | 'End', then: readonly ('ArrowRight' | 'ArrowLeft')[] = []): Promise<void> {
  await (await named(v.page, 'slider', `${name} by hand`)).focus();
  await v.page.keyboard.press(key);
  for (const k of then) await v.page.keyboard.press(k);
}

describe('a segmented meter', () => {
  // Middles of its twelve segments, a little to the right of the handle at its foot.
  const middles = Array.from({ length: 12 }, (_, i) => [660, 180 + i * 26 + 13] as const);
  it('lights whole segments from its foot upward, from its first ink to its last', async () => {
    await addFigure('Meter');
    await until('the meter', async () => (await textOf(v.page, '[aria-label="Selected figure"] h2')) === 'Meter');
    const unlit = '#1d3340';
    await until('all of it unlit', async () => (await pixels(middles)).every((c) => near(c, unlit)));
    await byHand('Meter · level', 'End');
    await until('all of it lit', async () => { const c = await pixels(middles); return near(c[0]!, '#6db5a9') && near(c[11]!, '#e8572a') && c.every((x) => !near(x, unlit)); });
    // 46 %: five and a half segments are reached, five are lit.
    await byHand('Meter · level', 'Home', Array<'ArrowRight'>(46).fill('ArrowRight'));
    await until('five of them lit', async () => (await pixels(middles)).map((c) => (near(c, unlit) ? 0 : 1)).join('') === '111110000000');
  });
});

describe('a needle dial', () => {
  it('points from lower left over the top to lower right', async () => {
    await addFigure('Dial');
    await until('the dial', async () => (await textOf(v.page, '[aria-label="Selected figure"] h2')) === 'Dial');
    // Halfway out along the needle, at 0, half and all of the sweep.
    const along = [210, 90, -30].map((d) => [640 + 55 * Math.cos((d * Math.PI) / 180), 360 + 55 * Math.sin((d * Math.PI) / 180)] as const);
    const dark = async (): Promise<string> => (await pixels(along)).map((c) => (Number.parseInt(c.slice(1, 3), 16) < 60 ? 'x' : '.')).join('');
    await until('at rest', async () => (await dark()) === 'x..');
    await byHand('Dial · reading', 'End');
    await until('at all', async () => (await dark()) === '..x');
    await byHand('Dial · reading', 'Home', Array<'ArrowRight'>(50).fill('ArrowRight'));
    await until('at half', async () => (await dark()) === '.x.');
  });
});

describe('the numbers', () => {
  it('of what moves are written on the picture when wanted, and the picture keeps its shape beside an open bench', async () => {
    await v.page.$$eval('[aria-label="Figures, back to front"] button', (all) => { (all.find((e) => (e.textContent ?? '').startsWith('Ferry')) as HTMLElement).click(); });
    await v.page.$$eval('button', (all) => { all.find((b) => b.textContent === 'numbers')!.click(); });
    await until('its height in px', async () => /height.*\d px/.test(await textOf(v.page, '[aria-label="Numbers of Ferry"]')));
    await v.page.$$eval('[aria-label="Selected figure"] button', (all) => { (all.find((b) => (b.textContent ?? '').startsWith('Low drum · 40–110 Hz')) as HTMLElement).click(); });
    await named(v.page, 'region', 'Bench');
    const canvas = (await v.page.waitForSelector('canvas[aria-label="The picture, live"]'))!;
    await until('16 to 9', async () => { const b = (await canvas.boundingBox())!; return Math.abs(b.width / b.height - 16 / 9) < 0.02; });
  });
});
