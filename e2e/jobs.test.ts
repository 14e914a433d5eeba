import { beforeAll, describe, expect, it } from '@jest/globals';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
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
import { emptyShow, filmFile, jobs, walkJob } from './walks';
import {
  choose,
  enter,
  microphoneFile,
  named,
  parameterOf,
  openMenu,
  openShowFile,
  press,
  tap,
  textOf,
  undo,
  until,
  type Visit,
} from './support';

let v: Visit;
withFerry(
  (_, first) => {
    v = first;
  },
  undefined,
  {
    microphone: microphoneFile([
      [300, 0.5, 0.5],
      [0, 0.9, 0],
    ]),
  },
);
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
const number = (key: string): Promise<number> => parameterOf(v.page, key);
const strip = '[aria-label="Figures, back to front"]';
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

describe('a film whose sound is an input', () => {
  it('goes with it, through its loop, a leap and a pause', async () => {
    const reel = new Blob([readFileSync(await filmFile(v.page, 80, false))], { type: 'video/webm' }),
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
    const reelNow = (): Promise<{ film: number; sound: number; lap: number; paused: boolean }> =>
      v.page.evaluate(() => {
        const { reel: film, batucadaMeasure: m } = window as unknown as {
          reel?: HTMLVideoElement;
          batucadaMeasure: MeasureHandle;
        };
        return {
          film: film?.currentTime ?? NaN,
          lap: film?.duration ?? NaN,
          sound: m.parameter('film/pace:film'),
          paused: film?.paused ?? true,
        };
      });
    type Now = Awaited<ReturnType<typeof reelNow>>;
    /** Round the end the nearer way: there the film may stand at its end while the sound is at its beginning. */
    const apart = ({ film, sound, lap }: Now): number => {
      const plain = Math.abs(film - sound);
      return Math.min(plain, Math.abs(lap - plain));
    };
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
    // A menu that closes gives the focus back to its button; what is focused before that loses it.
    await until('the menu gone', async () => (await v.page.$('[role=menu]')) === null);
    await until('the ferry', async () => (await textOf(v.page, 'body')).includes('Low drum'));
    await v.page.keyboard.press('1');
    await until('the field in focus', async () => {
      const field = await v.page.$('[role=application]');
      await field?.focus();
      return field?.evaluate((e) => e === document.activeElement);
    });
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
    await emptyShow(v.page);
    await addFiles(files());
    await press(v.page, 'button', 'One input');
    await named(v.page, 'group', '3 stems');
    await press(v.page, 'button', '+ ear');
    await press(v.page, 'button', 'Level');
    await until('a new ear', () => v.page.$('[aria-label^="New ear"]'));
    await choose(v.page, 'Input that it hears', '3 stems · bell');
    await press(v.page, 'button', 'Keep only');
    const bell = '3 stems · bell · level',
      loud = 0.1 / Math.SQRT2;
    await until('the bell alone', async () => Math.abs((await reading(bell)) - loud) < 0.004);
    // It is set to another stem where it stands, and is called by it.
    await choose(v.page, 'Input that it hears', '3 stems · nothing');
    await until('silence', async () => (await reading('3 stems · nothing · level')) < 0.001);
    await undo(v.page);
    await until('the bell again', async () => Math.abs((await reading(bell)) - loud) < 0.004);
    await choose(v.page, 'Input that it hears', '3 stems');
    const whole = Math.hypot(0.5, 0.1) / Math.SQRT2;
    await until('all of them', async () => Math.abs((await reading('3 stems · level')) - whole) < 0.01);
  });
  it('as one input each, they turn together: the shorter waits for the longer', async () => {
    await emptyShow(v.page);
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
    // In one press each hit goes to all or to nothing, and it stays so until the next.
    await press(v.page, 'group', 'strike');
    await press(v.page, 'button', 'on or off');
    const stays = async (what: string, there: (x: number) => boolean): Promise<void> => {
      let since = performance.now();
      await until(what, async () => {
        if (!there(await number('ferry/height'))) since = performance.now();
        return performance.now() - since > 350;
      });
    };
    await stays('it at all', (x) => x > 19.9);
    await stays('it at nothing', (x) => x < 0.1);
    await stays('it at all again', (x) => x > 19.9);
    await undo(v.page);
    await undo(v.page);
    await undo(v.page);
    await until('the first again', async () => (await title()).startsWith('Low drum · 40–110 Hz'));
    expect(await steps()).toEqual(before);
  });
  it('the ear behind it hears another channel', async () => {
    await press(v.page, 'group', 'heard');
    await choose(v.page, 'channel', 'left');
    await until('the setting', async () => (await textOf(v.page, '[aria-label=Bench]')).includes('left'));
    await undo(v.page);
    await v.page.keyboard.press('Escape');
  });
});

describe('jobs, from an empty show', () => {
  let reel = '';
  beforeAll(async () => {
    reel = await filmFile(v.page);
  });
  it.each(['stereo meters', 'film', 'own picture'])(
    '%s: in so many actions; it moves, and rests',
    async (name) => {
      const job = jobs(reel).find((j) => j.name.includes(name))!;
      const { actions, measured, right } = await walkJob(v.page, job, 5);
      expect({ actions, measured, right }).toEqual({ actions, measured, right: true });
      expect(actions).toBeLessThanOrEqual(job.most);
    },
  );
});

/** Adds a maker; the list shows it and its settings. */
async function addMaker(name: string): Promise<void> {
  await openMenu(v.page, '+ maker');
  await v.page.$$eval(
    '[role=menuitem]',
    (all, n) => (all.find((e) => (e.textContent ?? '').startsWith(n)) as HTMLElement).click(),
    name,
  );
  await named(v.page, 'group', `Settings of ${name}`);
}
const signal = (): Promise<string> => textOf(v.page, '[data-signal] [role=button][aria-pressed=true]');

describe('one of every so many', () => {
  it('a list goes on at every third press of a button, beginning with the second', async () => {
    await emptyShow(v.page);
    await v.page.keyboard.press('2');
    await addMaker('Button');
    await addMaker('List');
    await choose(v.page, 'Source of List', 'Button');
    await enter(v.page, 'One of every so many of List', '3');
    await enter(v.page, 'First that counts of List', '2');
    // A flip at the same button tells that a press has come through.
    await addMaker('Flip');
    await choose(v.page, 'Source of Flip', 'Button');
    const value = (name: string): Promise<string> =>
      v.page.$$eval(
        '[data-signal]',
        (all, n) =>
          /\d\.\d\d/.exec(
            all.find((e) => e.querySelector('h3')?.textContent === n)?.textContent ?? '',
          )?.[0] ?? '',
        name,
      );
    await until('its first value', async () => (await value('List')) === '0.00');
    let side = 0;
    for (const expected of ['0.00', '0.25', '0.25', '0.25', '0.50', '0.50', '0.50', '1.00']) {
      await press(v.page, 'button', 'Button, while pressed');
      side = 1 - side;
      await until('the press', async () => (await value('Flip')) === `${side}.00`);
      await until(`the list at ${expected}`, async () => (await value('List')) === expected);
    }
    // The flip, its source, and then the two settings.
    for (let k = 0; k < 4; k++) await undo(v.page);
    await until(
      'each again',
      async () => (await v.page.$('[aria-label="First that counts of List"]')) === null,
    );
  });
  it('colours come at chance within a range of hues', async () => {
    await addMaker('Colours');
    await choose(v.page, 'Source of Colours', 'Button');
    await choose(v.page, 'from', 'chance');
    await enter(v.page, 'Least hue of Colours', '130');
    await enter(v.page, 'Greatest hue of Colours', '160');
    await enter(v.page, 'Least strength of Colours', '90');
    const colours = new Set<string>();
    await until('six of them', async () => {
      await press(v.page, 'button', 'Button, while pressed');
      const colour = /#[0-9a-f]{6}/.exec(await signal())?.[0];
      if (colour) colours.add(colour);
      return colours.size >= 6;
    });
    // Greens, all of them: those before the range was set were others.
    for (const c of [...colours].slice(1)) {
      const [r, g, b] = [1, 3, 5].map((k) => Number.parseInt(c.slice(k, k + 2), 16)) as [
        number,
        number,
        number,
      ];
      expect([c, g > r && g > b]).toEqual([c, true]);
    }
  });
});

describe('notes by key', () => {
  it('a row of velocities by key moves bars; a chord that is no chord is refused in words', async () => {
    await emptyShow(v.page);
    await openMenu(v.page, '+ input');
    await press(v.page, 'menuitem', 'Simulated keyboard');
    await press(v.page, 'button', '+ ear');
    await press(v.page, 'button', 'Velocity by key');
    const low = await until('the lowest key', () => v.page.$('[aria-label="Lowest key"]'));
    await low.focus();
    await v.page.keyboard.type('H9');
    await until('what is wrong', async () =>
      (await textOf(v.page, '[role=alert]')).includes('A key such as C2'),
    );
    for (let i = 0; i < 2; i++) await v.page.keyboard.press('Backspace');
    await v.page.keyboard.down('Control');
    await v.page.keyboard.press('a');
    await v.page.keyboard.up('Control');
    await v.page.keyboard.type('G3');
    await v.page.keyboard.press('Enter');
    await until('it by name', async () =>
      (await textOf(v.page, '[aria-label^="New ear"]')).includes('velocity by key, G3 to C6'),
    );
    await press(v.page, 'button', 'Keep only');
    await v.page.keyboard.press('3');
    await press(v.page, 'button', '+ figure');
    await v.page.$$eval('[role=dialog] button', (all) =>
      (all.find((e) => e.textContent === 'Bars') as HTMLElement).click(),
    );
    await openMenu(v.page, '+ move this: Bars · level');
    await v.page.$$eval('[role=menuitem]', (all) =>
      (all.find((e) => (e.textContent ?? '').includes('velocity by key (a row)')) as HTMLElement).click(),
    );
    // The keyboard's tune is of bells from G4 up: some keys sound, never all of them.
    const row = (): Promise<readonly number[]> =>
      v.page.evaluate(() =>
        (window as unknown as { batucadaMeasure: MeasureHandle }).batucadaMeasure.row('figure-1/level'),
      );
    await until('a key', async () => {
      const r = await row();
      return r.length === 30 && r.some((x) => x > 20) && r.filter((x) => x > 5).length < 6;
    });
    await v.page.keyboard.press('1');
    await press(v.page, 'button', '+ ear');
    await press(v.page, 'button', 'A note or chord');
    const keys = await until('its keys', () => v.page.$('[aria-label="Keys that must sound together"]'));
    await keys.focus();
    await v.page.keyboard.down('Control');
    await v.page.keyboard.press('a');
    await v.page.keyboard.up('Control');
    await v.page.keyboard.type('D5');
    await v.page.keyboard.press('Enter');
    await until('D5 struck', async () =>
      /0\.[1-9]\d|1\.00/.test(await textOf(v.page, '[aria-label^="New ear"]')),
    );
    await v.page.keyboard.press('Escape');
  });
});
