import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'puppeteer-core';
import type { Blend, FinishForm } from '../src/core/finishes/kinds';
import type { FigureForm } from '../src/core/figures/kinds';
import { bareStage, ferryShow } from '../src/core/ferry/show';
import { newInput } from '../src/core/show/inputs';
import { parseShow } from '../src/core/show/schema';
import { newFigure } from '../src/core/show/pictureCommands';
import {
  EMPTY_MEMORY,
  type Ear,
  type Figure,
  type FigureGroup,
  type Finish,
  type Route,
  type Show,
} from '../src/core/show/types';
import { hashOf } from '../src/data/database';
import { writeShowFile } from '../src/data/showFile';
import { openShowFile, textOf, until } from './support';

/** The plain ground of a board, and the inks that tests paint with: far apart, and the same in every colour space. */
export const GROUND = '#000000',
  RED = '#ff0000',
  GREEN = '#00ff00',
  WHITE = '#ffffff',
  BLUE = '#0000ff';

/** A plain black picture on which figures are set out, and one button, key K, that is routed to what shall move. */
export class Board {
  readonly #figures: Figure[] = [
    newFigure('ground', 'Ground', { kind: 'ground' }, { x: 0, y: 0 }, { ink: GROUND, lines: 0 }),
  ];
  readonly #finishes: Finish[] = [];
  readonly #groups: FigureGroup[] = [];
  readonly #routes: Route[] = [];
  readonly #media: { hash: string; name: string; blob: Blob }[] = [];
  readonly #ears: Ear[] = [];
  flashLimit: number | null = null;
  /** How often a second the maker *wave* goes from nothing to all. */
  wave = 1;
  camera: Record<string, number> = {};
  screens: Show['screens'] = bareStage().screens;

  figure(
    id: string,
    form: FigureForm,
    x: number,
    y: number,
    rest: Figure['rest'] = {},
    more: Partial<Figure> = {},
  ): this {
    this.#figures.push({ ...newFigure(id, id, form, { x, y }, rest), ...more });
    return this;
  }
  /** A plain square, its foot at the place. */
  block(id: string, x: number, y: number, side: number, ink: string, more: Partial<Figure> = {}): this {
    return this.figure(id, { kind: 'print', form: 'block' }, x, y, { ink, size: side / 120 }, more);
  }
  group(id: string, rest: FigureGroup['rest'] = {}, blend: Blend = 'over'): this {
    this.#groups.push({ id, name: id, hidden: false, locked: false, blend, rest });
    return this;
  }
  finish(id: string, on: string, form: FinishForm, rest: Finish['rest'] = {}): this {
    this.#finishes.push({ id, name: id, form, on, off: false, rest });
    return this;
  }
  /** The button takes a parameter from its rest to this. */
  move(thing: string, parameter: string, reach: number | string, signal = 'press'): this {
    this.#routes.push({
      id: `route-${this.#routes.length + 1}`,
      signal,
      target: { thing, parameter },
      muted: false,
      soloed: false,
      bypassed: false,
      combine: 'add',
      group: null,
      amountBy: null,
      unseen: null,
      shaping: { amount: 1 },
      reach,
    });
    return this;
  }
  /** A row or a level of the board's tone. */
  ear(ear: Omit<Ear, 'input' | 'channel'>): this {
    this.#ears.push({ ...ear, input: 'tone', channel: 'sum' });
    return this;
  }
  async media(name: string, type: string, bytes: Uint8Array<ArrayBuffer> | string): Promise<string> {
    const blob = new Blob([bytes], { type }),
      hash = await hashOf(await blob.arrayBuffer());
    this.#media.push({ hash, name, blob });
    return hash;
  }
  show(hz = 1000): Show {
    const base = ferryShow({
        stems: { lowDrum: 'a', snareDrum: 'a', shaker: 'a', bell: 'a', voice: 'a' },
        badge: 'a',
        tune: 'a',
      }),
      stage = bareStage();
    return {
      ...base,
      ...stage,
      id: 'board',
      name: 'Board',
      flashLimit: this.flashLimit,
      budget: { ...stage.budget, on: false },
      camera: { ...stage.camera, rest: this.camera },
      screens: this.screens,
      ears: this.#ears,
      overlays: [],
      fixtures: [],
      wires: [],
      inputs: [{ ...newInput('tone', 'Tone', true), kind: 'tone', wave: 'sine', hz, db: -12 }],
      makers: [
        { id: 'press', name: 'Press', making: { kind: 'button', latching: true, key: 'k', touch: null } },
        {
          id: 'wave',
          name: 'Wave',
          making: { kind: 'oscillator', shape: 'square', every: { unit: 'hz', value: this.wave }, phase: 0 },
        },
      ],
      routes: this.#routes,
      figures: this.#figures,
      figureGroups: this.#groups,
      finishes: this.#finishes,
    };
  }
  /** @returns the path of a show file */
  async file(hz?: number): Promise<string> {
    const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'batucada-board-')), 'board.batucada');
    writeFileSync(
      file,
      new Uint8Array(
        await (
          await writeShowFile({ show: parseShow(this.show(hz)), memory: EMPTY_MEMORY, media: this.#media })
        ).arrayBuffer(),
      ),
    );
    return file;
  }
}

/** What a picture shows, by places of the picture: from its lower left, 1280 × 720. */
export class Shot {
  readonly width: number;
  readonly height: number;
  readonly #data: Uint8Array;
  constructor(data: Uint8Array, width: number, height: number) {
    this.#data = data;
    this.width = width;
    this.height = height;
  }
  #index(x: number, y: number): number {
    return (
      (Math.min(this.height - 1, Math.max(0, Math.floor((1 - y / 720) * this.height))) * this.width +
        Math.min(this.width - 1, Math.max(0, Math.floor((x / 1280) * this.width)))) *
      4
    );
  }
  /** Red, green and blue, 0 to 255. */
  at(x: number, y: number): [number, number, number] {
    const i = this.#index(x, y);
    return [this.#data[i]!, this.#data[i + 1]!, this.#data[i + 2]!];
  }
  /** How bright it is there, 0 to 255. */
  light(x: number, y: number): number {
    return Math.max(...this.at(x, y));
  }
  is(x: number, y: number, ink: string, far = 40): boolean {
    return this.at(x, y).every(
      (c, k) => Math.abs(c - Number.parseInt(ink.slice(1 + 2 * k, 3 + 2 * k), 16)) <= far,
    );
  }
  /** Whether anything but the ground is in a box of the picture. */
  some(x0: number, y0: number, x1: number, y1: number, least = 60): boolean {
    for (let y = y0; y <= y1; y += 1.5)
      for (let x = x0; x <= x1; x += 1.5) if (this.light(x, y) >= least) return true;
    return false;
  }
  /** The raw bytes of a row of pixels, counted from the top. */
  row(n: number): Uint8Array {
    return this.#data.subarray(n * this.width * 4, (n + 1) * this.width * 4);
  }
  get bytes(): Uint8Array {
    return this.#data;
  }
}

/** The live picture as it is shown now. */
export async function shoot(page: Page, selector = 'canvas[aria-label="The picture, live"]'): Promise<Shot> {
  const canvas = (await page.waitForSelector(selector))!,
    { x, y, width, height } = (await canvas.boundingBox())!;
  const clip = {
    x: Math.ceil(x),
    y: Math.ceil(y),
    width: Math.floor(width) - 1,
    height: Math.floor(height) - 1,
  };
  const shot = await page.screenshot({ clip, encoding: 'base64' });
  return shotOf(page, shot);
}
/** What a PNG shows. @param png - in base64 */
export async function shotOf(page: Page, png: string): Promise<Shot> {
  const { data, w, h } = await page.evaluate(async (png) => {
    const image = await createImageBitmap(await (await fetch(`data:image/png;base64,${png}`)).blob()),
      g = new OffscreenCanvas(image.width, image.height).getContext('2d')!;
    g.drawImage(image, 0, 0);
    const bytes = g.getImageData(0, 0, image.width, image.height).data;
    let text = '';
    for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return { data: btoa(text), w: image.width, h: image.height };
  }, png);
  return new Shot(new Uint8Array(Buffer.from(data, 'base64')), w, h);
}

/** Opens a board in the Picture place, with nothing selected that would be framed. */
export async function openBoard(page: Page, board: Board, hz?: number): Promise<void> {
  await openShowFile(page, await board.file(hz));
  // The show that was open is left first, and with it the place.
  await until('the board', async () => {
    const figures = await textOf(page, '[aria-label="Figures, back to front"]');
    if (figures === '') await page.keyboard.press('3');
    return figures.toLowerCase().includes('ground');
  });
  await page.$$eval('button', (all) => {
    all.find((b) => (b.textContent ?? '').startsWith('Camera'))!.click();
  });
}

/** The PNG that *Keep a still* makes, in base64. */
export async function stillPng(page: Page): Promise<string> {
  await page.$$eval('button', (all) => {
    all.find((b) => (b.textContent ?? '').startsWith('Screens'))!.click();
  });
  await until('the list of screens', () =>
    page.$$eval('button', (all) => all.some((b) => b.textContent === 'Keep a still')),
  );
  const png = await page.evaluate(async () => {
    const make = URL.createObjectURL.bind(URL),
      kept = new Promise<Blob>((done) => {
        URL.createObjectURL = (b) => {
          if (b instanceof Blob && b.type === 'image/png') done(b);
          return make(b);
        };
      });
    [...document.querySelectorAll('button')].find((b) => b.textContent === 'Keep a still')!.click();
    const bytes = new Uint8Array(await (await kept).arrayBuffer());
    URL.createObjectURL = make;
    let text = '';
    for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
    return btoa(text);
  });
  await closeScreens(page);
  return png;
}
/** Escape, until it is gone: a button that went away under the focus takes the first one with it. */
export async function closeScreens(page: Page): Promise<void> {
  await until('the list of screens gone', async () => {
    if ((await page.$('[role=dialog]')) === null) return true;
    await page.keyboard.press('Escape');
    return false;
  });
}
