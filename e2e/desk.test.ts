import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import type { Page } from 'puppeteer-core';
import {
  choose,
  enter,
  named,
  openMenu,
  playFerry,
  press,
  startServer,
  textOf,
  undo,
  until,
  visit,
} from './support';
import type { Server, Visit } from './support';

let server: Server, v: Visit;
beforeAll(async () => {
  server = await startServer({ demo: true });
  v = await visit(server.url, { autoplay: true });
  await playFerry(v.page);
  await v.page.keyboard.press('4');
  await named(v.page, 'button', 'Select Mast head left');
});
afterAll(async () => {
  await v?.close();
  await server?.stop();
});
const received = async (lamp: string): Promise<number[]> =>
  (await textOf(v.page, `[aria-label="Channels of ${lamp} as received"]`)).trim().split(/\s+/).map(Number);
const fader = (level: string): Promise<void> => enter(v.page, 'Fader of the simulated desk', level);
const desks = (): Promise<string> => textOf(v.page, '[aria-label=Desks]');

describe('a desk on the network', () => {
  it('on a universe of ours is said, with the choice; merged it lights a lamp, and when it is lost that ends', async () => {
    await press(v.page, 'button', 'Wires');
    await choose(v.page, 'Protocol of the simulated desk', 'Art-Net');
    await enter(v.page, 'Channel of the simulated desk', '2');
    await fader('100');
    await until('a word about it', async () => (await desks()).includes('A desk sends on universe 1'));
    await choose(v.page, 'What is sent on universe 1', 'the higher of both, in light');
    await until('it chosen', async () => !(await desks()).includes('Until you choose'));
    await press(v.page, 'button', 'Patch');
    await until('green at full', async () => (await received('Rail lamp left'))[1] === 255);
    // Dark is dark for a desk as well.
    await v.page.keyboard.press('0');
    await until('dark', async () => (await received('Rail lamp left')).every((x) => x === 0));
    await v.page.keyboard.press('0');
    await until('green again', async () => (await received('Rail lamp left'))[1] === 255);
    await press(v.page, 'button', 'Wires');
    await press(v.page, 'button', 'Switch it off');
    await until('it lost', async () => (await desks()).includes('lost'));
    await press(v.page, 'button', 'Patch');
    await until('ours again', async () => (await received('Rail lamp left'))[1]! < 255);
    await undo(v.page);
  });

  it('moves a control by hand, learned by touching its fader', async () => {
    await v.page.keyboard.press('2');
    await openMenu(v.page, '+ maker');
    await v.page.$$eval('[role=menuitem]', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Slider')) as HTMLElement).click();
    });
    await named(v.page, 'group', 'Settings of Slider');
    await openMenu(v.page, 'Controller of Slider');
    const learn = await v.page.waitForSelector('[role=menuitem]');
    await v.page.$$eval('[role=menuitem]', (all) => {
      (all.find((e) => (e.textContent ?? '').includes('or a desk')) as HTMLElement).click();
    });
    expect(learn).not.toBeNull();
    await until('it to wait', async () => (await textOf(v.page, 'body')).includes('Move or press it now'));
    const set = (level: number): Promise<number> =>
      v.page.evaluate(
        async (x) =>
          (await fetch(`/bridge/desk?protocol=sacn&universe=40&channel=12&level=${x}`, { method: 'POST' }))
            .status,
        level,
      );
    let level = 10;
    await until('it learned', async () => {
      expect(await set((level += 20) % 255)).toBe(204);
      await new Promise((r) => setTimeout(r, 100));
      return (await textOf(v.page, 'body')).includes('desk, universe 41, channel 12');
    });
    await v.page.keyboard.press('4');
  });
});

describe('a lamp', () => {
  it('has a channel parked where it is put, and freed again', async () => {
    await press(v.page, 'button', 'Select Rail lamp 3');
    await v.page.$$eval('button', (all) =>
      all.find((b) => (b.textContent ?? '').includes('Channels'))?.click(),
    );
    await press(v.page, 'button', 'Park blue of Rail lamp 3');
    await enter(v.page, 'blue of Rail lamp 3 is parked at', '201');
    await until('it there', async () => (await received('Rail lamp 3'))[2] === 201);
    await v.page.keyboard.press('0');
    await until('dark', async () => (await received('Rail lamp 3'))[2] === 0);
    await v.page.keyboard.press('0');
    await until('it there again', async () => (await received('Rail lamp 3'))[2] === 201);
    await press(v.page, 'button', 'Free blue of Rail lamp 3');
    await until('it freed', async () => (await received('Rail lamp 3'))[2] !== 201);
    for (let i = 0; i < 3; i++) await undo(v.page);
  });

  it('takes the picture’s colour where it hangs, and gives it back', async () => {
    await press(v.page, 'button', 'Select Rail bar');
    const spread = async (): Promise<boolean> => {
      const cells = await textOf(v.page, '[aria-label="Selected lamp"]');
      return cells.includes('Take the picture off');
    };
    await press(v.page, 'button', 'Lay the picture over');
    await until('it laid', spread);
    await named(v.page, 'group', 'Where the picture lies');
    // The sky is at the top: as high as that its ink is the night's, which has more blue than red, wherever the bar's own was.
    await enter(v.page, 'Picture top', '1');
    await enter(v.page, 'Picture bottom', '-9');
    await enter(v.page, 'cells at rest', '100');
    await until('the colour of the night', async () => {
      const [red, , blue] = await received('Rail bar');
      return blue! > red! && blue! > 20;
    });
    for (let i = 0; i < 4; i++) await undo(v.page);
    await until('its own colours', async () => !(await spread()));
  });

  it('notes of a file lie over several lamps, each the brightness of its key', async () => {
    await press(v.page, 'button', 'Select Rail lamp left');
    await v.page.keyboard.down('Shift');
    for (const n of ['2', '3', '4', '5', '6']) await press(v.page, 'button', `Select Rail lamp ${n}`);
    await v.page.keyboard.up('Shift');
    await press(v.page, 'button', 'Lay the notes over');
    await until('a lamp that a key lights', async () => {
      const all = await Promise.all(['left', '2', '3', '4', '5', '6'].map((n) => received(`Rail lamp ${n}`)));
      return all.some((x) => x[0]! > 60);
    });
    await undo(v.page);
  });

  it('is found with a phone, which says which it is; it is let go when the phone is gone', async () => {
    await press(v.page, 'button', 'Walk with a phone …');
    await named(v.page, 'image', 'Code to scan: the phone’s page');
    const address = /http:\S+?key=[0-9a-f]+(?:&lamps)?/.exec(await textOf(v.page, '[role=dialog]'))![0];
    await press(v.page, 'button', 'Done');
    const phone: Page = await v.browser.newPage();
    await phone.setViewport({ width: 390, height: 780, hasTouch: true, isMobile: true });
    await phone.goto(address, { waitUntil: 'load' });
    await until('it ready', () => phone.$('button:not([disabled])'));
    await press(phone, 'button', 'next lamp');
    await until('the first lamp', async () => (await textOf(phone, 'main')).includes('Rail lamp left'));
    await press(phone, 'button', 'next lamp');
    await until('the second', async () => (await textOf(phone, 'main')).includes('Rail lamp right'));
    await v.page.bringToFront();
    await until('it full and white', async () => (await received('Rail lamp right')).every((x) => x === 255));
    await phone.close();
    await until('it let go', async () => (await received('Rail lamp right')).some((x) => x < 255));
    const wrong = await v.browser.newPage();
    await wrong.goto(address.replace(/key=.*/, 'key=0000000000000000'), { waitUntil: 'load' });
    await until('a word', async () => (await textOf(wrong, 'main')).includes('scan the code anew'));
    await wrong.close();
    await v.page.bringToFront();
  });

  it('is measured by presses in time with its flashes, and its lag is kept', async () => {
    await press(v.page, 'button', 'Line-up');
    await press(v.page, 'button', 'Measure Rails');
    await press(v.page, 'button', 'I press when I see it');
    // Even presses: what of them is late is the same for clicks and for flashes but for the lamps' own lag.
    const done = await v.page.evaluate(async () => {
      const until = performance.now() + 60000;
      while (performance.now() < until) {
        const button = [...document.querySelectorAll<HTMLElement>('[role=dialog] button')].find(
          (b) => b.textContent === 'Now',
        );
        if (!button) return true;
        button.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
        await new Promise((r) => setTimeout(r, 1000 - (performance.now() % 1000)));
      }
      return false;
    });
    expect(done).toBe(true);
    const said = await textOf(v.page, '[role=dialog] [role=status]');
    expect(said).toMatch(/Rails is \d+ ms late, give or take \d+ ms|agree on nothing/);
    await press(v.page, 'button', 'Never mind');
    await until('the dialog gone', async () => (await v.page.$('[role=dialog]')) === null);
  });
});
