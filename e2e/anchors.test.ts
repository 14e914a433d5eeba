import { beforeAll, describe, expect, it } from '@jest/globals';
import { BLUE, Board, GREEN, openBoard, RED, shoot, type Shot } from './board';
import { withFerry } from './stage';
import { choose, enter, openMenu, press, textOf, until, undo, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
});

const select = (figure: string): Promise<unknown> =>
  until(`“${figure}” in the row of figures`, () =>
    v.page.$$eval(
      '[aria-label="Figures, back to front"] button',
      (all, f) => {
        const found = all.find((b) => (b.textContent ?? '').includes(f)) as HTMLElement | undefined;
        found?.click();
        return found !== undefined;
      },
      figure,
    ),
  );
/** Looks without the frame of what is selected. */
async function looked(what: string, ready: (s: Shot) => boolean): Promise<Shot> {
  return until(what, async () => {
    const s = await shoot(v.page);
    return ready(s) ? s : null;
  });
}
/** Sets where a parameter rests, by its field. */
const rest = (parameter: string, value: string): Promise<void> =>
  enter(v.page, `${parameter} at rest`, value);

describe('what grows from its anchor', () => {
  beforeAll(async () => {
    const b = new Board();
    const red = await b.media(
      'red.svg',
      'image/svg+xml',
      `<svg xmlns="http://www.w3.org/2000/svg" width="400" height="200"><rect width="400" height="200" fill="${RED}"/></svg>`,
    );
    // 240 × 120 px in the picture.
    b.figure(
      'sign',
      { kind: 'image', media: red, fileName: 'red.svg', flipX: false, flipY: false, aspect: 2 },
      400,
      500,
      { size: 0.5 },
    );
    b.figure('word', { kind: 'text', text: 'MMMM', face: 'heading' }, 900, 500, { ink: GREEN });
    b.group('pair');
    b.block('one', 300, 100, 100, RED, { group: 'pair' });
    b.block('two', 500, 100, 100, RED, { group: 'pair' });
    await openBoard(v.page, b);
  });
  it('an image stays where it is when another point is chosen, and is then stretched from there, each axis by itself', async () => {
    await select('sign');
    await choose(v.page, 'grows from its', 'lower left');
    // From 280 to 520 across and 440 to 560 up, as before.
    await looked(
      'it where it was',
      (s) => s.is(310, 470, RED) && s.is(490, 530, RED) && s.light(540, 500) === 0,
    );
    await rest('wide', '2');
    await looked(
      'it twice as wide',
      (s) => s.is(310, 470, RED) && s.is(720, 530, RED) && s.light(600, 590) === 0,
    );
    await rest('tall', '0.5');
    await looked('it half as tall', (s) => s.is(720, 460, RED) && s.light(600, 535) === 0);
    await undo(v.page);
    await undo(v.page);
    await looked('it as before', (s) => s.is(490, 530, RED) && s.light(600, 470) === 0);
  });
  it('its anchor is dragged on the picture to one of nine points', async () => {
    const grip = await until('the anchor', () => v.page.$('[data-grip=anchor]')),
      box = (await grip.boundingBox())!,
      canvas = (await (await v.page.$('canvas[aria-label="The picture, live"]'))!.boundingBox())!;
    const place = (x: number, y: number): [number, number] => [
      canvas.x + (x / 1280) * canvas.width,
      canvas.y + (1 - y / 720) * canvas.height,
    ];
    await v.page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await v.page.mouse.down();
    await v.page.mouse.move(...place(450, 480), { steps: 4 });
    await v.page.mouse.move(...place(516, 556), { steps: 4 });
    await v.page.mouse.up();
    await until('the other corner', async () =>
      (await textOf(v.page, '[aria-label="What it is made of"]')).includes('upper right'),
    );
    await looked('it where it was', (s) => s.is(310, 470, RED) && s.is(490, 530, RED));
    // One drag is one step.
    await undo(v.page);
    await until('the first corner', async () =>
      (await textOf(v.page, '[aria-label="What it is made of"]')).includes('lower left'),
    );
  });
  it('a text is stretched from its left', async () => {
    await select('word');
    await choose(v.page, 'grows from its', 'left');
    const before = await shoot(v.page);
    const width = (s: Shot): number => {
      let n = 0;
      for (let x = 560; x < 1270; x += 2) if (s.some(x, 480, x + 1, 520)) n++;
      return n;
    };
    const was = width(before);
    await rest('wide', '1.5');
    await until('it wider', async () => width(await shoot(v.page)) > 1.3 * was);
  });
  it('a group grows from a point of its figures, and each axis by itself', async () => {
    await select('pair');
    await choose(v.page, 'grows from', 'its lower left');
    await rest('wide', '2');
    // From the left edge of the one, 250: the other goes from 450–550 to 650–850.
    await looked(
      'it twice as wide',
      (s) => s.is(260, 110, RED) && s.is(840, 190, RED) && s.light(600, 150) === 0,
    );
    await undo(v.page);
    await looked('it as before', (s) => s.is(540, 150, RED) && s.light(600, 150) === 0);
  });
  it('an image that covers the picture has no bare edge, wherever it is shifted', async () => {
    await select('sign');
    const corners = (s: Shot): boolean =>
      [
        [3, 3],
        [1276, 3],
        [3, 716],
        [1276, 716],
      ].every(([x, y]) => s.is(x!, y!, RED));
    await v.page.$$eval('label', (all) => {
      all
        .find((l) => l.textContent === 'covers the picture')!
        .querySelector('input')!
        .click();
    });
    await looked('all of it', corners);
    await rest('across', '640');
    await rest('turn', '25');
    await looked('all of it, shifted and turned', corners);
    await until('how much room', async () =>
      (await textOf(v.page, '[aria-label="What it is made of"]')).includes('with room'),
    );
    await v.page.$$eval('label', (all) => {
      all
        .find((l) => l.textContent === 'covers the picture')!
        .querySelector('input')!
        .click();
    });
    await looked('it free again', (s) => !corners(s));
  });
});

describe('inks that run into each other', () => {
  beforeAll(async () => {
    const b = new Board();
    const bar = (id: string, x: number): unknown =>
      b.figure(id, { kind: 'bars', count: 1, bothWays: false }, x, 200, {
        level: 100,
        length: 200,
        tall: 300,
        ink: RED,
        top: BLUE,
      });
    bar('tower', 400);
    bar('other', 900);
    b.block('sheet', 640, 560, 100, '#808080').finish('inks', 'sheet', { kind: 'ramp' }, { inks: 0 });
    await openBoard(v.page, b);
    await select('tower');
  });
  /** Of the tower, from its foot to its top. */
  const up = (s: Shot, share: number, ink: string): boolean => s.is(345, 200 + 300 * share, ink, 70);
  const place = (ink: string): Promise<string> =>
    v.page
      .$eval(`[aria-label="Place of ${ink}"]`, (e) => e.getAttribute('aria-valuenow') ?? '')
      .catch(() => '');
  async function paint(field: string, colour: string): Promise<void> {
    await (
      await until(field, () => v.page.$(`input[aria-label="${field}"]`))
    ).evaluate((e, c) => {
      const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!;
      set.call(e, c);
      e.dispatchEvent(new Event('input', { bubbles: true }));
      e.dispatchEvent(new Event('change', { bubbles: true }));
    }, colour);
  }
  it('get another between them, which is dragged and painted; one undo each', async () => {
    await looked('two inks', (s) => up(s, 0.03, RED) && up(s, 0.97, BLUE) && !up(s, 0.5, GREEN));
    await press(v.page, 'button', '+ ink');
    await until('it in the middle', async () => (await place('ink 2')) === '50');
    await paint('Colour of ink 2', GREEN);
    await looked('it', (s) => up(s, 0.5, GREEN) && up(s, 0.03, RED) && up(s, 0.97, BLUE));
    const handle = (await (await v.page.$('[aria-label="Place of ink 2"]'))!.boundingBox())!,
      strip = (await (await v.page.$('[aria-label="Inks of tower"] [title^=Press]'))!.boundingBox())!;
    await v.page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height - 8);
    await v.page.mouse.down();
    await v.page.mouse.move(strip.x + strip.width * 0.4, handle.y + 10, { steps: 5 });
    await v.page.mouse.move(strip.x + strip.width * 0.25, handle.y + 10, { steps: 5 });
    await v.page.mouse.up();
    await looked('it further down', (s) => up(s, 0.25, GREEN) && !up(s, 0.5, GREEN));
    await undo(v.page);
    await looked('it where it was', (s) => up(s, 0.5, GREEN));
  });
  it('are kept by name, and laid on another figure and on a finish', async () => {
    await openMenu(v.page, 'kept …');
    await press(v.page, 'menuitem', 'Keep these inks');
    await select('other');
    await openMenu(v.page, 'kept …');
    await v.page.$$eval('[role=menuitem]', (all) =>
      (all.find((e) => (e.textContent ?? '').includes('Inks of tower')) as HTMLElement).click(),
    );
    await looked('them on the other', (s) => s.is(845, 350, GREEN) && s.is(845, 209, RED, 70));
    await select('sheet');
    await v.page.$$eval('[role=listitem] button', (all) =>
      (all.find((e) => (e.textContent ?? '').startsWith('inks')) as HTMLElement).click(),
    );
    await openMenu(v.page, 'kept …');
    await v.page.$$eval('[role=menuitem]', (all) =>
      (all.find((e) => (e.textContent ?? '').includes('Inks of tower')) as HTMLElement).click(),
    );
    // What is half bright takes the middle ink.
    await looked('half bright in green', (s) => s.is(640, 610, GREEN, 70));
  });
  it('go by keyboard, and out with Delete; those that signals may move stay', async () => {
    await select('tower');
    await (await until('its handle', () => v.page.$('[aria-label="Place of ink 2"]'))).focus();
    for (let i = 0; i < 3; i++) await v.page.keyboard.press('ArrowRight');
    await until('it further', async () => (await place('ink 2')) === '53');
    await v.page.keyboard.press('Delete');
    await until('it gone', async () => (await place('ink 2')) === '');
    await (await v.page.$('[aria-label="Place of last ink"]'))!.focus();
    await v.page.keyboard.press('Delete');
    await until('why not', async () =>
      (await textOf(v.page, 'body')).includes('last ink is one that signals may move'),
    );
  });
});

describe('trails', () => {
  it('are told by the picture as well as by the second', async () => {
    const b = new Board();
    b.block('one', 640, 300, 100, RED).finish(
      'wake',
      'one',
      { kind: 'trails' },
      { last: 1.5, zoom: 0, turn: 90 },
    );
    await openBoard(v.page, b);
    await select('one');
    await v.page.$$eval('[role=listitem] button', (all) =>
      (all.find((e) => (e.textContent ?? '').startsWith('wake')) as HTMLElement).click(),
    );
    const field = (label: string): Promise<string> =>
      v.page.$eval(`[role=slider][aria-label="${label}"]`, (e) => e.textContent ?? '').catch(() => '');
    await until('both', async () => (await field('turn each picture')).startsWith('1.5'));
    expect(await field('left of it each picture')).toContain('97.47');
    await enter(v.page, 'turn each picture', '2');
    await until('as much a second', async () => (await field('turn at rest')).startsWith('120'));
  });
});
