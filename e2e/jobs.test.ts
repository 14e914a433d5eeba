import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { EMPTY_MEMORY, type Route, type Show } from '../src/core/show/types';
import { writeShowFile } from '../src/data/showFile';
import type { MeasureHandle } from '../src/ui/state/session';
import { Board, RED } from './board';
import { withFerry } from './stage';
import { named, openMenu, openShowFile, press, tap, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry((_, first) => {
  v = first;
});
const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-jobs-'));
async function open(show: Show): Promise<void> {
  const file = path.join(folder, `${show.id}.batucada`);
  const blob = await writeShowFile({
    show,
    memory: { ...EMPTY_MEMORY, playing: true },
    media: [],
    missing: [],
  });
  writeFileSync(file, new Uint8Array(await blob.arrayBuffer()));
  await openShowFile(v.page, file);
  await until('it open', async () => (await textOf(v.page, 'body')).includes(show.name));
}
const number = (key: string): Promise<number> =>
  v.page.evaluate(
    (k) => (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.parameter(k),
    key,
  );
const strip = '[aria-label="Figures, back to front"]';

describe('a very quiet sound', () => {
  it('is said to be held back by the limit against hiss, and goes past it in one press', async () => {
    const board = new Board();
    board.block('block', 640, 360, 200, RED);
    board.ear({ id: 'tone-level', name: 'Quiet', listening: { kind: 'level', reading: 'rms' } });
    const plain = board.move('block', 'size', 3, 'tone-level').show();
    const route: Route = {
      ...plain.routes[0]!,
      shaping: { fit: { mode: 'coming', forgetS: 30 }, clamp: { low: 0, high: 1 }, amount: 1 },
    };
    await open({
      ...plain,
      id: 'quiet',
      name: 'Quiet',
      inputs: plain.inputs.map((i) => (i.kind === 'tone' ? { ...i, db: -60 } : i)),
      routes: [route],
    });
    await v.page.keyboard.press('2');
    await tap(v.page, '[data-parameter="block/size"]');
    const why = (): Promise<string> => textOf(v.page, '[aria-label="Why isn’t it moving?"]');
    await until('what holds it', async () => /is \d+ dB below the usual/.test(await why()));
    const still = await number('block/size');
    expect(still).toBeLessThan(2);
    await press(v.page, 'button', 'fit past the limit');
    await until('it to move', async () => (await number('block/size')) > 2.9);
    await until('that it does', async () => (await why()).includes('It moves'));
    await undo(v.page);
    // Where it is fitted to what is heard, the same is said at once, with the same way past it.
    await v.page.keyboard.press('f');
    await until('the word', async () =>
      (await textOf(v.page, 'body')).includes('so that hiss moves nothing'),
    );
    await press(v.page, 'button', 'fit past the limit');
    await until('it to move again', async () => (await number('block/size')) > 2.9);
  });
});

describe('a new show', () => {
  it('may be empty: nothing of the one before is selected, and what is removed leaves nothing torn', async () => {
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'New show …');
    await press(v.page, 'button', 'With something to look at');
    await until('the ferry', async () => (await textOf(v.page, 'body')).includes('Low · 40–160 Hz'));
    await v.page.keyboard.press('3');
    await until('the figures', async () => (await textOf(v.page, strip)).includes('Ferry'));
    await press(v.page, 'button', 'Ferry 1 route');
    await press(v.page, 'button', 'delete');
    await until('it gone', async () => !(await textOf(v.page, strip)).includes('Ferry'));
    await v.page.keyboard.press('2');
    await named(v.page, 'heading', 'What they move');
    expect(await textOf(v.page, 'main')).not.toContain('Torn routes');
    await undo(v.page);
    await until('its route again', async () => (await v.page.$('[data-parameter="ferry/height"]')) !== null);

    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'New show …');
    await press(v.page, 'button', 'Empty');
    await until('nothing', async () => !(await textOf(v.page, 'body')).includes('Low · 40–160 Hz'));
    await v.page.keyboard.press('3');
    await until('an empty picture', async () =>
      (await textOf(v.page, 'main')).includes('The picture is empty. Press “+ figure”.'),
    );
    expect(await v.page.$$(`${strip} button`)).toHaveLength(0);
  });
});

describe('keys', () => {
  it('Escape closes the list of a new ear, and keeps the ear', async () => {
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'The Night Ferry, fresh');
    await v.page.keyboard.press('1');
    const field = await until('the field', () => v.page.$('[role=application]'));
    await field.focus();
    await v.page.keyboard.press('Enter');
    await until('a new ear', () => v.page.$('[aria-label^="New ear"]'));
    for (const opened of ['Enter', 'click'] as const) {
      const reading = await named(v.page, 'combobox', 'reading');
      if (opened === 'click') await reading.click();
      else {
        await reading.focus();
        await v.page.keyboard.press('Enter');
      }
      await until('its list', () => v.page.$('[role=listbox]'));
      await v.page.keyboard.press('Escape');
      await until('the list closed', async () => (await v.page.$('[role=listbox]')) === null);
      expect(await v.page.$('[aria-label^="New ear"]')).not.toBeNull();
    }
    await v.page.keyboard.press('Escape');
    await until('the ear dropped', async () => (await v.page.$('[aria-label^="New ear"]')) === null);
  });
});
