import { beforeAll, describe, it } from '@jest/globals';
import { Board, GREEN, openBoard, RED, shoot, type Shot } from './board';
import { withFerry } from './stage';
import { named, press, textOf, until, undo, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
});

const select = (figure: string): Promise<void> =>
  v.page.$$eval(
    '[aria-label="Figures, back to front"] button',
    (all, f) => all.find((b) => (b.textContent ?? '').includes(f))!.click(),
    figure,
  );
/** Looks without the frame of what is selected. */
async function looked(what: string, ready: (s: Shot) => boolean): Promise<Shot> {
  return until(what, async () => {
    const s = await shoot(v.page);
    return ready(s) ? s : null;
  });
}
async function choose(list: string, option: string): Promise<void> {
  await until('no list in the way', async () => (await v.page.$('[role=listbox]')) === null);
  await (await named(v.page, 'combobox', list)).focus();
  await v.page.keyboard.press('Enter');
  await press(v.page, 'option', option);
}
/** Sets where a parameter rests, by its field. */
async function rest(parameter: string, value: string): Promise<void> {
  await (await named(v.page, 'slider', `${parameter} at rest`)).focus();
  await v.page.keyboard.press('Enter');
  await v.page.keyboard.type(value);
  await v.page.keyboard.press('Enter');
}

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
    await choose('grows from its', 'lower left');
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
    await choose('grows from its', 'left');
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
    await choose('grows from', 'its lower left');
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
