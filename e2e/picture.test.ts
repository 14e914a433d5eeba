import { describe, it } from '@jest/globals';
import { withFerry } from './stage';
import { named, press, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry(async (_, first) => {
  v = first;
  await v.page.keyboard.press('3');
});
/** Colours of the preview at places of the picture (from its lower left, in picture pixels), as `#rrggbb`. */
async function pixels(places: readonly (readonly [x: number, y: number])[]): Promise<string[]> {
  const canvas = (await v.page.waitForSelector('canvas[aria-label="The picture, live"]'))!;
  const { x, y, width, height } = (await canvas.boundingBox())!;
  const shot = await v.page.screenshot({ clip: { x, y, width, height }, encoding: 'base64' });
  return v.page.evaluate(
    async (data, at) => {
      const image = await createImageBitmap(await (await fetch(`data:image/png;base64,${data}`)).blob());
      const g = new OffscreenCanvas(image.width, image.height).getContext('2d')!;
      g.drawImage(image, 0, 0);
      return at.map(
        ([px, py]) =>
          `#${[...g.getImageData(Math.round((px / 1280) * image.width), Math.round((1 - py / 720) * image.height), 1, 1).data.slice(0, 3)].map((n) => n.toString(16).padStart(2, '0')).join('')}`,
      );
    },
    shot,
    places,
  );
}
const near = (a: string, b: string): boolean =>
  [1, 3, 5].every(
    (i) => Math.abs(Number.parseInt(a.slice(i, i + 2), 16) - Number.parseInt(b.slice(i, i + 2), 16)) < 14,
  );
async function addFigure(kind: string): Promise<void> {
  await press(v.page, 'button', '+ figure');
  await until('the kinds of figure', () =>
    v.page.$$eval(
      '[role=dialog] button',
      (all, k) => {
        const kindOf = all.find((e) => e.textContent === k) as HTMLElement | undefined;
        kindOf?.click();
        return kindOf !== undefined;
      },
      kind,
    ),
  );
}
async function byHand(
  name: string,
  key: 'Home' | 'End',
  then: readonly ('ArrowRight' | 'ArrowLeft')[] = [],
): Promise<void> {
  await (await named(v.page, 'slider', `${name} by hand`)).focus();
  await v.page.keyboard.press(key);
  for (const k of then) await v.page.keyboard.press(k);
}

describe('a segmented meter', () => {
  // Middles of its twelve segments, a little to the right of the handle at its foot.
  const middles = Array.from({ length: 12 }, (_, i) => [660, 180 + i * 26 + 13] as const);
  it('lights whole segments from its foot upward, from its first ink to its last', async () => {
    await addFigure('Meter');
    await until(
      'the meter',
      async () => (await textOf(v.page, '[aria-label="Selected figure"] h2')) === 'Meter',
    );
    const unlit = '#1d3340';
    await until('all of it unlit', async () => (await pixels(middles)).every((c) => near(c, unlit)));
    await byHand('Meter · level', 'End');
    await until('all of it lit', async () => {
      const c = await pixels(middles);
      return near(c[0]!, '#6db5a9') && near(c[11]!, '#e8572a') && c.every((x) => !near(x, unlit));
    });
    // 46 %: five and a half segments are reached, five are lit.
    await byHand('Meter · level', 'Home', Array<'ArrowRight'>(46).fill('ArrowRight'));
    await until(
      'five of them lit',
      async () => (await pixels(middles)).map((c) => (near(c, unlit) ? 0 : 1)).join('') === '111110000000',
    );
  });
});

describe('a needle dial', () => {
  it('points from lower left over the top to lower right', async () => {
    await addFigure('Dial');
    await until(
      'the dial',
      async () => (await textOf(v.page, '[aria-label="Selected figure"] h2')) === 'Dial',
    );
    // Halfway out along the needle, at 0, half and all of the sweep.
    const along = [210, 90, -30].map(
      (d) => [640 + 55 * Math.cos((d * Math.PI) / 180), 360 + 55 * Math.sin((d * Math.PI) / 180)] as const,
    );
    const dark = async (): Promise<string> =>
      (await pixels(along)).map((c) => (Number.parseInt(c.slice(1, 3), 16) < 60 ? 'x' : '.')).join('');
    await until('at rest', async () => (await dark()) === 'x..');
    await byHand('Dial · reading', 'End');
    await until('at all', async () => (await dark()) === '..x');
    await byHand('Dial · reading', 'Home', Array<'ArrowRight'>(50).fill('ArrowRight'));
    await until('at half', async () => (await dark()) === '.x.');
  });
});

describe('the numbers', () => {
  it('of what moves are written on the picture when wanted, and the picture keeps its shape beside an open bench', async () => {
    await v.page.$$eval('[aria-label="Figures, back to front"] button', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Ferry')) as HTMLElement).click();
    });
    await v.page.$$eval('button', (all) => {
      all.find((b) => b.textContent === 'numbers')!.click();
    });
    await until('its height in px', async () =>
      /height.*\d px/.test(await textOf(v.page, '[aria-label="Numbers of Ferry"]')),
    );
    await v.page.$$eval('[aria-label="Selected figure"] button', (all) => {
      (all.find((b) => (b.textContent ?? '').startsWith('Low drum · 40–110 Hz')) as HTMLElement).click();
    });
    await named(v.page, 'region', 'Bench');
    const canvas = (await v.page.waitForSelector('canvas[aria-label="The picture, live"]'))!;
    await until('16 to 9', async () => {
      const b = (await canvas.boundingBox())!;
      return Math.abs(b.width / b.height - 16 / 9) < 0.02;
    });
  });
});

describe('the picture, handled directly', () => {
  const at = async (): Promise<string> => textOf(v.page, '[aria-label="Place across"]');
  const number = async (label: string): Promise<string> =>
    textOf(v.page, `[aria-label="Selected figure"] [aria-label="${label}"]`);
  const chosen = async (): Promise<string> => textOf(v.page, '[aria-label="Selected figure"] h2');
  const strip = (): Promise<string[]> =>
    v.page.$$eval('[aria-label="Figures, back to front"] [role=listitem]', (all) =>
      all.map((e) => /^(?:Group)?\s*(\S+)/.exec(e.textContent ?? '')![1]!),
    );
  /** Where a place of the picture is on the page. */
  async function place(x: number, y: number): Promise<[number, number]> {
    const b = (await (await v.page.waitForSelector(
      'canvas[aria-label="The picture, live"]',
    ))!.boundingBox())!;
    return [b.x + (x / 1280) * b.width, b.y + (1 - y / 720) * b.height];
  }
  async function drag(from: [number, number], to: [number, number]): Promise<void> {
    await v.page.mouse.move(...(await place(...from)));
    await v.page.mouse.down();
    await v.page.mouse.move(...(await place(...to)), { steps: 6 });
    await v.page.mouse.up();
  }
  it('the list of figures swallows no press while it fades away', async () => {
    await addFigure('Block');
    await until('the block', async () => (await chosen()) === 'Block');
    await drag([640, 360], [760, 430]);
    await until('it moved', async () => !['', '640 px'].includes(await at()));
    await undo(v.page);
    await until('it back', async () => (await at()) === '640 px');
    await undo(v.page);
    await until('it gone', async () => (await chosen()) !== 'Block');
  });
  it('a press selects, a drag moves and is drawn to the middle, a corner sizes, the knob turns; each is one undo', async () => {
    await addFigure('Block');
    await until('the block', async () => (await chosen()) === 'Block');
    // From 640 at its foot to within eight of the middle line, and not beyond.
    await (await named(v.page, 'slider', 'Place across')).focus();
    for (let i = 0; i < 3; i++) {
      await v.page.keyboard.down('Shift');
      await v.page.keyboard.press('ArrowLeft');
      await v.page.keyboard.up('Shift');
    }
    await until('it moved by number', async () => (await at()) === '610 px');
    await drag([610, 360], [636, 362]);
    await until('it drawn to the middle', async () => (await at()) === '640 px');
    await drag([700, 420 + 2], [760, 542]);
    await until(
      'twice as large',
      async () => Math.abs(Number.parseFloat(await number('size at rest')) - 2) < 0.06,
    );
    // Its knob stands above it: turned a quarter to the right about its foot it lies, at −90°.
    const knob = (await (await v.page.$('[data-grip=turn]'))!.boundingBox())!,
      [fx, fy] = await place(640, Number(/(\d+)/.exec(await number('Place up'))![1]));
    await v.page.mouse.move(knob.x + knob.width / 2, knob.y + knob.height / 2);
    await v.page.mouse.down();
    await v.page.mouse.move(fx + 150, fy - 150, { steps: 4 });
    await v.page.mouse.move(fx + 180, fy + 1, { steps: 4 });
    await v.page.mouse.up();
    await until('it lying', async () => (await number('tilt at rest')) === '−90.0°');
    await undo(v.page);
    await until('it upright again', async () => (await number('tilt at rest')) === '0.0°');
    await undo(v.page);
    await until('its size again', async () => (await number('size at rest')).startsWith('1.00'));
    await drag([120, 360], [121, 360]);
    await until('what lies there is selected', async () => (await chosen()) !== 'Block');
  });
  it('what is locked cannot be pressed', async () => {
    await v.page.$$eval('[aria-label="Figures, back to front"] button', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Block')) as HTMLElement).click();
    });
    await until('the block', async () => (await chosen()) === 'Block');
    await press(v.page, 'button', 'lock');
    await press(v.page, 'button', 'unlock');
    await press(v.page, 'button', 'lock');
    await drag([640, 380], [500, 300]);
    await until('another figure under it taken', async () => (await chosen()) !== 'Block');
    await v.page.$$eval('[aria-label="Figures, back to front"] button', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Block')) as HTMLElement).click();
    });
    await until('it where it was', async () => (await chosen()) === 'Block' && (await at()) === '640 px');
    await press(v.page, 'button', 'unlock');
  });
  it('several are grouped, hidden together, and dissolved', async () => {
    const pick = (name: string, shift: boolean): Promise<void> =>
      v.page.$$eval(
        '[aria-label="Figures, back to front"] button',
        (all, n, s) => {
          all
            .find((e) => (e.textContent ?? '').startsWith(n))!
            .dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey: s }));
        },
        name,
        shift,
      );
    // What is selected alone is the first of several.
    await pick('Stars', false);
    await until('the first', async () => (await chosen()) === 'Stars');
    await pick('Moon', true);
    await until('both selected', async () => (await chosen()) === '2 figures');
    await pick('Gulls', true);
    await until('three', async () => (await chosen()) === '3 figures');
    await pick('Gulls', true);
    await until('both again', async () => (await chosen()) === '2 figures');
    // Several that are deleted leave no panel behind, and come back with undo.
    await press(v.page, 'button', 'delete');
    await until('one figure again', async () => !(await chosen()).includes('figures'));
    await undo(v.page);
    await pick('Stars', false);
    await pick('Moon', true);
    await until('both selected once more', async () => (await chosen()) === '2 figures');
    await press(v.page, 'button', 'group them');
    await until('the group', async () => (await chosen()) === 'Group');
    await press(v.page, 'button', 'lock');
    const moon = await place(1010, 560);
    await v.page.mouse.click(...moon);
    await until(
      'nothing of it pressed',
      async () => (await chosen()) === 'Group' || !['Stars', 'Moon'].includes(await chosen()),
    );
    await v.page.$eval('[aria-label="Group Group"]', (e) => {
      (e as HTMLElement).click();
    });
    await press(v.page, 'button', 'unlock');
    await press(v.page, 'button', 'hide');
    await until(
      'it hidden',
      async () => (await textOf(v.page, '[aria-label="Group Group"]')) === 'Group, hidden',
    );
    await press(v.page, 'button', 'dissolve');
    await until(
      'it gone',
      async () => (await v.page.$('[aria-label="Group Group"]')) === null && (await strip()).includes('Moon'),
    );
  });
  it('finishes are put on, ordered by keyboard, taken off, and undone', async () => {
    const add = async (kind: string): Promise<void> => {
      await press(v.page, 'button', '+ finish');
      await press(v.page, 'menuitem', kind);
    };
    const list = (): Promise<string[]> =>
      v.page.$$eval('[aria-label="Finishes, first to last"] [role=listitem]', (all) =>
        all.map((e) => /^\s*(Glow|Ripple)/.exec(e.textContent ?? '')![1]!),
      );
    await v.page.$$eval('[aria-label="Figures, back to front"] button', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Ferry')) as HTMLElement).click();
    });
    await add('glow');
    await until('a glow', async () => (await list()).join() === 'Glow');
    await add('ripple');
    await until('a ripple after it', async () => (await list()).join() === 'Glow,Ripple');
    const said = (): Promise<string> =>
      v.page.$$eval('[aria-live=assertive]', (all) => all.map((e) => e.textContent ?? '').join(' '));
    const grip = await named(v.page, 'button', 'Move Ripple');
    await grip.focus();
    await v.page.keyboard.press('Space');
    await until('it lifted', async () => (await said()).includes('ripple-1'));
    // The first arrow may only bring it into view.
    await until('it over the other', async () => {
      if (/over droppable area glow/.test(await said())) return true;
      await v.page.keyboard.press('ArrowUp');
      return false;
    });
    await v.page.keyboard.press('Space');
    await until('it first', async () => (await list()).join() === 'Ripple,Glow');
    await press(v.page, 'checkbox', 'Glow on');
    await until('it off', async () =>
      (await textOf(v.page, '[aria-label="Finishes, first to last"]')).includes('off'),
    );
    await undo(v.page);
    await undo(v.page);
    await until('the order as it was', async () => (await list()).join() === 'Glow,Ripple');
    await press(v.page, 'button', 'Remove Ripple');
    await until('one left', async () => (await list()).join() === 'Glow');
  });
});
