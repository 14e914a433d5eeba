import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'puppeteer-core';
import { writeWav } from '../src/core/audio/wav';
import { openMenu, press, textOf, until } from './support';
import { Walk } from './walk';

/** A job that people do, from an empty show: how many actions it may take, and what must then move and come to rest. */
export interface Job {
  readonly name: string;
  readonly most: number;
  walk(walk: Walk): Promise<void>;
  /** What moves by it. */
  readonly moves: readonly {
    readonly key: string;
    /** At most so much while it rests, and at least so much while it moves. */ readonly rest: number;
    readonly reach: number;
  }[];
}

const folder = mkdtempSync(path.join(os.tmpdir(), 'batucada-walks-'));
/** A tone that sounds for half a second of each, a channel each. */
type Beeps = readonly { readonly hz: number; readonly from: number; readonly to: number }[];
function soundFile(name: string, channels: readonly Beeps[], seconds = 2): string {
  const file = path.join(folder, name);
  const sounds = channels.map((beeps) =>
    Float32Array.from({ length: 48000 * seconds }, (_, i) => {
      const t = i / 48000;
      return beeps.reduce(
        (sum, b) => sum + (t >= b.from && t < b.to ? 0.4 * Math.sin(2 * Math.PI * b.hz * t) : 0),
        0,
      );
    }),
  );
  writeFileSync(file, writeWav(sounds, 48000, 16));
  return file;
}
/** One tone after the other, each for a share of the time. */
const inTurn = (tones: readonly number[], seconds = 2): Beeps =>
  tones.map((hz, i) => ({
    hz,
    from: (i * seconds) / tones.length,
    to: ((i + 0.7) * seconds) / tones.length,
  }));

/**
 * A film with a tone to it, in the browser's own format, a twentieth of a second each picture.
 * @param comes - whether the tone comes and goes
 */
export async function filmFile(page: Page, pictures = 60, comes = true): Promise<string> {
  const text = await page.evaluate(
    async (count, beeps) => {
      const canvas = document.createElement('canvas'),
        g = canvas.getContext('2d')!,
        parts: Blob[] = [],
        audio = new AudioContext(),
        tone = audio.createOscillator(),
        gain = audio.createGain(),
        out = audio.createMediaStreamDestination();
      [canvas.width, canvas.height] = [160, 90];
      tone.connect(gain).connect(out);
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
      for (let i = 0; i < count; i++) {
        gain.gain.value = !beeps || i % 30 < 12 ? 0.5 : 0;
        g.fillStyle = `hsl(${i * 6} 80% 50%)`;
        g.fillRect(0, 0, 160, 90);
        await new Promise((r) => setTimeout(r, 50));
      }
      recorder.stop();
      await over;
      await audio.close();
      let bytes = '';
      for (const b of new Uint8Array(await new Blob(parts).arrayBuffer())) bytes += String.fromCharCode(b);
      return btoa(bytes);
    },
    pictures,
    comes,
  );
  const file = path.join(folder, `reel-${pictures}.webm`);
  writeFileSync(file, Buffer.from(text, 'base64'));
  return file;
}
function imageFile(): string {
  const file = path.join(folder, 'sign.svg');
  writeFileSync(
    file,
    '<svg xmlns="http://www.w3.org/2000/svg" width="320" height="180"><rect width="320" height="180" fill="#e8572a"/></svg>',
  );
  return file;
}

/** An empty show: where every job begins. */
export async function emptyShow(page: Page): Promise<void> {
  await openMenu(page, 'Show menu');
  await press(page, 'menuitem', 'New show …');
  await press(page, 'button', 'Empty');
  await until('an empty show', async () => (await textOf(page, 'body')).includes('Nothing comes in yet'));
}
const addSound = async (w: Walk, files: readonly string[]): Promise<void> => {
  await w.files(() => w.menu('+ input', 'A sound file …'), files);
};
const addFigure = async (w: Walk, figure: string): Promise<void> => {
  await w.press('+ figure');
  await w.pressIn('Add a figure', figure);
};

const stems: Job = {
  name: 'stems onto three things',
  most: 24,
  async walk(w) {
    await addSound(w, [
      soundFile('low.wav', [inTurn([80, 0, 0])]),
      soundFile('bell.wav', [inTurn([0, 900, 0])]),
      soundFile('hat.wav', [inTurn([0, 0, 6000])]),
    ]);
    await w.press('3 inputs');
    await until('the inputs', async () => (await textOf(w.page, 'body')).includes('hat · level'));
    await w.key('3');
    for (const [figure, parameter, signal] of [
      ['Solid', 'size', 'low'],
      ['Meter', 'level', 'bell'],
      ['Dial', 'reading', 'hat'],
    ] as const) {
      await addFigure(w, figure);
      await w.menu(`+ move this: ${figure} · ${parameter}`, `${signal} · level`);
    }
  },
  moves: [
    { key: 'figure-1/size', rest: 1.02, reach: 1.1 },
    { key: 'figure-2/level', rest: 5, reach: 90 },
    { key: 'figure-3/reading', rest: 25, reach: 70 },
  ],
};

const FIVE = [60, 200, 700, 2500, 8000];
const needles: Job = {
  name: 'five needles',
  most: 30,
  async walk(w) {
    await addSound(w, [soundFile('five.wav', [inTurn(FIVE, 5)], 5)]);
    await w.press('+ ear');
    await w.press('Five');
    await w.press('Keep only');
    await w.key('3');
    const bands = ['30–120', '120–400', '400–1.6 k', '1.6 k–5 k', '5 k–16 k'];
    for (let i = 0; i < 5; i++) {
      await addFigure(w, 'Dial');
      await w.menu(
        `+ move this: ${i ? `Dial ${i + 1}` : 'Dial'} · reading`,
        `five · five bands · ${bands[i]}`,
      );
    }
  },
  moves: FIVE.map((_, i) => ({ key: `figure-${i + 1}/reading`, rest: 15, reach: 60 })),
};

const meters: Job = {
  name: 'stereo meters, the second by duplicating',
  most: 20,
  async walk(w) {
    await addSound(w, [
      soundFile('two.wav', [[{ hz: 300, from: 0, to: 0.7 }], [{ hz: 300, from: 1, to: 1.7 }]]),
    ]);
    await w.press('+ ear');
    await w.press('Level');
    await w.choose('channel', 'left');
    await w.press('Keep only');
    await w.key('3');
    await addFigure(w, 'Meter');
    await w.menu('+ move this: Meter · level', 'two · left · level');
    await w.press('duplicate');
    await w.choose('channel', 'right');
  },
  moves: [
    { key: 'figure-1/level', rest: 5, reach: 90 },
    { key: 'figure-2/level', rest: 5, reach: 90 },
  ],
};

const copies: Job = {
  name: 'eight bands onto eight copies',
  most: 12,
  async walk(w) {
    await addSound(w, [
      soundFile('eight.wav', [inTurn([150, 600, 1250, 2200, 3600, 5700, 8700, 13000], 8)], 8),
    ]);
    await w.press('+ ear');
    await w.press('Eight by hearing');
    await w.press('Keep only');
    await w.key('3');
    await addFigure(w, 'Row of copies');
    await w.enter('how many', '8');
    await w.menu('+ move this: Row of copies · stretch', 'eight · eight bands by hearing (a row)');
  },
  moves: Array.from({ length: 8 }, (_, i) => ({ key: `figure-1/stretch#${i}`, rest: 2, reach: 3 })),
};

const film = (file: string): Job => ({
  name: 'a film’s sound onto its brightness',
  most: 14,
  async walk(w) {
    await w.key('3');
    await w.press('+ figure');
    await w.files(() => w.pressIn('Add a figure', 'Video'), [file]);
    await w.menu('+ move this: Video · brightness', '+ level of the film’s own sound');
  },
  moves: [{ key: 'figure-1/bright', rest: 105, reach: 140 }],
});

const own: Job = {
  name: 'own picture bumping with own microphone',
  most: 6,
  async walk(w) {
    await w.key('3');
    await w.press('+ figure');
    await w.files(() => w.pressIn('Add a figure', 'Image'), [imageFile()]);
    await w.menu('+ move this: Image · size', '+ level of the microphone');
  },
  moves: [{ key: 'figure-1/size', rest: 1.02, reach: 1.08 }],
};

/** All of them. The microphone must give a sound that comes and goes. @param reel - see {@link filmFile} */
export const jobs = (reel: string): readonly Job[] => [stems, needles, meters, copies, film(reel), own];

/** Walks a job from an empty show. @returns its actions, and the least and greatest of what it moves */
export async function walkJob(
  page: Page,
  job: Job,
  seconds = 8,
): Promise<{
  readonly actions: number;
  readonly measured: (readonly [number, number])[];
  readonly right: boolean;
}> {
  await emptyShow(page);
  const walk = new Walk(page);
  await job.walk(walk);
  const within = (m: readonly (readonly [number, number])[]): boolean =>
    m.every(([least, greatest], i) => least <= job.moves[i]!.rest && greatest >= job.moves[i]!.reach);
  let measured: (readonly [number, number])[] = [];
  // A fit to what comes has to hear it first.
  for (let i = 0; i < 3 && !within(measured.length ? measured : [[1e9, 0]]); i++)
    measured = await walk.measure(
      job.moves.map((m) => m.key),
      seconds,
    );
  return { actions: walk.actions, measured, right: within(measured) && walk.actions <= job.most };
}
