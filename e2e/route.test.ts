import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from '@jest/globals';
import {
  named,
  playFerry,
  press,
  redo,
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
});
afterAll(async () => {
  await server.stop();
});
beforeEach(async () => {
  v = await visit(server.url, { autoplay: true });
  await playFerry(v.page);
});
afterEach(async () => {
  const { noise, strangers } = v;
  await v.close();
  expect(strangers).toEqual([]);
  expect(noise).toEqual([]);
});
/** As many as the board says that there are: of more than a dozen only some are drawn. */
const routes = async (): Promise<number> =>
  Number((await textOf(v.page, 'main')).match(/(\d+) routes: list/)?.[1] ?? NaN);
const centre = async (selector: string): Promise<{ x: number; y: number }> => {
  const box = await (await v.page.waitForSelector(selector))!.boundingBox();
  return { x: box!.x + box!.width / 2, y: box!.y + box!.height / 2 };
};

describe('routes', () => {
  it('are made by dragging a signal onto a parameter, fitted to what was heard, undone and redone by keyboard', async () => {
    await press(v.page, 'button', '2 Route');
    const before = await until('ribbons', routes);
    const from = await centre('[data-signal="deck-level"]');
    const to = await centre('[data-parameter="stars/glow"]');
    await v.page.mouse.move(from.x, from.y);
    await v.page.mouse.down();
    await v.page.mouse.move(from.x + 20, from.y + 10, { steps: 4 });
    await v.page.mouse.move((from.x + to.x) / 2, to.y, { steps: 6 });
    // While it is carried every parameter is shown, so the row has moved.
    const now = await centre('[data-parameter="stars/glow"]');
    await v.page.mouse.move(now.x, now.y, { steps: 6 });
    await v.page.mouse.up();
    await until('one ribbon more', async () => (await routes()) === before + 1);
    await named(v.page, 'region', 'Bench');
    expect(await textOf(v.page, '[aria-label=Bench]')).toContain('moves Stars · glow');
    expect(await textOf(v.page, '[aria-label=Bench] [aria-label=fit]')).toContain('to heard');
    await undo(v.page);
    await until('it undone', async () => (await routes()) === before);
    await redo(v.page);
    await until('it redone', async () => (await routes()) === before + 1);
  });

  it('are made by a finger too', async () => {
    await press(v.page, 'button', '2 Route');
    const before = await until('ribbons', routes);
    const from = await centre('[data-signal="snare-band"]'),
      to = await centre('[data-parameter="stars/glow"]');
    await v.page.touchscreen.touchStart(from.x, from.y);
    for (const share of [0.05, 0.2, 0.5, 0.8])
      await v.page.touchscreen.touchMove(from.x + (to.x - from.x) * share, from.y + (to.y - from.y) * share);
    const now = await centre('[data-parameter="stars/glow"]');
    await v.page.touchscreen.touchMove(now.x, now.y);
    await v.page.touchscreen.touchMove(now.x + 2, now.y);
    await v.page.touchscreen.touchEnd();
    await until('one ribbon more', async () => (await routes()) === before + 1);
    expect(await textOf(v.page, '[aria-label=Bench]')).toContain('Snare · 1.2–3 kHz');
    await undo(v.page);
    await until('it undone', async () => (await routes()) === before);
  });

  it('are made by “+ move this”, muted, and deleted by keyboard alone', async () => {
    await v.page.keyboard.press('3');
    await press(v.page, 'button', '+ move this: Ferry · tilt');
    await v.page.waitForSelector('[role=menuitem]');
    await v.page.keyboard.press('Enter');
    await named(v.page, 'region', 'Bench');
    expect(await textOf(v.page, '[aria-label=Bench]')).toContain('moves Ferry · tilt');
    // The focus stands on the button that opened the menu; M and Delete act on the selected route.
    await v.page.keyboard.press('m');
    await until('it muted', async () => (await textOf(v.page, '[aria-label=Bench]')).includes('muted'));
    const tilt = (): Promise<string> =>
      v.page.$eval('[role=group][aria-label=tilt]', (e) => e.textContent ?? '');
    await until(
      'it at rest',
      async () => (await tilt()).includes('0.0°+') || /0\.0°(Low|Snare|Shaker|Deck|Voice)/.test(await tilt()),
    );
    await v.page.keyboard.press('Delete');
    await until('the bench closed', async () => (await v.page.$('[aria-label=Bench]')) === null);
    expect(await tilt()).toContain('still');
  });

  it('show the number at every step, from the sound to what is really sent', async () => {
    await v.page.keyboard.press('2');
    await v.page.waitForSelector('[data-parameter="ferry/height"]');
    await tap(v.page, '[data-parameter="ferry/height"]');
    await named(v.page, 'region', 'Bench');
    const number = async (card: string): Promise<number> =>
      Number.parseFloat(
        (await textOf(v.page, `[aria-label=Bench] [aria-label="${card}"] [data-out] span`)).replace('−', '-'),
      );
    await until('a heard number', async () => (await number('heard')) > 0.01);
    // With amount 0 everything after it rests, whatever is heard.
    await tap(v.page, '[aria-label=Bench] [aria-label=amount]');
    const amount = await named(v.page, 'slider', 'Amount');
    await amount.focus();
    await v.page.keyboard.press('Home');
    await until('the ferry at rest', async () => (await number('together')) === 0);
    expect(await number('heard')).not.toBe(NaN);
    await until('a reason', async () =>
      (await textOf(v.page, '[aria-label="Why isn’t it moving?"]')).includes('amount is 0'),
    );
    await press(v.page, 'button', 'raise the amount');
    await until('the ferry to move again', async () => (await number('together')) > 1);
  });

  it('keep torn when their ear is removed, and can be undone', async () => {
    await v.page.keyboard.press('1');
    await press(v.page, 'group', 'Low drum · hit');
    await press(v.page, 'button', 'Remove Low drum · hit');
    await v.page.keyboard.press('2');
    await named(v.page, 'heading', 'Torn routes');
    await undo(v.page);
    await until(
      'them whole again',
      async () =>
        (await v.page.$('[data-signal="low-hit"]')) !== null &&
        !(await textOf(v.page, 'main')).includes('Torn routes'),
    );
  });

  it('a range drawn on the field is tried at once on the last twelve seconds, kept, and aimed', async () => {
    await v.page.waitForSelector('[role=application] canvas');
    const box = (await (await v.page.$('[role=application]'))!.boundingBox())!;
    await until(
      'some sound in the past',
      async () => (await textOf(v.page, '[aria-label=Playing]')).match(/ (\d+\.\d) \//)?.[1] !== undefined,
    );
    await v.page.mouse.move(box.x + box.width * 0.2, box.y + 120);
    await v.page.mouse.down();
    await v.page.mouse.move(box.x + box.width * 0.34, box.y + 120, { steps: 6 });
    await v.page.mouse.up();
    await press(v.page, 'button', 'hit in this range once a stroke, with its strength');
    await press(v.page, 'button', 'Keep and move something');
    await press(v.page, 'button', 'Move Moon · size');
    await named(v.page, 'region', 'Bench');
    expect(await textOf(v.page, '[aria-label=Bench]')).toContain('moves Moon · size');
    expect(await textOf(v.page, '[aria-label=Bench]')).toContain('strike');
  });
});
