import { describe, expect, it } from '@jest/globals';
import { called } from './called';
import { withFerry } from './stage';
import { choose, named, openMenu, press, tap, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
  await v.page.keyboard.press('2');
  await v.page.waitForSelector('[data-parameter="ferry/height"]');
  await tap(v.page, '[data-parameter="ferry/height"]');
  await named(v.page, 'region', 'Bench');
});
const card = (name: string): Promise<string> => textOf(v.page, `[aria-label=Bench] [aria-label="${name}"]`);

describe('the bench', () => {
  it('fits by dragging an edge over what came in; the whole drag is one undo', async () => {
    const fits = async (): Promise<string[]> =>
      v.page.$$eval('[aria-label=Bench] [aria-label=fit] [role=slider]', (all) =>
        all.map((e) => e.textContent ?? ''),
      );
    const before = await fits();
    const canvas = (await (await v.page.$(
      '[aria-label="What came in, and the stretch of it that is used"]',
    ))!.boundingBox())!;
    await v.page.mouse.move(canvas.x + canvas.width * 0.85, canvas.y + 40);
    await v.page.mouse.down();
    await v.page.mouse.move(canvas.x + canvas.width * 0.6, canvas.y + 40, { steps: 8 });
    await v.page.mouse.up();
    await until('another upper edge', async () => (await fits())[1] !== before[1]);
    expect((await fits())[0]).toBe(before[0]);
    await undo(v.page);
    await until('the old edges in one step', async () => (await fits()).join() === before.join());
  });
  it('opens a seam into a step and takes it away again', async () => {
    await press(v.page, 'button', 'Add floor');
    await until(
      'the floor',
      async () => (await v.page.$('[aria-label=Bench] [role=slider][aria-label=Floor]')) !== null,
    );
    await press(v.page, 'button', 'Remove floor');
    await named(v.page, 'button', 'Add floor');
  });
  it('says what lies above a floor that is too high, and lowers it at one press', async () => {
    await press(v.page, 'button', 'Add floor');
    const floor = await named(v.page, 'slider', 'Floor');
    await floor.focus();
    await v.page.keyboard.press('End');
    await until('the reason', async () =>
      (await textOf(v.page, '[aria-label="Why isn’t it moving?"]')).includes('below its floor'),
    );
    await press(v.page, 'button', 'lower the floor');
    await until('a lower floor', async () => (await card('floor')).includes('0.5'));
    await press(v.page, 'button', 'Remove floor');
  });
  it('learns a fit from what comes', async () => {
    await tap(v.page, '[aria-label=Bench] [aria-label=fit] h3');
    await press(v.page, 'button', 'to what comes');
    await named(v.page, 'slider', 'Forget');
    await until('numbers between 0 and 1 again', async () => {
      const n = Number.parseFloat(
        await textOf(v.page, '[aria-label=Bench] [aria-label=clamp] [data-out] span'),
      );
      return n > 0.05 && n <= 1;
    });
  });
  it("takes rest and reach in the parameter's own unit", async () => {
    await tap(v.page, '[aria-label=Bench] [aria-label="rest to reach"] h3');
    const reach = await named(v.page, 'slider', 'Reach');
    await reach.focus();
    await v.page.keyboard.press('Enter');
    await v.page.keyboard.down('Control');
    await v.page.keyboard.press('a');
    await v.page.keyboard.up('Control');
    await v.page.keyboard.type('-40');
    await v.page.keyboard.press('Enter');
    await until(
      'a downward way',
      async () =>
        Number.parseFloat(
          (await textOf(v.page, '[aria-label=Bench] [aria-label=together] [data-out] span')).replace(
            '−',
            '-',
          ),
        ) < -1,
    );
    expect(await v.page.evaluate(() => document.activeElement?.getAttribute('aria-label'))).toBe('Reach');
    await undo(v.page);
    await until(
      'the old way',
      async () =>
        Number.parseFloat(
          (await textOf(v.page, '[aria-label=Bench] [aria-label=together] [data-out] span')).replace(
            '−',
            '-',
          ),
        ) >= 0,
    );
  });
  it('opens in Picture alike', async () => {
    await v.page.keyboard.press('3');
    await named(v.page, 'region', 'Bench');
    await named(v.page, 'heading', 'Figures, back to front');
    await v.page.keyboard.press('Escape');
    await until('it closed', async () => (await v.page.$('[aria-label=Bench]')) === null);
  });
});

describe('keys', () => {
  it('dark works while typing, with Alt; digits then only write', async () => {
    await openMenu(v.page, 'Show menu');
    const name = await named(v.page, 'textbox', 'Name of the show');
    await name.focus();
    await v.page.keyboard.press('End');
    await v.page.keyboard.type(' 0');
    expect(await called(v.page, 'button', 'Dark everything is out')).toBeNull();
    await v.page.keyboard.down('Alt');
    await v.page.keyboard.press('0');
    await v.page.keyboard.up('Alt');
    await until('dark', async () =>
      (
        await v.page.$$eval('button[aria-pressed=true]', (all) => all.map((e) => e.textContent).join())
      ).includes('everything is out'),
    );
    await v.page.keyboard.down('Alt');
    await v.page.keyboard.press('0');
    await v.page.keyboard.up('Alt');
    await v.page.keyboard.press('Escape');
    await until('the menu gone', async () => (await v.page.$('[role=menu]')) === null);
  });
  it.each([
    ['number', '3', 'slider', 'tilt at rest'],
    ['switch', '1', 'switch', 'Hear Deck stems'],
  ] as const)('dark and the places work on a %s too', async (_, place, role, name) => {
    const dark = async (): Promise<boolean> =>
      (
        await v.page.$$eval('button[aria-pressed=true]', (all) => all.map((e) => e.textContent).join())
      ).includes('everything is out');
    await v.page.keyboard.press(place);
    await (await named(v.page, role, name)).focus();
    await v.page.keyboard.press('0');
    await until('dark', dark);
    await v.page.keyboard.press('0');
    await until('light', async () => !(await dark()));
    await v.page.keyboard.press('5');
    await named(v.page, 'heading', 'Address for a streaming program');
    await v.page.keyboard.press('1');
    await named(v.page, 'heading', 'The field');
  });
  it('are listed by one key', async () => {
    await v.page.keyboard.press('?');
    await named(v.page, 'dialog', 'Keys');
    expect(await textOf(v.page, '[role=dialog]')).toContain('fit the selected route to what was heard');
    await v.page.keyboard.press('Escape');
    await until('the list gone', async () => (await v.page.$('[role=dialog]')) === null);
  });
  it('a figure is moved by arrow keys, and its row reordered', async () => {
    await v.page.keyboard.press('3');
    await press(v.page, 'button', 'Moon 2 routes');
    const handle = await until('its handle', () => v.page.$('[role=application]'));
    await handle.focus();
    await v.page.keyboard.down('Shift');
    await v.page.keyboard.press('ArrowLeft');
    await v.page.keyboard.up('Shift');
    const order = (): Promise<string[]> =>
      v.page.$$eval('[aria-label="Figures, back to front"] [role=listitem]', (all) =>
        all.map((e) => (e.textContent ?? '').split(' ')[0]!.replace(/(still|hidden|\d).*/, '')),
      );
    const before = await order();
    await press(v.page, 'button', 'forward');
    await until('another order', async () => (await order()).indexOf('Moon') === before.indexOf('Moon') + 1);
    await press(v.page, 'button', 'hide');
    await until('it hidden', async () =>
      (await textOf(v.page, '[aria-label="Figures, back to front"]')).includes('Moon hidden'),
    );
  });
});

describe('the rig', () => {
  it('patches a further lamp at the first free address, refuses what does not fit, and sends beyond this computer only when armed', async () => {
    await v.page.keyboard.press('4');
    await press(v.page, 'button', '+ lamp');
    const address = await named(v.page, 'slider', 'Address of Lamp');
    expect(await address.evaluate((e) => e.textContent)).toBe('38');
    await address.focus();
    await v.page.keyboard.press('End');
    await until(
      'the last address that three channels fit at',
      async () => (await textOf(v.page, '[aria-label="Address of Lamp"]')) === '510',
    );
    await press(v.page, 'button', 'Wires');
    await choose(v.page, 'Where the packets of Rails go', 'to an address');
    const host = await named(v.page, 'textbox', 'Address of the node');
    await host.focus(); // which selects what stands there
    await host.type('192.0.2.7.1');
    await until('a word about a wrong address', async () =>
      (await textOf(v.page, 'main [role=alert]')).includes('An address such as'),
    );
    await v.page.keyboard.press('Backspace');
    await v.page.keyboard.press('Backspace');
    await v.page.keyboard.press('Enter');
    await until('a word about arming', async () =>
      (await textOf(v.page, 'header [role=alert]')).includes('Arm the outputs'),
    );
    await undo(v.page);
    await undo(v.page);
  });
});
