import { describe, expect, it } from '@jest/globals';
import type { Page } from 'puppeteer-core';
import { newScreen } from '../src/core/screens/screen';
import { Board, closeScreens, openBoard } from './board';
import { withFerry } from './stage';
import { named, press, textOf, until, type Visit } from './support';

const STAGE = '[role=dialog] [aria-label="Stage"]';
let v: Visit;
withFerry(
  async (_, first) => {
    v = first;
    const b = new Board();
    b.screens = [newScreen('stage', 'Stage')];
    await openBoard(v.page, b);
    await press(v.page, 'button', 'Screens …');
    await named(v.page, 'dialog', 'Screens');
  },
  undefined,
  { displays: '{0,0 1280x800 label=Desk}{1280,0 1920x1080 label=Projector}' },
);

/** The option of the screen's list of displays. */
async function choose(option: string): Promise<void> {
  await press(v.page, 'combobox', 'on display');
  await press(v.page, 'option', option);
  await until('the list of displays gone', async () => (await v.page.$('[role=listbox]')) === null);
}
const state = (): Promise<string> => textOf(v.page, `${STAGE} [role=status]`);
const click = (text: string): Promise<void> =>
  until(`“${text}”`, () =>
    v.page.evaluate(
      (section, t) =>
        [...document.querySelectorAll(`${section} button`)].some(
          (b) => b.textContent === t && !(b as HTMLButtonElement).disabled,
        ),
      STAGE,
      text,
    ),
  ).then(() => press(v.page, 'button', text));
const place = (page: Page): Promise<readonly [number, number, boolean]> =>
  page.evaluate(() => [window.screenX, window.screenY, document.fullscreenElement !== null] as const);

describe('a screen on its display', () => {
  it('says what to do when the browser does not tell its displays', async () => {
    await press(v.page, 'button', 'choose its display …');
    await until('what to do', async () =>
      (await textOf(v.page, STAGE)).includes('Allow window management for this address'),
    );
  });
  it('opens on the display that was chosen, fills it, and leaves it', async () => {
    await (
      await v.browser.target().createCDPSession()
    ).send('Browser.grantPermissions', {
      origin: new URL(v.page.url()).origin,
      permissions: ['windowManagement'],
    });
    await closeScreens(v.page);
    await press(v.page, 'button', 'Screens …');
    await choose('Projector · 1920 × 1080');
    await click('Open');
    const stage = await until('its window', async () =>
      (await v.browser.pages()).find((p) => p.url().endsWith('/screen?id=stage')),
    );
    await stage.setViewport(null);
    await until('it on the projector', async () => (await place(stage))[0] >= 1280);
    expect((await place(stage))[2]).toBe(false);
    await v.page.bringToFront();
    await click('Fill the display');
    await until('all of it', async () => (await place(stage)).join() === '1280,0,true');
    await until('that it says so', async () => (await state()).includes('fills a display'));
    expect(await stage.evaluate(() => [innerWidth, innerHeight])).toEqual([1920, 1080]);
    await click('Leave full screen');
    await until(
      'a window again',
      async () => !(await place(stage))[2] && (await state()).includes('is open'),
    );
  });
  it('keeps the choice over a reload, and F in the window fills the same', async () => {
    await v.page.reload({ waitUntil: 'load' });
    await press(v.page, 'button', 'Screens …');
    // It knows the window again that lived on meanwhile.
    await until('its window known', async () => (await state()).includes('is open'));
    await until('the choice', async () => (await textOf(v.page, STAGE)).includes('Projector · 1920 × 1080'));
    const stage = (await v.browser.pages()).find((p) => p.url().endsWith('/screen?id=stage'))!;
    await stage.bringToFront();
    // Wherever somebody has put the window meanwhile.
    const hand = await stage.createCDPSession(),
      { windowId } = await hand.send('Browser.getWindowForTarget');
    await hand.send('Browser.setWindowBounds', { windowId, bounds: { left: 40, top: 40 } });
    await until('it on the desk', async () => (await place(stage))[0] === 40);
    await stage.keyboard.press('f');
    await until('all of the projector', async () => (await place(stage)).join() === '1280,0,true');
    await stage.keyboard.press('f');
    await until('a window again', async () => !(await place(stage))[2]);
    await v.page.bringToFront();
  });
  it('fits a display of another shape, fills it, or is stretched to it, as it is told while it is shown', async () => {
    const stage = (await v.browser.pages()).find((p) => p.url().endsWith('/screen?id=stage'))!;
    await stage.setViewport({ width: 900, height: 900 });
    const laid = (): Promise<string> =>
      stage.$eval('canvas', (c) => {
        const { x, y, width, height } = c.getBoundingClientRect();
        return [x, y, width, height].map(Math.round).join();
      });
    await until('it whole', async () => (await laid()) === '0,197,900,506');
    const lie = async (words: string): Promise<void> => {
      await press(v.page, 'combobox', 'Shape on its display');
      await press(v.page, 'option', words);
    };
    await lie('fills it, cut off');
    await until('all of it', async () => (await laid()) === '-350,0,1600,900');
    expect(await stage.evaluate(() => document.documentElement.scrollWidth)).toBe(900);
    await lie('is stretched');
    await until('it out of shape', async () => (await laid()) === '0,0,900,900');
    await lie('fits, with bars');
    await until('it whole again', async () => (await laid()) === '0,197,900,506');
    await stage.setViewport(null);
  });
  it('says when the display is not connected, and fills the one it is on', async () => {
    const devices = await v.page.createCDPSession(),
      { screenInfos } = await devices.send('Emulation.getScreenInfos');
    await devices.send('Emulation.removeScreen', {
      screenId: screenInfos.find((s) => s.label === 'Projector')!.id,
    });
    await until('that it is gone', async () =>
      (await textOf(v.page, STAGE)).includes('Projector · not connected'),
    );
    const stage = (await v.browser.pages()).find((p) => p.url().endsWith('/screen?id=stage'))!;
    await click('Bring it to the front');
    await v.page.bringToFront();
    await click('Fill the display');
    await until('the desk filled', async () => (await place(stage)).join() === '0,0,true');
    await stage.close();
    await until('it closed', async () => (await state()).includes('is closed'));
  });
});
