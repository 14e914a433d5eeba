import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { strToU8, zipSync } from 'fflate';
import type { ElementHandle } from 'puppeteer-core';
import { FERRY_DEFINITIONS } from '../src/core/ferry/fixtures';
import { seenLamp, kindOf, makeSeen } from '../src/core/lights';
import { encode } from '../src/core/parameters';
import { called } from './called';
import { withFerry } from './stage';
import { choose, enter, named, openMenu, press, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry((_, first) => {
  v = first;
});
const received = async (lamp: string): Promise<number[]> =>
  (await textOf(v.page, `[aria-label="Channels of ${lamp} as received"]`)).trim().split(/\s+/).map(Number);
/** Where a lamp, or the spot that it points at, is on the page. */
async function middle(label: string): Promise<{ x: number; y: number; width: number }> {
  return (await named(v.page, 'button', label)).evaluate((e) => {
    const r = e.getBoundingClientRect();
    return { x: r.left + r.width / 2, y: r.top + r.height / 2, width: r.width };
  });
}
const rest = async (label: string): Promise<number> =>
  Number.parseFloat((await textOf(v.page, `[aria-label="${label} at rest"]`)).replace('−', '-'));

describe('the room', () => {
  it('shows each lamp as its receiver decoded it: the same colour, from two protocols', async () => {
    await v.page.keyboard.press('4');
    await named(v.page, 'button', 'Select Mast head left');
    await until('a burning lamp', async () => (await received('Rail lamp right'))[0]! > 60);
    await v.page.keyboard.press('9');
    await until(
      'all of it held',
      async () => (await called(v.page, 'button', 'Freeze everything is held')) !== null,
    );
    // Held: what is drawn and what is read are of the same packet.
    await until('the same numbers twice', async () => {
      const a = (await received('Rail lamp right')).join();
      await new Promise((r) => setTimeout(r, 250));
      return a === (await received('Rail lamp right')).join();
    });
    for (const [name, mode] of [
      ['Rail lamp left', 'rgb'],
      ['Rail lamp right', 'drgb'],
      ['Rail lamp 5', 'rgb'],
    ] as const) {
      const sent = await received(name),
        seen = makeSeen(kindOf({ mode }));
      seenLamp(kindOf({ mode }), (i) => sent[i]!, seen);
      const { x, y } = await middle(`Select ${name}`);
      const pixel = await v.page.evaluate(
        (px, py) => {
          const canvas = document.querySelector<HTMLCanvasElement>('canvas[aria-label^="The room"]')!,
            r = canvas.getBoundingClientRect();
          return [
            ...canvas
              .getContext('2d')!
              .getImageData(
                Math.round(((px - r.left) / r.width) * canvas.width),
                Math.round(((py - r.top) / r.height) * canvas.height),
                1,
                1,
              ).data,
          ].slice(0, 3);
        },
        x,
        y,
      );
      pixel.forEach((p, c) =>
        expect([name, c, Math.abs(p - encode(seen.light[c]!) * 255) <= 2]).toEqual([name, c, true]),
      );
    }
    await v.page.keyboard.press('9');
  });

  it('a head is aimed by dragging the spot that it points at, and lands there within a hundredth of the room', async () => {
    await press(v.page, 'button', 'Select Mast head right');
    const before = await rest('pan');
    const from = await middle('Mast head right points here at rest'),
      room = await v.page.$eval('canvas[aria-label^="The room"]', (e) => {
        const r = e.getBoundingClientRect();
        return { left: r.left, top: r.top, width: r.width, height: r.height };
      });
    const to = { x: room.left + room.width * 0.4, y: room.top + room.height * 0.93 };
    await v.page.mouse.move(from.x, from.y);
    await v.page.mouse.down();
    await v.page.mouse.move(to.x + 40, to.y - 20, { steps: 4 });
    await v.page.mouse.move(to.x, to.y, { steps: 4 });
    await v.page.mouse.up();
    await until('it turned', async () => (await rest('pan')) !== before);
    const at = await middle('Mast head right points here at rest');
    expect(Math.hypot(at.x - to.x, at.y - to.y)).toBeLessThan(room.width / 100);
    await undo(v.page);
    await until('it back', async () => (await rest('pan')) === before);
    // By keyboard, and to a spot that is kept.
    await (await named(v.page, 'button', 'Mast head right points here at rest')).focus();
    await v.page.keyboard.press('ArrowLeft');
    await until('it a little to the side', async () => (await rest('pan')) !== before);
    await undo(v.page);
    await press(v.page, 'button', 'Sail');
    await until('the other spot', async () => (await rest('pan')) !== before);
    await undo(v.page);
    await until('it back again', async () => (await rest('pan')) === before);
  });

  it('a lamp is placed by dragging and by keyboard, several are put in line, and a view from above shows it', async () => {
    const start = await middle('Select Rail lamp 4');
    await v.page.mouse.move(start.x, start.y);
    await v.page.mouse.down();
    await v.page.mouse.move(start.x + 20, start.y - 60, { steps: 5 });
    await v.page.mouse.up();
    await until('it moved', async () => (await middle('Select Rail lamp 4')).y < start.y - 30);
    await undo(v.page);
    await until('it back', async () => Math.abs((await middle('Select Rail lamp 4')).y - start.y) < 1);
    await press(v.page, 'button', 'from above');
    await until('from above', async () => v.page.$('canvas[aria-label^="The room from above"]'));
    const above = await middle('Select Rail lamp 4');
    await (await named(v.page, 'button', 'Select Rail lamp 4')).focus();
    await v.page.keyboard.down('Shift');
    await v.page.keyboard.press('ArrowDown');
    await v.page.keyboard.up('Shift');
    await until(
      'it nearer to the audience',
      async () => (await middle('Select Rail lamp 4')).y > above.y + 10,
    );
    await undo(v.page);
    await press(v.page, 'button', 'from the front');
  });

  it('a head becomes another kind: routes are kept, what does not fit is brought within what it can do', async () => {
    await press(v.page, 'button', 'Select Mast head left');
    await choose(v.page, 'Kind of Mast head left', 'moving head in 8 bit, with wheels, 6 channels');
    const panel = (): Promise<string> => textOf(v.page, '[aria-label="Selected lamp"]');
    await until('no zoom', async () => !(await panel()).includes('zoom'));
    expect(await panel()).toContain('Deck · level → 62°');
    await until('it turned by six channels', async () => (await received('Mast head left')).length === 6);
    await undo(v.page);
    await until('its zoom again', async () => (await panel()).includes('Low drum · hit → 24.0°'));
  });

  it('a bar has as many cells as it is told, and says how a row lies over them', async () => {
    await press(v.page, 'button', 'Select Rail bar');
    await choose(v.page, 'Kind of Rail bar', 'pixel bar, any number of cells');
    await enter(v.page, 'Cells across', '24');
    await until('24 cells', async () => (await textOf(v.page, '[aria-label="Cells across"]')) === '24');
    await choose(v.page, 'a row lies', 'in order');
    await until(
      'a cell lit by the spectrum',
      async () => Math.max(...(await received('Rail bar')).filter(Number.isFinite)) > 40,
    );
    for (let i = 0; i < 3; i++) await undo(v.page);
  });

  it('a fixture file is read, says what is in it, and its kind is offered; a damaged one changes nothing', async () => {
    const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-rig-')),
      good = path.join(folder, 'Bow Light.gdtf'),
      bad = path.join(folder, 'Broken.gdtf');
    const description = FERRY_DEFINITIONS['mast-head']
      .replaceAll('Mast Head', 'Bow Light')
      .replaceAll('"Focus1"', '"Prism1"');
    writeFileSync(good, zipSync({ 'description.xml': strToU8(description) }));
    writeFileSync(bad, strToU8('no zip'));
    const read = async (file: string): Promise<void> => {
      const input = await v.page.$('input[aria-label="Fixture or rig file"]');
      await (input as ElementHandle<HTMLInputElement>).uploadFile(file);
    };
    await read(bad);
    await until('a word about it', async () =>
      (await textOf(v.page, 'body')).includes('“Broken.gdtf” was not read'),
    );
    await read(good);
    await named(v.page, 'dialog', 'In “Bow Light.gdtf”');
    expect(await textOf(v.page, '[role=dialog]')).toContain('Prism1 (channel 11) stays at 128');
    await press(v.page, 'button', 'Take it in');
    await until('the dialog gone', async () => (await v.page.$('[role=dialog]')) === null);
    await choose(v.page, 'Kind of Rail bar', 'Night Ferry Bow Light, 11 channels');
    await until('it such a head', async () =>
      (await textOf(v.page, '[aria-label="Selected lamp"]')).includes('Bow Light'),
    );
    await undo(v.page);
    await undo(v.page);
    rmSync(folder, { recursive: true });
  });

  it('a table from a spreadsheet patches many at once, and says which rows it cannot use', async () => {
    await press(v.page, 'button', 'Paste a table …');
    await (await named(v.page, 'textbox', 'Table')).focus();
    await v.page.keyboard.type('Bow,dimmer,1,200\nStern,dimmer,1,201\nKeel,lantern,1,1');
    await until(
      'what it would do',
      async () => (await textOf(v.page, '[role=dialog] [role=status]')) === '0 lamps changed, 2 lamps added.',
    );
    expect(await textOf(v.page, '[role=dialog] [role=alert]')).toContain(
      'Row 3 (Keel): the kind “lantern” is not known',
    );
    await press(v.page, 'button', 'Take it in');
    await named(v.page, 'slider', 'Address of Stern');
    await undo(v.page);
    await until('both gone', async () => (await v.page.$('[aria-label="Address of Stern"]')) === null);
  });

  it('another program is told a level and each hit, and what it received is seen', async () => {
    await press(v.page, 'button', 'Messages');
    await press(v.page, 'button', '+ OSC message');
    await named(v.page, 'heading', 'Message');
    const heard = async (): Promise<number> =>
      Number((await textOf(v.page, '[aria-label=Messages] tbody td:nth-child(4)')).split(' · ')[1] ?? 0);
    await until('its value at rest', async () => (await heard()) === 1);
    await openMenu(v.page, '+ move this: Message · strike');
    await v.page.$$eval('[role=menuitem]', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Low drum · hit')) as HTMLElement).click();
    });
    await until('hits that were heard', async () => (await heard()) > 3);
    await undo(v.page);
    await choose(v.page, 'Where Message goes', 'to an address');
    const to = await named(v.page, 'textbox', 'Address of the program');
    await to.focus();
    await v.page.keyboard.down('Control');
    await v.page.keyboard.press('a');
    await v.page.keyboard.up('Control');
    await v.page.keyboard.type('192.0.2.9');
    await v.page.keyboard.press('Enter');
    await until('a word about arming', async () =>
      (await textOf(v.page, '[aria-label=Messages] tbody')).includes('Arm the outputs'),
    );
    for (let i = 0; i < 3; i++) await undo(v.page);
    // The same to an instrument, over MIDI.
    await press(v.page, 'button', '+ MIDI message');
    await choose(v.page, 'What it is told', 'note at each strike');
    await openMenu(v.page, '+ move this: Message · strike');
    await v.page.$$eval('[role=menuitem]', (all) => {
      (all.find((e) => (e.textContent ?? '').startsWith('Low drum · hit')) as HTMLElement).click();
    });
    // Each note begins and ends.
    await until('notes that were heard', async () => (await heard()) > 5);
    for (let i = 0; i < 3; i++) await undo(v.page);
    await until('it gone', async () => (await v.page.$('[aria-label=Messages] tbody')) === null);
    await press(v.page, 'button', 'Patch');
  });

  it('strobes are held to three flashes a second until that is allowed', async () => {
    await press(v.page, 'button', 'Select Mast head right');
    const hz = async (): Promise<number> => {
      // Channel 7 of a head is its shutter: 32 is open, 64 to 223 flashes 1 to 20 times a second.
      const x = (await received('Mast head right'))[6]!;
      return x < 64 ? 0 : 1 + ((x - 64) / 159) * 19;
    };
    await enter(v.page, 'strobe at rest', '15');
    await until('it to flash', async () => (await hz()) > 2);
    expect(await hz()).toBeLessThanOrEqual(3);
    await press(v.page, 'button', 'Wires');
    await (await named(v.page, 'switch', 'Allow quick flashes')).evaluate((e) => (e as HTMLElement).click());
    await press(v.page, 'button', 'Patch');
    await until('it to flash as it was told', async () => (await hz()) > 14);
    await until('a warning', async () => (await textOf(v.page, 'main')).includes('bring on a seizure'));
    await press(v.page, 'button', 'Wires');
    await (await named(v.page, 'switch', 'Allow quick flashes')).evaluate((e) => (e as HTMLElement).click());
    await press(v.page, 'button', 'Patch');
    await until('it held again', async () => (await hz()) <= 3);
    await undo(v.page);
    await until('it steady', async () => (await hz()) === 0);
  });
});
