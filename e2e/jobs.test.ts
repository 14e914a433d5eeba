import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { EMPTY_MEMORY, type Route, type Show } from '../src/core/show/types';
import { hashOf } from '../src/data/database';
import { type ShowFile, writeShowFile } from '../src/data/showFile';
import { newInput } from '../src/core/show/inputs';
import type { MeasureHandle } from '../src/ui/state/session';
import { Board, RED } from './board';
import { withFerry } from './stage';
import { named, openMenu, openShowFile, press, tap, textOf, undo, until, type Visit } from './support';

let v: Visit;
withFerry((_, first) => {
  v = first;
});
const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-jobs-'));
async function open(show: Show, media: ShowFile['media'] = []): Promise<void> {
  const file = path.join(folder, `${show.id}.batucada`);
  const blob = await writeShowFile({
    show,
    memory: { ...EMPTY_MEMORY, playing: true },
    media,
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

/** Four seconds of a film with a tone to it, in the browser's own format. */
async function filmWithSound(): Promise<Blob> {
  const text = await v.page.evaluate(async () => {
    const canvas = document.createElement('canvas'),
      g = canvas.getContext('2d')!,
      parts: Blob[] = [],
      audio = new AudioContext(),
      tone = audio.createOscillator(),
      out = audio.createMediaStreamDestination();
    [canvas.width, canvas.height] = [160, 90];
    tone.connect(out);
    tone.start();
    const recorder = new MediaRecorder(
      new MediaStream([...canvas.captureStream(25).getTracks(), ...out.stream.getTracks()]),
      { mimeType: 'video/webm;codecs=vp8,opus', videoBitsPerSecond: 300000 },
    );
    recorder.ondataavailable = (e) => parts.push(e.data);
    const over = new Promise((r) => {
      recorder.onstop = r;
    });
    recorder.start();
    for (let i = 0; i < 80; i++) {
      g.fillStyle = `hsl(${i * 4} 80% 50%)`;
      g.fillRect(0, 0, 160, 90);
      await new Promise((r) => setTimeout(r, 50));
    }
    recorder.stop();
    await over;
    await audio.close();
    let bytes = '';
    for (const b of new Uint8Array(await new Blob(parts).arrayBuffer())) bytes += String.fromCharCode(b);
    return btoa(bytes);
  });
  return new Blob([new Uint8Array(Buffer.from(text, 'base64'))], { type: 'video/webm' });
}

describe('a film whose sound is an input', () => {
  it('goes with it, through its loop, a leap and a pause', async () => {
    const reel = await filmWithSound(),
      media = await hashOf(await reel.arrayBuffer()),
      board = new Board();
    board.figure(
      'film',
      { kind: 'video', media, fileName: 'reel.webm', flipX: false, flipY: false },
      640,
      360,
    );
    const plain = board.show();
    // The film's element is in no page: it is caught as it is made.
    await v.page.evaluate(() => {
      const make = document.createElement.bind(document);
      document.createElement = ((name: string) => {
        const made = make(name);
        if (name === 'video') Object.assign(window, { reel: made });
        return made;
      }) as typeof document.createElement;
    });
    await open(
      {
        ...plain,
        id: 'reel',
        name: 'Reel',
        inputs: [
          {
            ...newInput('sound', 'Reel', true),
            kind: 'files',
            stems: [{ name: 'reel', media, gainDb: 0 }],
            loop: true,
            part: null,
          },
        ],
        ears: [],
        routes: [],
      },
      [{ hash: media, name: 'reel.webm', blob: reel }],
    );
    await v.page.keyboard.press('3');
    const reelNow = (): Promise<{ film: number; sound: number; paused: boolean }> =>
      v.page.evaluate(() => {
        const { reel: film, batucadaMeasure: m } = window as unknown as {
          reel?: HTMLVideoElement;
          batucadaMeasure: MeasureHandle;
        };
        return {
          film: film?.currentTime ?? NaN,
          sound: m.parameter('film/pace:film'),
          paused: film?.paused ?? true,
        };
      });
    const apart = ({ film, sound }: { film: number; sound: number }): number => Math.abs(film - sound);
    /** Together within a film's frame, look after look, for so long. */
    const together = async (seconds: number): Promise<void> => {
      let since = performance.now();
      await until('them together', async () => {
        const now = await reelNow(),
          ahead = now.film - now.sound;
        // A browser takes a moment to begin its film anew. The sound's place is told to this window twenty times a second, and may be
        // as old when it is read: so much further the film may seem to be.
        if (now.sound > 0.8 && now.sound < 3.8 && !(ahead > -0.045 && ahead < 0.045 + 0.05))
          since = performance.now();
        return performance.now() - since > seconds * 1000;
      });
    };
    await until('the sound', async () => (await reelNow()).sound > 0);
    await together(5);
    await v.page.keyboard.press('1');
    await (await named(v.page, 'slider', 'Position')).focus();
    await v.page.keyboard.press('ArrowRight');
    await together(1);
    await press(v.page, 'button', 'Pause');
    await until('it to stand', async () => {
      const now = await reelNow();
      return now.paused && apart(now) < 0.02;
    });
    const stood = (await reelNow()).film;
    await v.page.keyboard.press('3');
    expect((await reelNow()).film).toBe(stood);
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
