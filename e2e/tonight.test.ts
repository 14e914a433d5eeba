import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { StageState } from '../src/core/show';
import type { MeasureHandle } from '../src/ui/state/session';
import {
  choose,
  faultsOf,
  named,
  parameterOf,
  playFerry,
  press,
  startServer,
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
  await playFerry(v.page);
  await v.page.keyboard.press('6');
  await named(v.page, 'list', 'The cord');
});
afterAll(async () => {
  const { noise, strangers } = v;
  await v.close();
  await server.stop();
  expect(strangers).toEqual([]);
  expect(noise).toEqual([]);
});

/** How much red the river has at the quay (#2f5f6b), in linear light. */
const QUAY_RED = ((0x2f / 255 + 0.055) / 1.055) ** 2.4;
const parameter = (key: string): Promise<number> => parameterOf(v.page, key);
/** The numbers of a window are those of its last picture: a little behind the state. */
const becomes = (key: string, value: number): Promise<unknown> =>
  until(`${key} is ${value}`, async () => Math.abs((await parameter(key)) - value) < 0.0005);
const show = (): Promise<ReturnType<MeasureHandle['show']>> =>
  v.page.evaluate(() => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.show());
const stage = (): Promise<StageState> =>
  v.page.evaluate(() => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.stage());
const strip = (): Promise<string> => textOf(v.page, 'main [role=status]');
const isIn = (what: string): Promise<unknown> =>
  until(`${what} is in`, async () => (await strip()).includes(`${what} is in`), 30000);
const current = (): Promise<string> => v.page.$eval('[aria-current=step]', (e) => e.textContent);
const next = (): Promise<string> => textOf(v.page, '[aria-label=Next] h2');
const faults = (): Promise<string[]> => faultsOf(v.page);
/** Texts under 20 px, and presses under 56, where the night is performed. */
const small = (): Promise<string[]> =>
  v.page.evaluate(() => {
    const main = document.querySelector('main')!;
    const seen = (e: Element): boolean => e.checkVisibility() && e.getBoundingClientRect().width > 1;
    const texts = [...main.querySelectorAll('*')].filter(
      (e) =>
        seen(e) &&
        [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent!.trim() !== '') &&
        parseFloat(getComputedStyle(e).fontSize) < 20 &&
        e.closest('h1') === null,
    );
    const presses = [...main.querySelectorAll('button,[role=slider]')].filter((e) => {
      const { width, height } = e.getBoundingClientRect();
      return seen(e) && (width < 55.5 || height < 55.5);
    });
    return [...texts, ...presses].map((e) => `${e.tagName} ${e.textContent.slice(0, 30)}`);
  });

describe('tonight', () => {
  it('goes through the night by the space bar, and the sound plays on', async () => {
    expect(await next()).toContain('1 At the quay');
    await v.page.keyboard.press('Space');
    await isIn('1 At the quay');
    await becomes('river/ink', QUAY_RED);
    expect([await current(), await next()]).toEqual([
      expect.stringContaining('At the quay'),
      expect.stringContaining('2 Setting out'),
    ]);
    await v.page.keyboard.press('Space');
    await isIn('2 Setting out');
    await becomes('camera/zoom', 1.25);
    expect(await v.page.$('[aria-label="Play the show"]')).toBeNull();
    await v.page.keyboard.press('Backspace');
    await isIn('1 At the quay');
    await becomes('camera/zoom', 1);
  });
  it('takes any print of the cord next, loose looks by their keys, and home by one', async () => {
    await press(v.page, 'button', '5 All rests');
    await until('it is next', async () => (await next()).includes('5 All rests'));
    await v.page.keyboard.press('w');
    await isIn('Storm');
    // Whatever the drums add, the swell is that of the storm.
    await until('the swell of a storm', async () => (await parameter('river/swell')) > 30);
    await v.page.keyboard.press('Home');
    await isIn('At the quay');
    expect(await next()).toContain('5 All rests');
  });
  it('follows on by itself, where a cue says so', async () => {
    await press(v.page, 'button', 'Go space');
    await until('the one after', async () => (await current()).includes('Breath'), 30000);
  });
  it('tries the next look in this window only', async () => {
    await press(v.page, 'button', 'try');
    await until('it says so', async () => (await textOf(v.page, 'main')).includes('nothing of it goes out'));
    await press(v.page, 'button', 'try');
    await until('it is over', async () => !(await textOf(v.page, 'main')).includes('nothing of it goes out'));
  });
  it('scales light by masters: by keyboard, and full for as long as flash is held', async () => {
    const lamps = await named(v.page, 'slider', 'Lamps');
    await v.page.keyboard.press('0');
    await v.page.keyboard.press('0');
    await lamps.focus();
    await v.page.keyboard.press('Home');
    const dark = (): Promise<boolean> => parameter('rail-bar/dimmer').then((x) => x === 0);
    await until('lamps are out', dark);
    const flash = await named(v.page, 'button', 'flash Lamps'),
      box = (await flash.boundingBox())!;
    await v.page.mouse.move(box.x + 20, box.y + 20);
    await v.page.mouse.down();
    await until('lamps flash', async () => !(await dark()));
    await v.page.mouse.up();
    await until('lamps are out again', dark);
    await lamps.focus();
    await v.page.keyboard.press('End');
    await until('lamps are back', async () => !(await dark()));
  });
  it('is all there after a reload: the cue, its look, and the masters', async () => {
    await (await named(v.page, 'slider', 'Picture')).focus();
    await v.page.keyboard.press('PageDown');
    await until('it is kept', () =>
      v.page.evaluate(
        () =>
          new Promise<boolean>((done) => {
            const open = indexedDB.open('batucada');
            open.onsuccess = () => {
              const all = open.result.transaction('memories').objectStore('memories').getAll();
              all.onsuccess = () => {
                open.result.close();
                done(
                  all.result.some(
                    (m: { memory: { stage?: { masters: { picture?: number } } } }) =>
                      m.memory.stage?.masters.picture === 0.8,
                  ),
                );
              };
            };
          }),
      ),
    );
    const before = await current();
    await v.page.reload();
    await named(v.page, 'list', 'The cord');
    expect(await current()).toBe(before);
    expect(
      await (await named(v.page, 'slider', 'Picture')).evaluate((e) => e.getAttribute('aria-valuenow')),
    ).toBe('80');
    await becomes('river/ink', QUAY_RED);
  });
  it('is as bright as the room allows, by a key', async () => {
    const veil = (): Promise<string[]> =>
      v.page.evaluate(() =>
        [...document.querySelectorAll('[aria-hidden]')]
          .filter(
            (e) => getComputedStyle(e).position === 'fixed' && getComputedStyle(e).pointerEvents === 'none',
          )
          .map((e) => getComputedStyle(e).opacity),
      );
    await v.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    expect(await veil()).toEqual([]);
    for (const opacity of [['0.35'], ['0.6'], []]) {
      await v.page.keyboard.press('d');
      await until('another brightness', async () => JSON.stringify(await veil()) === JSON.stringify(opacity));
    }
  });
  it('shows nothing small, wide, low and upright, and can be used by everybody', async () => {
    for (const [width, height] of [
      [1280, 800],
      [1280, 640],
      [1920, 1080],
      [800, 1280],
    ] as const) {
      await v.page.setViewport({ width, height });
      await until('the new size', () => v.page.evaluate((w) => innerWidth === w, width));
      expect([width, height, await small()]).toEqual([width, height, []]);
      expect(await v.page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    }
    await v.page.setViewport({ width: 1280, height: 800 });
    expect(await faults()).toEqual([]);
  });
  it('is prepared in the same place: what is held by hand is kept as a look, hung on the cord, and undone', async () => {
    await press(v.page, 'button', 'prepare');
    await named(v.page, 'list', 'Cues');
    expect(await faults()).toEqual([]);
    await press(v.page, 'button', 'Before the doors …');
    await named(v.page, 'dialog', 'Before the doors');
    // No screen is open, and the processor draws: both are said, with what to do.
    await until('what is to be looked at', async () => {
      const lines = await textOf(v.page, '[aria-label="What the night depends on"]');
      return lines.includes('Its window is not open.') && lines.includes('is heard');
    });
    expect(await faults()).toEqual([]);
    await press(v.page, 'button', 'Done');
    await until('it closed', async () => (await v.page.$('[role=dialog]')) === null);
    const before = await show();
    await press(v.page, 'button', 'now');
    const kept = await until(
      'a look is kept',
      async () => (await show()).looks.find((l) => !before.looks.some((b) => b.id === l.id)) ?? null,
    );
    expect(kept.values['stars/glow']).toBeCloseTo(20, 3);
    await press(v.page, 'button', `+ cue with ${kept.name}`);
    const cue = await until('a cue', async () => (await show()).cues.find((c) => c.look === kept.id) ?? null);
    // Between 5.5, which is in, and 6.
    expect(cue.number).toBeGreaterThan(5.5);
    expect(cue.number).toBeLessThan(6);
    const field = await named(v.page, 'textbox', `Number of ${cue.name}`);
    await field.click({ count: 3 });
    await v.page.keyboard.type('6');
    await until('why not', async () => (await textOf(v.page, '[role=alert]')).includes('no other cue has'));
    await v.page.keyboard.press('Tab');
    expect((await show()).cues.find((c) => c.id === cue.id)!.number).toBe(cue.number);
    await choose(v.page, `What follows ${cue.name}`, 'on after bars');
    await until(
      'it follows',
      async () => (await show()).cues.find((c) => c.id === cue.id)!.follow?.kind === 'bars',
    );
    await undo(v.page);
    await undo(v.page);
    await undo(v.page);
    await until(
      'all is undone',
      async () =>
        (await show()).looks.length === before.looks.length &&
        (await show()).cues.length === before.cues.length,
    );
    await press(v.page, 'button', 'perform');
  });
  it('is performed with a key from any place, and by a controller that took a master without a leap', async () => {
    await press(v.page, 'button', 'prepare');
    await press(v.page, 'button', '+ grip');
    await choose(v.page, 'Key of the grip', 'X');
    await press(v.page, 'button', 'perform');
    await v.page.keyboard.press('3');
    await named(v.page, 'heading', 'Figures, back to front');
    await v.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    const cues = (await show()).cues,
      { cue: before } = await stage();
    await v.page.keyboard.press('x');
    await until(
      'the cue after',
      async () => (await stage()).cue === cues[cues.findIndex((c) => c.id === before) + 1]!.id,
    );
    await v.page.keyboard.press('6');
    await press(v.page, 'button', 'prepare');
    await choose(v.page, 'What the grip does', 'move a master');
    await press(v.page, 'button', 'Controller of the grip');
    await press(v.page, 'menuitem', 'learn from Simulated keyboard');
    await until('it learned the wheel', async () => (await show()).grips[0]!.touch.by === 'midi', 30000);
    await until('the wheel moves it', async () => (await stage()).masters.all !== undefined, 30000);
    // Turned to its page, the controller is told where the master stands.
    await press(v.page, 'switch', 'light or motor: not told');
    await choose(v.page, 'Page of the grip', 'page 2');
    await press(v.page, 'button', 'page 1');
    await until('page 1', async () => (await stage()).page === 1);
    await press(v.page, 'button', 'page 2');
    await until('the page is turned', async () => (await stage()).page === 2);
    await until(
      'the controller was told',
      async () => /told [1-9]\d* times/.test(await textOf(v.page, 'main')) || null,
      30000,
    );
    await press(v.page, 'button', 'page 1');
    await until('and back', async () => (await stage()).page === 1);
    await press(v.page, 'button', 'Delete the grip');
    await press(v.page, 'button', 'perform');
    await (await named(v.page, 'slider', 'All')).focus();
    await v.page.keyboard.press('End');
    await until('all is full', async () => (await stage()).masters.all === undefined);
  });
  it('is performed with a phone over plain http: go, a look, a master, dark; what is done here is seen there', async () => {
    await press(v.page, 'button', 'prepare');
    await press(v.page, 'button', 'A phone …');
    await named(v.page, 'dialog', 'Perform with a phone');
    const address = await until('its address', async () => {
      const text = await textOf(v.page, '[role=dialog]');
      return /http:\/\/\S+\/phone\?key=[0-9a-f]+/.exec(text)?.[0] ?? null;
    });
    await press(v.page, 'button', 'Done');
    await press(v.page, 'button', 'perform');
    const phone = await v.browser.newPage();
    try {
      await phone.setViewport({ width: 390, height: 844 });
      await phone.goto(address);
      await named(phone, 'button', 'Storm');
      await press(phone, 'button', 'Storm');
      await until('the look', async () => (await stage()).look === 'look-storm');
      const cues = (await show()).cues,
        { next } = await stage();
      const go = await until('go', () => phone.$('main button:not([role=tab])'));
      await go.click();
      await until('the next cue', async () => (await stage()).cue === (next ?? cues.at(-1)!.id));
      const lamps = await named(phone, 'slider', 'Lamps');
      await lamps.focus();
      await phone.keyboard.press('Home');
      await until('the master', async () => (await stage()).masters.lamps === 0);
      await phone.keyboard.press('End');
      await until('the master again', async () => (await stage()).masters.lamps === undefined);
      await press(phone, 'button', 'dark');
      await until('dark', () =>
        v.page.$$eval('header button[aria-pressed=true]', (all) =>
          all.some((b) => b.textContent.startsWith('Dark')),
        ),
      );
      await until('the phone says so', () =>
        phone.$eval('[aria-pressed=true]', (e) => e.textContent === 'dark'),
      );
      await press(phone, 'button', 'dark');
      await v.page.bringToFront();
      await (await named(v.page, 'slider', 'Laser')).focus();
      await v.page.keyboard.press('PageDown');
      await until('the phone sees it', () =>
        phone.$eval('[role=slider][aria-label=Laser]', (e) => e.getAttribute('aria-valuenow') === '80'),
      );
    } finally {
      await phone.close();
      await v.page.bringToFront();
    }
  });
  it('a phone’s page is made by dropping things on it; phones that are connected have it at once', async () => {
    await press(v.page, 'button', 'prepare');
    await press(v.page, 'button', 'The phone’s page …');
    await named(v.page, 'dialog', 'The phone’s page');
    const on = async (): Promise<string[]> =>
      (await show()).phone.map((t) => Object.values(t.deed).join(' '));
    expect(await on()).toEqual([]);
    await press(v.page, 'button', 'Put give back on the phone');
    const usual = await until('it is one’s own', async () => {
      const all = await on();
      return all.at(-1) === 'give back' ? all : null;
    });
    expect(usual.slice(0, 5)).toEqual(['go', 'back', 'home', 'dark', 'freeze']);
    // Dropped where “back” is.
    const from = (await (await named(v.page, 'button', 'Put bar now on the phone')).boundingBox())!,
      to = (await (await named(v.page, 'button', 'back, press')).boundingBox())!;
    await v.page.mouse.move(from.x + 20, from.y + 10);
    await v.page.mouse.down();
    await v.page.mouse.move(from.x + 60, from.y + 30, { steps: 4 });
    await v.page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 8 });
    await v.page.mouse.up();
    await until('it lies before it', async () => (await on()).slice(0, 3).join() === 'go,bar now,back');
    await press(v.page, 'button', 'Take dark off the phone');
    await until('dark is off it', async () => !(await on()).includes('dark'));
    await choose(v.page, 'Size of freeze', 'large');
    await until('freeze is large', async () =>
      (await show()).phone.some((t) => t.deed.do === 'freeze' && t.size === 'large'),
    );
    await press(v.page, 'button', 'back to the usual page');
    await until('the usual page', async () => (await on()).length === 0);
    await press(v.page, 'button', 'Done');
    await press(v.page, 'button', 'perform');
  });
  it('is shown on another display as well, and performed there', async () => {
    await press(v.page, 'button', 'prepare');
    const opened = v.browser.waitForTarget((t) => t.opener() === v.page.target());
    await press(v.page, 'button', 'On another display');
    const other = (await (await opened).page())!;
    try {
      await press(v.page, 'button', 'perform');
      await other.bringToFront();
      await named(other, 'button', 'Dark key 0');
      // A key goes to the window that has the focus.
      await until('its focus', () => other.evaluate(() => document.hasFocus()));
      await other.keyboard.press('Backspace');
      const next = await until('a cue that is next', async () => (await stage()).next);
      await other.keyboard.press('Space');
      await until('the next cue', async () => (await stage()).cue === next);
      await press(other, 'button', 'Storm W');
      await until('a look', async () => (await stage()).look === 'look-storm');
    } finally {
      await other.close();
      await v.page.bringToFront();
    }
  });
  it('is written down: who did what, to look at by kinds and words, and to save', async () => {
    await press(v.page, 'button', 'prepare');
    await press(v.page, 'button', 'The night’s log …');
    await named(v.page, 'dialog', 'The night’s log');
    const lines = (): Promise<string[]> =>
      v.page.$$eval('[aria-label="Lines of the log"] li', (all) =>
        all.map((l) => [...l.children].map((c) => c.textContent).join(' ')),
      );
    await until(
      'what the phone did',
      async () => (await lines()).some((l) => /act phone 1 look Storm/.test(l)) || null,
    );
    expect((await lines()).some((l) => / in .*Storm/.test(l))).toBe(true);
    expect(await faultsOf(v.page)).toEqual([]);
    // Of what was dragged, where it came to; by words, and by kinds.
    await v.page.type('[aria-label="With the words"]', 'master laser');
    await until('only those', async () => {
      const found = await lines();
      return found.length > 0 && found.every((l) => l.includes('master Laser')) ? true : null;
    });
    await press(v.page, 'button', 'acts');
    await until('none', async () => (await lines()).length === 0 || null);
    await press(v.page, 'button', 'acts');
    const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-log-'));
    const client = await v.page.createCDPSession();
    await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: folder });
    await press(v.page, 'button', 'Save as JSON lines');
    await press(v.page, 'button', 'Save as CSV');
    const saved = (ending: string): Promise<string> =>
      until(`a file .${ending}`, () => {
        const name = readdirSync(folder).find((f) => f.endsWith(`.${ending}`));
        return name && readFileSync(path.join(folder, name), 'utf8');
      });
    const json = (await saved('jsonl'))
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l) as { who: string; act?: object });
    expect(json.find((l) => l.who === 'phone 1')?.act).toEqual({ do: 'look', look: 'look-storm' });
    // All of it goes into the file, whatever is shown; and what was written since the other.
    expect((await saved('csv')).trim().split('\r\n').length).toBeGreaterThanOrEqual(json.length + 1);
    await press(v.page, 'button', 'Done');
    await press(v.page, 'button', 'perform');
  });
  it('locked, everything is performed and nothing edited, until L is held', async () => {
    await v.page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await v.page.keyboard.press('l');
    await named(v.page, 'button', 'locked · hold L');
    const before = await show();
    await v.page.keyboard.press('2');
    await named(v.page, 'heading', 'What they move');
    await v.page.evaluate(() =>
      (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.edit('route-1', 0.123),
    );
    await until('it says why', async () =>
      (await textOf(v.page, 'body')).includes('nothing of the show can be edited'),
    );
    expect(await show()).toEqual(before);
    await v.page.keyboard.press('6');
    await press(v.page, 'button', '1 At the quay');
    await until('it is next', async () => (await next()).includes('1 At the quay'));
    await v.page.keyboard.press('Space');
    await until('go is taken all the same', async () => (await current()).includes('At the quay'));
    await v.page.keyboard.down('l');
    await named(v.page, 'button', 'lock');
    await v.page.keyboard.up('l');
  });
});
