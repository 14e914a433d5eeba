import { afterAll, afterEach, beforeAll, describe, expect, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import {
  Listener,
  microphoneFile,
  named,
  openMenu,
  press,
  startServer,
  textOf,
  until,
  visit,
  type Server,
  type Visit,
} from './support';

let server: Server;
let v: Visit | null = null;
beforeAll(async () => {
  server = await startServer();
});
afterAll(async () => {
  await server.stop();
});
afterEach(async () => {
  const { noise = [], strangers = [] } = v ?? {};
  await v?.close();
  v = null;
  expect(strangers).toEqual([]);
  expect(noise).toEqual([]);
});
const print = async (x: Visit): Promise<string> =>
  createHash('sha1')
    .update(await x.page.screenshot({ clip: { x: 980, y: 100, width: 290, height: 200 } }))
    .digest('hex');

describe('the first path', () => {
  it('leads through the running show: a step is done by doing it, and it goes on after a reload', async () => {
    v = await visit(server.url);
    await press(v.page, 'button', 'New here? Play it, and be shown round in six short steps');
    const says = (): Promise<string> => textOf(v!.page, '[aria-label="The first path"]');
    await until('the first step', async () => (await says()).includes('1 of 6'));
    for (let step = 2; step <= 5; step++) {
      await press(v.page, 'button', 'leave this step out');
      await until(`step ${step}`, async () => (await says()).includes(`${step} of 6`));
    }
    await v.page.keyboard.press('0');
    await until('dark', () => v!.page.$('header button[aria-pressed=true]'));
    expect(await says()).toContain('5 of 6');
    await v.page.keyboard.press('0');
    await until('the last step', async () => (await says()).includes('6 of 6'));
    await v.page.reload({ waitUntil: 'load' });
    await until('it again', async () => (await says()).includes('6 of 6'));
    await press(v.page, 'button', 'to Tonight');
    await named(v.page, 'list', 'The cord');
    await v.page.keyboard.press('Space');
    await until('the end', async () => (await says()).includes('That is all of it'));
    await press(v.page, 'button', 'Done');
    await until('it gone', async () => (await says()) === '');
  });
});

describe('a first visit', () => {
  // No autoplay flag, and nothing evaluated in the page before what is asserted: that would count as a gesture.
  it('moves a picture, an overlay and lamps one press after the page is open; a reload goes on without any', async () => {
    v = await visit(server.url);
    await press(v.page, 'button', 'Play the ferry');
    const heard = await until('an overlay', () => {
      const l = new Listener(server, 'frame');
      return l;
    });
    // The drums set out at once: the badge bumps at the first strokes.
    await until('the badge to bump', () => heard.number('frame-badge/size') > 0.33);
    await press(v.page, 'button', '2 Route');
    const first = await print(v);
    await until('another picture', async () => (await print(v!)) !== first);

    await v.page.reload({ waitUntil: 'load' });
    const before = heard.frames;
    await until('values to go on after the reload', () => heard.frames > before + 20);
    const bumped = await until(
      'the drums to drive again',
      () => heard.number('frame-badge/size') > 0.32 || heard.number('frame-edge/swell') > 1,
    );
    expect(bumped).toBe(true);
    heard.close();
    // From here on a look into the page is allowed: it opened where it was left, with the show that was playing.
    expect(await v.page.evaluate(() => location.hash)).toBe('#route');
    await named(v.page, 'heading', 'What they move');
    expect(await textOf(v.page, '[data-parameter="ferry/height"]')).toContain('height');
  });

  it("a microphone's tone burst moves a parameter, a pixel of the picture and a decoded packet, and its silence lets them rest", async () => {
    v = await visit(server.url, {
      microphone: microphoneFile([
        [0, 2.5, 0],
        [220, 2.5, 0.5],
      ]),
    });
    await press(v.page, 'button', 'Use a microphone');
    await press(v.page, 'button', '4 Rig');
    const { page } = v;
    const lamp = async (): Promise<number> =>
      Math.max(
        ...(await textOf(page, 'tbody tr:nth-child(2) td:nth-child(5)')).trim().split(/\s+/).map(Number),
      );
    await until('the lamp to burn from the burst', async () => (await lamp()) > 150);
    await until('the lamp to rest in the silence', async () => (await lamp()) < 40);
    await press(page, 'button', '2 Route');
    const swell = async (): Promise<number> =>
      Number.parseFloat((await textOf(page, '[data-parameter="river/swell"]')).replace(/^\D+/, ''));
    await until('the parameter at rest', async () => (await swell()) <= 10);
    const still = await until('two equal pictures', async () => {
      const a = await print(v!);
      return (await print(v!)) === a || a;
    });
    expect(still).toBeTruthy();
    await until('the parameter to move', async () => (await swell()) > 25);
    await until('the lamp preview and the picture to follow', async () => (await print(v!)) !== still);
  });

  it('says plainly what to do when the microphone is refused, and lets the show go on', async () => {
    v = await visit(null, { refuseMicrophone: true });
    await v.page.goto(server.url, { waitUntil: 'load' });
    await press(v.page, 'button', 'Use a microphone');
    await until('words about it', async () =>
      (await textOf(v!.page, '[role=alert]')).includes('allow the microphone'),
    );
    await openMenu(v.page, '+ input');
    await named(v.page, 'menuitem', 'A sound file …');
  });
});
