import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import type { MeasureHandle } from '../src/ui/state/session';
import {
  faultsOf,
  named,
  openMenu,
  playFerry,
  press,
  startServer,
  tap,
  textOf,
  undo,
  until,
  visit,
  type Server,
  type Visit,
} from './support';

let server: Server;
let v: Visit;
beforeAll(async () => {
  server = await startServer();
  v = await visit(server.url, { autoplay: true });
});
afterAll(async () => {
  const { noise, strangers } = v;
  await v.close();
  await server.stop();
  expect(strangers).toEqual([]);
  expect(noise).toEqual([]);
});
/** Colours are judged as they stay: nothing fades in, nothing is between two themes. */
async function settled(): Promise<void> {
  await until('everything shown', () =>
    v.page.evaluate(() => {
      const fading = document
        .getAnimations()
        .some((a) => a.playState === 'running' && Number(a.effect?.getComputedTiming().endTime) < Infinity);
      const faint = [...document.querySelectorAll('[role=presentation], [role=presentation] *')].some(
        (e) => e instanceof HTMLElement && Number(e.style.opacity || 1) < 1,
      );
      return !fading && !faint;
    }),
  );
}
async function faults(): Promise<string[]> {
  await settled();
  return faultsOf(v.page);
}
/** What of a place is squeezed to next to nothing, or runs out of its part of it and under the next. */
function cramped(): Promise<string[]> {
  return v.page.evaluate(() => {
    const what = (e: Element): string =>
      `${e.getAttribute('aria-label') ?? e.closest('[aria-label]')?.getAttribute('aria-label') ?? ''} ${e.textContent.slice(0, 40)}: ${e.scrollHeight} in ${e.clientHeight}`;
    const squeezed = [...document.querySelectorAll('main *')].filter(
      (e) =>
        /auto|scroll/.test(getComputedStyle(e).overflowY) &&
        e.clientHeight < 80 &&
        e.scrollHeight > e.clientHeight + 40,
    );
    const spilling = [...document.querySelectorAll('main > :last-child > *')].filter(
      (e) => getComputedStyle(e).overflowY === 'visible' && e.scrollHeight > e.clientHeight + 2,
    );
    return [...squeezed, ...spilling].map(what);
  });
}

describe('every place', () => {
  it('the opening page can be used by everybody', async () => {
    await named(v.page, 'button', 'Play the ferry');
    expect(await faults()).toEqual([]);
    await playFerry(v.page);
  });
  it.each([
    ['1 Listen', 'The field'],
    ['2 Route', 'What they move'],
    ['3 Picture', 'Figures, back to front'],
    ['4 Rig', 'The deck, as its packets light it'],
    ['5 Overlays', 'Address for a streaming program'],
    ['6 Tonight', 'The crossing'],
    ['7 Far bank', 'The far bank'],
  ])('%s can be used by everybody, by its key, wide and narrow', async (name, heading) => {
    await v.page.setViewport({ width: 1280, height: 800 });
    await v.page.keyboard.press(name[0] as '1');
    await named(v.page, 'heading', heading);
    expect(await faults()).toEqual([]);
    for (const [width, height] of [
      [1280, 640],
      [820, 1000],
    ] as const) {
      await v.page.setViewport({ width, height });
      await until('the new size', () => v.page.evaluate((w) => innerWidth === w, width));
      expect(await v.page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
      expect(await cramped()).toEqual([]);
    }
  });
  it('the figures that can be added, the screens, and what belongs to the whole picture too', async () => {
    await v.page.setViewport({ width: 1280, height: 800 });
    await v.page.keyboard.press('3');
    for (const [open, title] of [
      ['+ figure', 'Add a figure'],
      ['Screens …', 'Screens'],
    ] as const) {
      await press(v.page, 'button', open);
      await named(v.page, 'dialog', title);
      expect(await faults()).toEqual([]);
      await v.page.keyboard.press('Escape');
      await until('it closed', async () => (await v.page.$('[role=dialog]')) === null);
    }
    await press(v.page, 'button', 'Whole picture 1 finish');
    await named(v.page, 'region', 'Budget');
    await v.page.$$eval('[aria-label="Finishes, first to last"] button[aria-expanded]', (all) => {
      (all[0] as HTMLElement).click();
    });
    await named(v.page, 'slider', 'amount at rest');
    expect(await faults()).toEqual([]);
  });
  it('an overlay: an edge of it, what is made in one press, and the dialog of many pages', async () => {
    await v.page.keyboard.press('5');
    await tap(v.page, '[data-testid=overlay-address]');
    await press(v.page, 'button', 'Many pages, and other programs …');
    await named(v.page, 'dialog', 'Many pages, and other programs');
    expect(await faults()).toEqual([]);
    await v.page.keyboard.press('Escape');
    await until('it closed', async () => (await v.page.$('[role=dialog]')) === null);
    await tap(v.page, '[role=listitem] button[title^="edge"]');
    for (const [open, title] of [
      ['Bump …', 'Let Edge bump'],
      ['Appears …', 'Edge appears'],
    ] as const) {
      await press(v.page, 'button', open);
      await named(v.page, 'dialog', title);
      expect(await faults()).toEqual([]);
      await v.page.keyboard.press('Escape');
      await until('it closed', async () => (await v.page.$('[role=dialog]')) === null);
    }
    await tap(v.page, '[role=listitem] button[title^="letters"]');
    await named(v.page, 'group', 'What it is made of');
    expect(await faults()).toEqual([]);
  });
  it('the laser: its field, a figure of it, its lock and its zones', async () => {
    await v.page.keyboard.press('4');
    await press(v.page, 'button', 'laser');
    await named(v.page, 'button', 'make ready');
    expect(await faults()).toEqual([]);
    expect(await cramped()).toEqual([]);
    await press(v.page, 'button', 'zones …');
    await named(v.page, 'button', 'use this code');
    expect(await faults()).toEqual([]);
    await v.page.type('[aria-label=Code]', 'night-ferry');
    await press(v.page, 'button', 'use this code');
    await named(v.page, 'button', 'Corner 1 of keep-out 1');
    for (const part of ['Brightness and dose', 'Scanner', 'How it hangs', 'Way to the projector'])
      await press(v.page, 'button', `+ ${part}`);
    expect(await faults()).toEqual([]);
    await press(v.page, 'button', 'lock again');
    await named(v.page, 'button', 'make ready');
    await press(v.page, 'button', 'from the front');
  });
  it('the drawers of the rig, a head, a message, and several lamps too', async () => {
    await v.page.setViewport({ width: 1280, height: 800 });
    await v.page.keyboard.press('4');
    for (const drawer of ['Wires', 'Received', 'Line-up', 'Messages', 'Patch']) {
      await press(v.page, 'button', drawer);
      await named(v.page, 'region', drawer);
      if (drawer === 'Messages') await press(v.page, 'button', '+ OSC message');
      expect([drawer, await faults()]).toEqual([drawer, []]);
      if (drawer === 'Messages') await undo(v.page);
    }
    await press(v.page, 'button', 'Select Mast head left');
    await press(v.page, 'button', '+ How it hangs');
    expect(await faults()).toEqual([]);
    await v.page.keyboard.down('Shift');
    await press(v.page, 'button', 'Select Mast head right');
    await v.page.keyboard.up('Shift');
    await named(v.page, 'heading', '2 lamps');
    expect(await faults()).toEqual([]);
  });
  it('the far bank shows what comes out, and both its buttons bring back what they take away', async () => {
    await v.page.setViewport({ width: 1280, height: 800 });
    await v.page.keyboard.press('7');
    const deck = (): Promise<string> => textOf(v.page, '[aria-label="The deck"]');
    await until('lamps', async () => (await deck()).includes('as their packets were decoded'));
    await press(v.page, 'button', 'pull the lamp cable');
    await until('the cable out', async () => (await deck()).includes('the cable is out'));
    await press(v.page, 'button', 'put the lamp cable back');
    await until('the cable in', async () => (await deck()).includes('as their packets were decoded'));
    await until('a page of the stream', async () =>
      (await textOf(v.page, '[aria-label="The stream"]')).includes('one page shows it'),
    );
    const heard = (): Promise<string> =>
      v.page.evaluate(() => {
        const { inputs, ears } = (
          window as unknown as { batucadaMeasure: MeasureHandle }
        ).batucadaMeasure.show();
        return JSON.stringify([inputs, ears.map((e) => [e.id, e.name, e.stem, e.listening])]);
      });
    const before = await heard();
    await press(v.page, 'button', 'swap the drum for my microphone');
    await until('the microphone', async () => (await heard()).includes('"kind":"device"'));
    await press(v.page, 'button', 'swap my microphone for the drum');
    await until('all as it was', async () => (await heard()) === before);
  });
  it('the bench and the day theme too', async () => {
    await v.page.setViewport({ width: 1280, height: 800 });
    await v.page.keyboard.press('2');
    await tap(v.page, '[data-parameter="ferry/height"]');
    await named(v.page, 'region', 'Bench');
    expect(await faults()).toEqual([]);
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'Day theme');
    await until('the menu gone', async () => (await v.page.$('[role=menu]')) === null);
    expect(await faults()).toEqual([]);
  });
});
