import { describe, it } from '@jest/globals';
import { crowdFile } from './crowd';
import { withFerry } from './stage';
import { named, openShowFile, press, tap, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry((_, first) => {
  v = first;
});

describe('three hundred routes', () => {
  it('open from a file, are all on the board, and leave it drawing', async () => {
    await openShowFile(v.page, await crowdFile(300));
    await until('the show', async () => (await textOf(v.page, 'body')).includes('is open'));
    await v.page.keyboard.press('2');
    await named(v.page, 'button', '300 routes: list');
    await v.page.mouse.move(640, 4); // a row that is pointed at draws its own
    // So many are stubs with their number; those of what is selected are whole.
    await until(
      'stubs of all of them',
      async () =>
        (await v.page.$$eval('svg text', (all) => all.reduce((n, e) => n + Number(e.textContent), 0))) ===
        300,
    );
    await v.page.$$eval('[data-signal] h3', (all) => {
      (all.find((e) => e.textContent === 'Wave 1') as HTMLElement).click();
    });
    await until(
      'a ribbon each of one signal',
      async () => (await v.page.$$eval('[data-route]', (all) => all.length)) === 38,
    );
    await v.page.evaluate(() => {
      const w = window as unknown as { frames_: number };
      w.frames_ = 0;
      const count = (): void => {
        w.frames_++;
        requestAnimationFrame(count);
      };
      count();
    });
    await until('thirty frames', () =>
      v.page.evaluate(() => (window as unknown as { frames_: number }).frames_ > 30),
    );
  });
  it('one is found, opened, muted and unmuted at once, and the others go on', async () => {
    const find = await named(v.page, 'textbox', 'Find what is moved');
    await find.focus();
    await v.page.keyboard.type('Lamp 7');
    await tap(v.page, '[data-parameter="lamp-77/dimmer"]');
    await named(v.page, 'region', 'Bench');
    await until('its route', async () =>
      (await textOf(v.page, '[aria-label=Bench]')).includes('Lamp 77 · dimmer'),
    );
    await v.page.keyboard.press('m');
    await until('muted', async () => (await textOf(v.page, '[aria-label=Bench]')).includes(', muted'));
    await undo(v.page);
    await until('not muted', async () => !(await textOf(v.page, '[aria-label=Bench]')).includes(', muted'));
    const now = (lamp: number): Promise<string> => textOf(v.page, `[data-parameter="lamp-${lamp}/dimmer"]`);
    for (const lamp of [77, 78]) {
      const before = await now(lamp);
      await until(`lamp ${lamp} to move`, async () => (await now(lamp)) !== before);
    }
    await v.page.keyboard.press('Escape');
  });
  it('the list has a row for each, and finds those of one lamp', async () => {
    await press(v.page, 'button', '300 routes: list');
    const search = await named(v.page, 'textbox', 'Search routes');
    await search.focus();
    await v.page.keyboard.type('lamp 150');
    await until('its two', async () =>
      (await textOf(v.page, '[aria-label="List of routes"] [role=status]')).startsWith('2 of 300'),
    );
    await press(v.page, 'button', 'back to ribbons');
  });
});
