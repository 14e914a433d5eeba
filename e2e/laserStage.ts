import type { Page } from 'puppeteer-core';
import { FERRY_BEAMS } from '../src/core/ferry/beams';
import { emptyShow } from '../src/core/ferry/show';
import type { MeasureHandle } from '../src/ui/state/session';
import { press, textOf, until } from './support';

/** The laser as it is used: its field, its two acts, its sign. */

export const says = (page: Page): Promise<string> => textOf(page, '[role=status][aria-label=Laser]');

export async function openLaser(page: Page): Promise<void> {
  await page.keyboard.press('4');
  await press(page, 'button', 'laser');
  await until('the laser to be drawn', async () => /[1-9]\d* points a picture/.test(await says(page)));
}
/** The demo's beams and nothing else: a machine that draws pictures with its processor keeps a laser armed for seconds only. */
export async function openBeams(page: Page): Promise<void> {
  await page.evaluate(
    (show) => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.open(show),
    { ...emptyShow('beams', 'Beams'), laserFigures: FERRY_BEAMS },
  );
  await until('its points', async () => /[1-9]\d* points/.test(await says(page)));
}
/** Presses the laser's sign in the frame. */
export const pressSign = (page: Page): Promise<void> =>
  page.evaluate(() => {
    for (const b of document.querySelectorAll<HTMLElement>('[aria-label=Signs] button'))
      if (b.textContent!.startsWith('Laser')) b.click();
  });
const sign = (page: Page): Promise<string> => textOf(page, '[aria-label=Signs]');

/** Both acts. A machine that is held up for 50 ms has it dark again at once: then once more, as its user would. */
export async function armLaser(page: Page): Promise<void> {
  await until('the laser to be lit', async () => {
    if ((await says(page)).startsWith('Lit')) return true;
    if ((await says(page)).startsWith('Dark')) await press(page, 'button', 'make ready');
    await until('the first act', async () => !(await says(page)).startsWith('Dark'), 5000).catch(() => null);
    if (!(await sign(page)).includes('arm?')) return false;
    // People are not quicker.
    await new Promise((r) => setTimeout(r, 300));
    await pressSign(page);
    await until('what became of it', async () => !(await says(page)).startsWith('Ready'), 5000).catch(
      () => null,
    );
    return (await says(page)).startsWith('Lit');
  });
}
