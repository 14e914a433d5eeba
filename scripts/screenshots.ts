/** npm run screenshots: one picture of each main view from the demo, into docs/screenshots. */
import { mkdirSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { stillPng } from '../e2e/board';
import { EXAMPLES } from '../src/core/ferry/examples';
import { armLaser, openLaser } from '../e2e/laserStage';
import { named, playFerry, press, startServer, until, visit, type Visit } from '../e2e/support';

const folder = path.join(process.cwd(), 'docs/screenshots');
mkdirSync(folder, { recursive: true });
const server = await startServer({ demo: true });
const v: Visit = await visit(server.url, { autoplay: true, card: true });
const shoot = (name: string): Promise<unknown> =>
  v.page.screenshot({ path: path.join(folder, `${name}.png`) as `${string}.png` });
/** Waits for a place in the sound where all drums play and the tape is full. */
const lively = (): Promise<unknown> =>
  until(
    'the drums in full',
    async () => {
      const at = await v.page.evaluate(
        () => document.querySelector('[aria-label=Playing]')?.textContent?.match(/([\d.]+) \//)?.[1],
      );
      return at !== undefined && Number(at) > 12 && Number(at) < 15;
    },
    60000,
  );
/** Paper grain makes large files: two thirds of the size are enough to look at. */
const smaller = (png: string): Promise<string> =>
  v.page.evaluate(async (data) => {
    const image = await createImageBitmap(await (await fetch(`data:image/png;base64,${data}`)).blob(), {
        resizeWidth: 800,
        resizeQuality: 'high',
      }),
      canvas = new OffscreenCanvas(image.width, image.height);
    canvas.getContext('2d')!.drawImage(image, 0, 0);
    const bytes = new Uint8Array(await (await canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
    let text = '';
    for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return btoa(text);
  }, png);
/** Of the small shows some have no picture: there would be too many. */
const UNPICTURED: readonly string[] = ['example-sounder', 'example-lamproom', 'example-pilot'];
const settle = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms));

try {
  await named(v.page, 'button', 'Play the ferry');
  await settle(6000);
  await shoot('opening');
  // The picture alone, for the next opening page to show before anything is drawn.
  const picture = (await v.page.$('canvas'))!;
  await v.page.evaluate(() => {
    document.querySelector('canvas')!.parentElement!.style.clipPath = 'none';
  });
  await picture.screenshot({
    path: path.join(process.cwd(), 'public/opening.webp') as `${string}.webp`,
    type: 'webp',
    quality: 80,
  });
  await playFerry(v.page);
  await press(v.page, 'button', '1 Listen');
  await lively();
  const field = (await (await v.page.$('[role=application]'))!.boundingBox())!;
  await v.page.mouse.move(field.x + field.width * 0.36, field.y + 90);
  await v.page.mouse.down();
  await v.page.mouse.move(field.x + field.width * 0.5, field.y + 90, { steps: 5 });
  await v.page.mouse.up();
  await settle(800);
  await shoot('listen');
  await v.page.keyboard.press('Escape');
  await press(v.page, 'button', '+ ear');
  await settle(900);
  await shoot('ears');
  await press(v.page, 'button', 'Five');
  await settle(2500);
  await shoot('ear');
  await v.page.keyboard.press('Escape');
  await v.page.keyboard.press('2');
  await v.page.waitForSelector('[data-parameter="ferry/height"]');
  await v.page.click('[data-parameter="ferry/height"]');
  await settle(1500);
  await shoot('route');
  await v.page.keyboard.press('Escape');
  await v.page.keyboard.press('3');
  await settle(2500);
  await shoot('picture');
  await press(v.page, 'button', '+ figure');
  await settle(900);
  await shoot('figures');
  await v.page.keyboard.press('Escape');
  await settle(400);
  await press(v.page, 'button', 'Screens …');
  await settle(900);
  await shoot('screens');
  await v.page.keyboard.press('Escape');
  await settle(400);
  await v.page.keyboard.press('4');
  await settle(1200);
  await shoot('rig');
  await openLaser(v.page);
  await settle(1500);
  await armLaser(v.page);
  await shoot('laser');
  await press(v.page, 'button', 'from the front');
  await v.page.keyboard.press('5');
  await settle(4000);
  await shoot('overlays');
  await v.page.keyboard.press('6');
  await named(v.page, 'list', 'The cord');
  await settle(8000);
  await v.page.keyboard.press('Space');
  await settle(4500);
  await v.page.keyboard.press('Space');
  await settle(3500);
  await shoot('tonight');
  // Where it plays is told in Listen alone.
  await v.page.keyboard.press('1');
  await lively();
  await v.page.keyboard.press('7');
  await settle(2500);
  await shoot('bank');
  await press(v.page, 'button', 'Show menu');
  await press(v.page, 'menuitem', 'Day theme');
  await v.page.keyboard.press('2');
  await settle(2500);
  await shoot('route-day');
  // The small shows, each as a still of the picture alone, where all drums play.
  for (const { id, name } of EXAMPLES.filter((e) => !UNPICTURED.includes(e.id))) {
    await press(v.page, 'button', 'Show menu');
    await press(v.page, 'menuitem', name);
    await until(`the show “${name}”`, async () => {
      await v.page.keyboard.press('3');
      return (await v.page.$('[aria-label="Figures, back to front"]')) !== null;
    });
    await settle(9000);
    writeFileSync(
      path.join(folder, `${id}.png`),
      Buffer.from(await smaller(await stillPng(v.page)), 'base64'),
    );
  }
} finally {
  await v.close();
  await server.stop();
}
process.exit(0);
