import { describe, expect, it } from '@jest/globals';
import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { writeWav } from '../src/core/audio/wav';
import { closeScreens } from './board';
import { withFerry } from './stage';
import {
  named,
  openMenu,
  openShowFile,
  press,
  textOf,
  undo,
  until,
  type Server,
  type Visit,
} from './support';

let server: Server;
let v: Visit;
const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-files-'));
withFerry((s, first) => {
  server = s;
  v = first;
});
const show = (): Promise<string> =>
  v.page.evaluate(
    () =>
      new Promise<string>((done) => {
        const open = indexedDB.open('batucada');
        open.onsuccess = () => {
          const get = open.result.transaction('shows').objectStore('shows').getAll();
          get.onsuccess = () => {
            open.result.close();
            done(JSON.stringify(get.result.map((k: { show: unknown }) => k.show)));
          };
        };
      }),
  );

describe('keeping', () => {
  it('restores an edited show after a reload, with what can be undone', async () => {
    await v.page.keyboard.press('3');
    const rest = await named(v.page, 'slider', 'tilt at rest');
    await rest.focus();
    await v.page.keyboard.press('ArrowUp');
    await v.page.keyboard.press('ArrowUp');
    await until('it saved', async () => (await show()).includes('"tilt":1'));
    await v.page.reload({ waitUntil: 'load' });
    await until('the tilt again', async () =>
      (await textOf(v.page, '[role=group][aria-label=tilt]')).includes('1.0°'),
    );
    await named(v.page, 'slider', 'tilt at rest');
    await undo(v.page);
    await until(
      'it undone after the reload',
      async () =>
        (await textOf(v.page, '[role=group][aria-label=tilt]')).includes('rests at0.5°') ||
        (await textOf(v.page, '[role=group][aria-label=tilt]')).includes('rests at0.0°'),
    );
  });

  it('loses nothing that was done in the moment before a reload', async () => {
    await v.page.keyboard.press('3');
    const tilt = (): Promise<string> => textOf(v.page, '[role=group][aria-label=tilt]');
    const rest = await named(v.page, 'slider', 'tilt at rest');
    await rest.focus();
    for (let i = 0; i < 3; i++) {
      const before = await tilt();
      await v.page.keyboard.press('ArrowUp');
      await until('a step', async () => (await tilt()) !== before);
      const stepped = (await tilt()).match(/rests at([^°]*°)/)![1]!;
      // At once: nothing has been saved yet.
      await v.page.reload({ waitUntil: 'load' });
      await until(`the tilt at ${stepped} again`, async () => (await tilt()).includes(`rests at${stepped}`));
      await (await named(v.page, 'slider', 'tilt at rest')).focus();
    }
    await undo(v.page);
  });

  it('saves while edits keep coming without a rest', async () => {
    await v.page.keyboard.press('3');
    await (await named(v.page, 'slider', 'tilt at rest')).focus();
    const from = await show();
    const end = performance.now() + 20000;
    let saved = false;
    for (let i = 0; !saved && performance.now() < end; i++) {
      await v.page.keyboard.press(i % 20 < 10 ? 'ArrowUp' : 'ArrowDown');
      if (i % 5 === 0) saved = (await show()) !== from;
    }
    expect(saved).toBe(true);
  });

  it('leaves a show closed that did not come to life the last time, and opens it when asked', async () => {
    // The start before is over: leaving it now takes no note away.
    await until('the window to have come to life', () =>
      v.page.evaluate(() => localStorage.getItem('batucada-starting') === null),
    );
    await v.page.evaluate(() => localStorage.setItem('batucada-starting', 'night-ferry'));
    await v.page.reload({ waitUntil: 'load' });
    await until('the opening page', async () =>
      (await textOf(v.page, 'body')).includes('did not come to life'),
    );
    await named(v.page, 'button', 'Play the ferry');
    // The next start tries again.
    await v.page.reload({ waitUntil: 'load' });
    await named(v.page, 'button', 'Show menu');
  });

  it('goes on by itself when the window that took it over is closed', async () => {
    const second = await v.browser.newPage();
    await second.goto(server.url, { waitUntil: 'load' });
    await press(second, 'button', 'Take it over here');
    await named(second, 'button', 'Show menu');
    await until('the first to know', async () =>
      (await textOf(v.page, 'body')).includes('runs in another window'),
    );
    await second.close();
    await v.page.bringToFront();
    await named(v.page, 'button', 'Show menu');
  });

  it('a field with a name undoes what was typed in it, and otherwise leaves undo to the show', async () => {
    await v.page.keyboard.press('3');
    const tilt = (): Promise<string> => textOf(v.page, '[role=slider][aria-label="tilt at rest"]'),
      rested = await tilt();
    await (await named(v.page, 'slider', 'tilt at rest')).focus();
    await v.page.keyboard.press('ArrowUp');
    await until('a step', async () => (await tilt()) !== rested);
    await press(v.page, 'button', 'Screens …');
    const field = (await named(v.page, 'textbox', 'Name of the screen')) as ElementHandle<HTMLInputElement>,
      value = (): Promise<string> => field.evaluate((e) => e.value);
    const name = await value();
    await field.focus();
    await undo(v.page);
    await until('the step undone', async () => (await tilt()) === rested);
    await field.type('new');
    expect(await value()).not.toBe(name);
    await until('the typing undone', async () => {
      if ((await value()) === name) return true;
      // What a key does to text is the driver's to say; it comes to nothing when the page takes the key.
      await v.page.keyboard.down('Control');
      await v.page.keyboard.press('z', { commands: ['undo'] });
      await v.page.keyboard.up('Control');
      return false;
    });
    await field.type('new');
    await v.page.keyboard.press('Escape');
    expect(await value()).toBe(name);
    await named(v.page, 'dialog', 'Screens');
    await closeScreens(v.page);
  });

  it('goes out to one file and comes back in, sounds included', async () => {
    const client = await v.page.createCDPSession();
    await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: folder });
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'Save to a file');
    // Five stems of 4 MB each; the browser first makes an empty file.
    const file = await until('the whole file', () =>
      readdirSync(folder).find((f) => f.endsWith('.batucada') && statSync(path.join(folder, f)).size > 20e6),
    );
    const before = (JSON.parse(await show()) as unknown[]).length;
    await openShowFile(v.page, path.join(folder, file));
    await until('a second show', async () => (JSON.parse(await show()) as unknown[]).length === before + 1);
    await until('its sounds', async () => (await textOf(v.page, 'body')).includes('is open'));
  });

  it('refuses what is corrupt, foreign or empty in words, and changes nothing', async () => {
    const good = readFileSync(
      path.join(
        folder,
        readdirSync(folder).find((f) => f.endsWith('.batucada'))!,
      ),
    );
    const bad: [string, Buffer, string][] = [
      ['foreign.batucada', Buffer.from('%PDF-1.7 not a show'), 'not a Batucada show'],
      ['empty.batucada', Buffer.alloc(0), 'empty'],
      ['cut.batucada', good.subarray(0, 5000), 'damaged'],
      [
        'twisted.batucada',
        (() => {
          const b = Buffer.from(good);
          const at = b.indexOf('RIFF') + 5000;
          b.fill(0x55, at, at + 64);
          return b;
        })(),
        'damaged',
      ],
    ];
    const before = await show();
    for (const [name, bytes, word] of bad) {
      writeFileSync(path.join(folder, name), bytes);
      await openShowFile(v.page, path.join(folder, name));
      await until(`words about ${name}`, async () => (await textOf(v.page, 'body')).includes(word));
    }
    expect(await show()).toBe(before);
  });

  it('refuses a sound that cannot be played, and keeps the inputs as they were', async () => {
    await v.page.keyboard.press('1');
    writeFileSync(path.join(folder, 'broken.mp3'), Buffer.alloc(4000, 7));
    await openMenu(v.page, '+ input');
    const chooser = v.page.waitForFileChooser();
    await press(v.page, 'menuitem', 'A sound file …');
    await (await chooser).accept([path.join(folder, 'broken.mp3')]);
    await until('words', async () => (await textOf(v.page, 'body')).includes('cannot be played'));
    expect(await v.page.$$eval('[aria-label=Inputs] h3', (all) => all.map((e) => e.textContent))).toEqual([
      'Deck stems',
      'Host’s voice',
      'Bell tune',
    ]);
  });

  it('removes kept shows with the files that only they had, and puts back what was not meant', async () => {
    const files = (): Promise<string[]> =>
      v.page.evaluate(
        () =>
          new Promise<string[]>((done) => {
            const open = indexedDB.open('batucada');
            open.onsuccess = () => {
              const get = open.result.transaction('media').objectStore('media').getAllKeys();
              get.onsuccess = () => {
                open.result.close();
                done(get.result as string[]);
              };
            };
          }),
      );
    const names = async (): Promise<string[]> =>
      (JSON.parse(await show()) as { name: string }[]).map((s) => s.name).sort();
    const own = writeWav([new Float32Array(48000).fill(0.25)], 48000, 16),
      hash = createHash('sha256').update(own).digest('hex');
    writeFileSync(path.join(folder, 'own.wav'), own);
    const [shows, before] = [await names(), await files()];
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'New show …');
    await press(v.page, 'button', 'With something to look at');
    await until('a new show', async () => (await names()).includes('New show'));
    await v.page.keyboard.press('1');
    await openMenu(v.page, '+ input');
    const chooser = v.page.waitForFileChooser();
    await press(v.page, 'menuitem', 'A sound file …');
    await (await chooser).accept([path.join(folder, 'own.wav')]);
    await until(
      'its sound kept',
      async () => (await files()).includes(hash) && (await show()).includes(hash),
    );
    const list = async (): Promise<void> => {
      await openMenu(v.page, 'Show menu');
      await press(v.page, 'menuitem', 'Shows in this browser …');
      await named(v.page, 'dialog', 'Shows in this browser');
    };
    await list();
    await press(v.page, 'button', 'Open Night Ferry');
    await until(
      'the ferry',
      async () => (await v.page.$$eval('[aria-label=Inputs] h3', (all) => all.length)) === 3,
    );
    // The one that is open cannot be removed.
    await list();
    expect(await v.page.$$eval('[role=dialog] li', (all) => all.length)).toBe(shows.length);
    await press(v.page, 'button', 'Remove New show');
    await press(v.page, 'button', 'Put back New show');
    await press(v.page, 'button', 'Close');
    await until('the list closed', async () => (await v.page.$('[role=dialog]')) === null);
    expect(await names()).toEqual([...shows, 'New show'].sort());
    await list();
    await press(v.page, 'button', 'Remove New show');
    await press(v.page, 'button', 'Remove 1, and close');
    await until('words', async () =>
      (await textOf(v.page, 'body')).includes('One show is removed, and 96 kB of files with it.'),
    );
    expect(await names()).toEqual(shows);
    // The other shows’ sounds are all there yet.
    expect((await files()).sort()).toEqual([...before].sort());
  });

  it('a full store is said in words; nothing is lost, and the show still goes out to a file', async () => {
    const client = await v.page.createCDPSession();
    await client.send('Storage.overrideQuotaForOrigin', { origin: new URL(server.url).origin, quotaSize: 1 });
    // The browser counts with the room that it had for a while yet.
    await until('the store to refuse', () =>
      v.page.evaluate(
        () =>
          new Promise<boolean>((refused) => {
            const open = indexedDB.open('filler');
            open.onupgradeneeded = () => {
              open.result.createObjectStore('x');
            };
            open.onerror = () => refused(true);
            open.onsuccess = () => {
              const t = open.result.transaction('x', 'readwrite');
              t.objectStore('x').put(new Uint8Array(24e6), 1);
              t.oncomplete = () => {
                open.result.close();
                refused(false);
              };
              t.onabort = () => {
                open.result.close();
                refused(true);
              };
            };
          }),
      ),
    );
    await v.page.keyboard.press('1');
    writeFileSync(
      path.join(folder, 'long.wav'),
      writeWav([new Float32Array(48000 * 120).fill(0.1)], 48000, 24),
    );
    const inputs = (): Promise<(string | null)[]> =>
      v.page.$$eval('[aria-label=Inputs] h3', (all) => all.map((e) => e.textContent));
    const before = await inputs();
    const add = async (): Promise<void> => {
      await openMenu(v.page, '+ input');
      const chooser = v.page.waitForFileChooser();
      await press(v.page, 'menuitem', 'A sound file …');
      await (await chooser).accept([path.join(folder, 'long.wav')]);
    };
    await add();
    await until('words', async () =>
      (await textOf(v.page, 'body')).includes('store is full. Save the show to a file now'),
    );
    expect(await inputs()).toEqual(before);
    for (const old of readdirSync(folder)) if (old.endsWith('.batucada')) rmSync(path.join(folder, old));
    await client.send('Browser.setDownloadBehavior', { behavior: 'allow', downloadPath: folder });
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'Save to a file');
    await until('the whole file', () =>
      readdirSync(folder).find((f) => f.endsWith('.batucada') && statSync(path.join(folder, f)).size > 20e6),
    );
    // Room again: the same sound is taken.
    await client.send('Storage.overrideQuotaForOrigin', { origin: new URL(server.url).origin });
    await add();
    await until('it there', async () => (await inputs()).length === before.length + 1);
    await undo(v.page);
    await until('it gone again', async () => (await inputs()).length === before.length);
  });

  it('a second window waits, and takes the show over when told to', async () => {
    const second = await v.browser.newPage();
    await second.goto(server.url, { waitUntil: 'load' });
    await named(second, 'heading', 'The show runs in another window');
    await second.bringToFront();
    await press(second, 'button', 'Take it over here');
    await named(second, 'button', '2 Route');
    await until(
      'the first to stand aside',
      async () => (await textOf(v.page, 'h1')) === 'The show runs in another window',
    );
    await until('the lamps to follow', async () =>
      (await textOf(second, '[aria-label=Signs]')).includes('Lamps good'),
    );
    await second.close();
  });
});
