import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import {
  named,
  parameterOf,
  playFerry,
  startServer,
  textOf,
  until,
  visit,
  type Server,
  type Visit,
} from './support';

/** A night is performed with what is at hand: by nothing but a keyboard, and by nothing but a finger. */

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
  const { noise } = v;
  await v.close();
  await server.stop();
  expect(noise).toEqual([]);
});

const parameter = (key: string): Promise<number> => parameterOf(v.page, key);
const lamps = (): Promise<number> => parameter('rail-bar/dimmer');
const next = (): Promise<string> => textOf(v.page, '[aria-label=Next] h2');
const isNext = (cue: string): Promise<unknown> =>
  until(`${cue} is next`, async () => (await next()).includes(cue));
const isIn = (what: string): Promise<unknown> =>
  until(
    `${what} is in`,
    async () => (await textOf(v.page, 'main [role=status]')).includes(`${what} is in`),
    30000,
  );
/** What the two large buttons are called while they are off, and on. */
const DARK = ['Dark key 0', 'Dark everything is out'] as const,
  FREEZE = ['Freeze key 9', 'Freeze everything is held'] as const;

describe('by keyboard alone', () => {
  /** Goes on with Tab until this has the focus. */
  const tabTo = async (role: string, name: string): Promise<void> => {
    const wanted = await named(v.page, role, name);
    for (let i = 0; i < 250; i++) {
      if (await wanted.evaluate((e) => e === document.activeElement)) return;
      await v.page.keyboard.press('Tab');
    }
    throw new Error(`Tab never came to ${role} “${name}”.`);
  };

  it('Tab comes to everything that can be pressed, and it is seen where it is', async () => {
    const wanted = await v.page.evaluate(() => {
      const all = [
        ...document.querySelectorAll<HTMLElement>('main button, main [role=slider], main input, main a'),
      ];
      const open = all.filter(
        (e) =>
          e.checkVisibility() && !(e as HTMLButtonElement).disabled && e.getBoundingClientRect().width > 1,
      );
      open.forEach((e, i) => e.setAttribute('data-nth', String(i)));
      return open.length;
    });
    expect(wanted).toBeGreaterThan(20);
    const came = new Set<string>(),
      unseen: string[] = [];
    for (let i = 0; i < 250 && came.size < wanted; i++) {
      await v.page.keyboard.press('Tab');
      const at = await v.page.evaluate(() => {
        const e = document.activeElement as HTMLElement,
          style = getComputedStyle(e);
        return {
          nth: e.dataset.nth ?? null,
          name: e.getAttribute('aria-label') ?? e.textContent.slice(0, 30),
          isSeen:
            e.matches(':focus-visible') &&
            (style.outlineStyle !== 'none' ||
              style.boxShadow !== 'none' ||
              e.querySelector('.Mui-focusVisible,.MuiTouchRipple-ripplePulsate') !== null ||
              e.classList.contains('Mui-focusVisible')),
        };
      });
      if (at.nth === null) continue;
      came.add(at.nth);
      if (!at.isSeen) unseen.push(at.name);
    }
    expect(came.size).toBe(wanted);
    expect(unseen).toEqual([]);
  });
  it('the night is performed', async () => {
    await tabTo('button', '2 Setting out');
    await v.page.keyboard.press('Enter');
    await isNext('2 Setting out');
    await tabTo('button', 'Go space');
    await v.page.keyboard.press('Enter');
    await until('another is next', async () => !(await next()).includes('2 '));
    await tabTo('slider', 'Lamps');
    await v.page.keyboard.press('Home');
    await until('lamps are out', async () => (await lamps()) === 0);
    await tabTo('button', 'flash Lamps');
    await v.page.keyboard.down('Enter');
    await until('lamps flash', async () => (await lamps()) > 0);
    await v.page.keyboard.up('Enter');
    await until('lamps are out again', async () => (await lamps()) === 0);
    await v.page.keyboard.down('Shift');
    await v.page.keyboard.press('Tab');
    await v.page.keyboard.up('Shift');
    await v.page.keyboard.press('End');
    await until('lamps are back', async () => (await lamps()) > 0);
    await v.page.keyboard.press('0');
    await named(v.page, 'button', DARK[1]);
    await v.page.keyboard.press('0');
    await named(v.page, 'button', DARK[0]);
    // On a slider, the key is its own.
    await tabTo('button', 'Go space');
    await v.page.keyboard.press('Home');
    await isIn('At the quay');
  });
});

describe('by touch alone', () => {
  const middle = async (role: string, name: string): Promise<{ x: number; y: number; width: number }> => {
    const e = await named(v.page, role, name);
    await e.evaluate((x) => x.scrollIntoView({ block: 'nearest', inline: 'center' }));
    const box = (await e.boundingBox())!;
    return { x: box.x + box.width / 2, y: box.y + box.height / 2, width: box.width };
  };
  const tap = async (role: string, name: string): Promise<void> => {
    const { x, y } = await middle(role, name);
    await v.page.touchscreen.tap(x, y);
  };
  beforeAll(async () => {
    await v.page.setViewport({ width: 1180, height: 820, hasTouch: true });
    await named(v.page, 'list', 'The cord');
  });

  it('the night is performed', async () => {
    await tap('button', '5 All rests');
    await isNext('5 All rests');
    await tap('button', 'Go space');
    await until('another is next', async () => !(await next()).includes('5 All'));
    const slider = await middle('slider', 'Lamps');
    await v.page.touchscreen.touchStart(slider.x, slider.y);
    for (let k = 1; k <= 8; k++)
      await v.page.touchscreen.touchMove(slider.x - (k / 8) * (slider.width / 2 + 20), slider.y);
    await v.page.touchscreen.touchEnd();
    await until('lamps are out', async () => (await lamps()) === 0);
    const flash = await middle('button', 'flash Lamps');
    await v.page.touchscreen.touchStart(flash.x, flash.y);
    await until('lamps flash', async () => (await lamps()) > 0);
    await v.page.touchscreen.touchEnd();
    await until('lamps are out again', async () => (await lamps()) === 0);
    await v.page.touchscreen.touchStart(slider.x, slider.y);
    for (let k = 1; k <= 8; k++)
      await v.page.touchscreen.touchMove(slider.x + (k / 8) * (slider.width / 2 + 20), slider.y);
    await v.page.touchscreen.touchEnd();
    await until('lamps are back', async () => (await lamps()) > 0);
  });
  it('dark, freeze, and the lock, which a finger that is held opens', async () => {
    for (const [off, on] of [DARK, FREEZE]) {
      await tap('button', off);
      await tap('button', on);
      await named(v.page, 'button', off);
    }
    await tap('button', 'lock');
    const lock = await middle('button', 'locked · hold L');
    await v.page.touchscreen.touchStart(lock.x, lock.y);
    await named(v.page, 'button', 'lock');
    await v.page.touchscreen.touchEnd();
  });
});
