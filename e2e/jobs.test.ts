import { describe, expect, it } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { EMPTY_MEMORY, type Route, type Show } from '../src/core/show/types';
import { writeWav } from '../src/core/audio/wav';
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
async function freshEmpty(): Promise<void> {
  await openMenu(v.page, 'Show menu');
  await press(v.page, 'menuitem', 'New show …');
  await press(v.page, 'button', 'Empty');
  await until('an empty show', async () => (await textOf(v.page, 'body')).includes('Nothing comes in yet'));
}
/** Chooses from a list, by its names, with the keyboard. */
async function choose(list: string, option: string): Promise<void> {
  await until('no list in the way', async () => (await v.page.$('[role=listbox]')) === null);
  await (await named(v.page, 'combobox', list)).focus();
  await v.page.keyboard.press('Enter');
  await press(v.page, 'option', option);
}
/** Files of tones, each two seconds long unless told otherwise. */
function toneFiles(
  tones: readonly (readonly [name: string, hz: number, amplitude: number, seconds?: number])[],
): string[] {
  return tones.map(([name, hz, amplitude, seconds = 2]) => {
    const sound = Float32Array.from(
      { length: 48000 * seconds },
      (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / 48000),
    );
    const file = path.join(folder, name);
    writeFileSync(file, writeWav([sound], 48000, 16));
    return file;
  });
}
async function addFiles(files: readonly string[]): Promise<void> {
  await openMenu(v.page, '+ input');
  const chooser = v.page.waitForFileChooser();
  await press(v.page, 'menuitem', 'A sound file …');
  await (await chooser).accept([...files]);
}
/** The number on an ear's card. */
const reading = async (ear: string): Promise<number> =>
  Number(/(\d\.\d+)/.exec(await textOf(v.page, `[aria-label=Ears] [aria-label="${ear}"]`))?.[1]);

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

describe('stems', () => {
  const files = (): string[] =>
    toneFiles([
      ['low.wav', 80, 0.5],
      ['bell.wav', 1200, 0.1],
      ['nothing.wav', 440, 0],
    ]);
  it('that are chosen together ask once; as one input, an ear may hear a single one of them', async () => {
    await freshEmpty();
    await addFiles(files());
    await press(v.page, 'button', 'One input');
    await named(v.page, 'group', '3 stems');
    await press(v.page, 'button', '+ ear');
    await press(v.page, 'button', 'Level');
    await until('a new ear', () => v.page.$('[aria-label^="New ear"]'));
    await choose('Input that it hears', '3 stems · bell');
    await press(v.page, 'button', 'Keep only');
    const bell = '3 stems · bell · level',
      loud = 0.1 / Math.SQRT2;
    await until('the bell alone', async () => Math.abs((await reading(bell)) - loud) < 0.004);
    // It is set to another stem where it stands, and is called by it.
    await choose('Input that it hears', '3 stems · nothing');
    await until('silence', async () => (await reading('3 stems · nothing · level')) < 0.001);
    await undo(v.page);
    await until('the bell again', async () => Math.abs((await reading(bell)) - loud) < 0.004);
    await choose('Input that it hears', '3 stems');
    const whole = Math.hypot(0.5, 0.1) / Math.SQRT2;
    await until('all of them', async () => Math.abs((await reading('3 stems · level')) - whole) < 0.01);
  });
  it('as one input each, they turn together: the shorter waits for the longer', async () => {
    await freshEmpty();
    await addFiles(
      toneFiles([
        ['long.wav', 300, 0.3, 3],
        ['short.wav', 500, 0.3, 1],
      ]),
    );
    await press(v.page, 'button', '2 inputs');
    for (const name of ['long', 'short']) await named(v.page, 'group', name);
    await press(v.page, 'button', 'short');
    await press(v.page, 'button', '+ ear');
    await press(v.page, 'button', 'Level');
    await press(v.page, 'button', 'Keep only');
    // Of 3 s it sounds for one: so much of the time, over several turns.
    let sounds = 0,
      looks = 0;
    await until('a few turns', async () => {
      looks++;
      if ((await reading('short · level')) > 0.05) sounds++;
      return looks >= 400;
    });
    expect(sounds / looks).toBeGreaterThan(0.2);
    expect(sounds / looks).toBeLessThan(0.5);
    await undo(v.page);
    await undo(v.page);
    await until('neither', async () => (await textOf(v.page, 'body')).includes('Nothing comes in yet'));
  });
});

describe('where one stands', () => {
  const title = (): Promise<string> => textOf(v.page, '[aria-label=Bench] h2');
  it('a route takes another signal on the bench, and keeps its shape', async () => {
    await openMenu(v.page, 'Show menu');
    await press(v.page, 'menuitem', 'The Night Ferry, fresh');
    await v.page.keyboard.press('2');
    await tap(v.page, '[data-parameter="ferry/height"]');
    await until('its route', async () => (await title()).startsWith('Low drum · 40–110 Hz'));
    const steps = (): Promise<string[]> =>
      v.page.$$eval('[aria-label=Bench] h3', (all) => all.map((e) => e.textContent ?? ''));
    const before = await steps();
    await openMenu(v.page, 'Low drum · 40–110 Hz: choose another signal');
    await press(v.page, 'menuitem', 'Shaker · 5–12 kHz');
    await until('the other signal', async () => (await title()).startsWith('Shaker · 5–12 kHz'));
    expect(await steps()).toEqual(before);
    await until('it to move', async () => (await number('ferry/height')) > 5);
    // What has another measure is fitted anew; a hit is struck.
    await openMenu(v.page, 'Shaker · 5–12 kHz: choose another signal');
    await press(v.page, 'menuitem', 'Low drum · hit');
    await until('a strike', async () => (await steps()).includes('strike'));
    expect(await steps()).not.toContain('fit');
    await until('it struck', async () => (await number('ferry/height')) > 5);
    await undo(v.page);
    await undo(v.page);
    await until('the first again', async () => (await title()).startsWith('Low drum · 40–110 Hz'));
    expect(await steps()).toEqual(before);
  });
  it('the ear behind it hears another channel, which its automatic name says', async () => {
    await press(v.page, 'button', 'heard');
    await choose('channel', 'left');
    await until('the setting', async () => (await textOf(v.page, '[aria-label=Bench]')).includes('left'));
    await undo(v.page);
    await v.page.keyboard.press('Escape');
  });
  it('a copy asks what differs: its channel, and for it alone', async () => {
    await v.page.keyboard.press('3');
    await press(v.page, 'button', 'Ferry 1 route').catch(() => undefined);
    await press(v.page, 'button', 'duplicate');
    const group = await named(v.page, 'group', 'What Ferry, 2 follows');
    await until('its first list to have the keyboard', () =>
      group.evaluate((e) => e.contains(document.activeElement)),
    );
    const lists = await group.$$('[role=combobox][aria-label=channel], [aria-label=channel]');
    expect(lists.length).toBeGreaterThan(0);
  });
});
