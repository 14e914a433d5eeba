import { SHEET_HEIGHT, SHEET_WIDTH } from '../core/lights';
import type { FromPicture, ToPicture } from './memory/messages';
import type { makeSheetMemory } from './memory/sheet';
import { keepQuality, knownQualities } from './picture/knownQualities';
import type { Readers } from './readers';

/** What is recorded: a screen, or a surface as it is. */
export interface Recorded {
  readonly id: string;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  /** An overlay, recorded with what is open in it left open. */
  readonly surface?: string;
}
/** A picture worker in its window's hands. */
export interface PictureHandle {
  tell(message: ToPicture): void;
  end(): void;
}
/** Whether what a picture worker says was meant for who made it. */
type Heard = (message: FromPicture, worker: Worker) => boolean;

export interface PictureHooks {
  /** What a picture worker says that nobody else took. */
  said(message: FromPicture): void;
  /** Answers what a picture worker asks of its window, until it is closed. */
  asks(worker: Worker): { take(message: FromPicture): boolean; close(): void };
}

const startWorker = (name: string): Worker =>
  new Worker(new URL('./picture/picture.worker.ts', import.meta.url), { type: 'module', name });

/** The workers that draw for this window: on a canvas, into a recording, and small for lamps. Main thread only. */
export class Pictures {
  readonly #readers: Readers;
  readonly #sheetMemory: ReturnType<typeof makeSheetMemory>;
  readonly #hooks: PictureHooks;
  /** Draws the picture for lamps that take their colour from it, while there are any. */
  #sheet: PictureHandle | null = null;

  constructor(readers: Readers, sheet: ReturnType<typeof makeSheetMemory>, hooks: PictureHooks) {
    this.#readers = readers;
    this.#sheetMemory = sheet;
    this.#hooks = hooks;
  }

  /** Draws the picture on a canvas. @returns how to tell it its size, and to end it */
  drawOn(canvas: HTMLCanvasElement, width: number, height: number, heard: Heard): PictureHandle {
    const worker = startWorker('picture');
    worker.onmessage = (e: MessageEvent<FromPicture>) => {
      if (e.data.type === 'rate') keepQuality(e.data);
      if (!heard(e.data, worker)) this.#hooks.said(e.data);
    };
    const offscreen = canvas.transferControlToOffscreen();
    return this.#begin(
      worker,
      {
        type: 'canvas',
        canvas: offscreen,
        width,
        height,
        preview: true,
        open: true,
        known: knownQualities(),
      },
      [offscreen],
    );
  }
  /** Draws a screen of the show for a recording. */
  recordOn(
    what: Recorded,
    into: WritableStream<VideoFrame>,
    framesPerSecond: number,
    heard: Heard,
  ): PictureHandle {
    const worker = startWorker('recording'),
      canvas = new OffscreenCanvas(what.width, what.height);
    worker.onmessage = (e: MessageEvent<FromPicture>) => {
      heard(e.data, worker);
    };
    worker.postMessage(
      (what.surface === undefined
        ? { type: 'screen', id: what.id }
        : { type: 'surface', id: what.surface, matte: false }) satisfies ToPicture,
    );
    return this.#begin(
      worker,
      {
        type: 'canvas',
        canvas,
        width: what.width,
        height: what.height,
        open: what.surface !== undefined,
        preview: false,
        record: { into, framesPerSecond },
      },
      [canvas, into],
    );
  }
  /** Draws the picture small, for lamps, or ends that. */
  drawSheet(wanted: boolean): void {
    if (!wanted) {
      this.#sheet?.end();
      this.#sheet = null;
      return;
    }
    if (this.#sheet) return;
    const worker = startWorker('sheet'),
      canvas = new OffscreenCanvas(SHEET_WIDTH, SHEET_HEIGHT),
      desk = this.#hooks.asks(worker);
    worker.onmessage = (e: MessageEvent<FromPicture>) => {
      desk.take(e.data);
    };
    const { tell, end } = this.#begin(
      worker,
      {
        type: 'canvas',
        canvas,
        width: SHEET_WIDTH,
        height: SHEET_HEIGHT,
        preview: false,
        sheet: this.#sheetMemory,
      },
      [canvas],
    );
    this.#sheet = {
      tell,
      end: () => {
        desk.close();
        end();
      },
    };
  }
  close(): void {
    this.drawSheet(false);
  }

  #begin(worker: Worker, canvas: ToPicture, given: Transferable[]): PictureHandle {
    worker.postMessage(canvas, given);
    return { tell: (message) => worker.postMessage(message), end: this.#readers.addPicture(worker) };
  }
}
