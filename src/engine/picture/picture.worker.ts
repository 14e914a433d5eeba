import { WebGLRenderer } from 'three';
import type { Figure } from '../../core/show/types';
import { Control, Real } from '../memory/control';
import { FrameReader } from '../memory/frames';
import type { Blocks, FromPicture, ToPicture, ToReader } from '../memory/messages';
import { PictureScene } from './scene';

const post = (message: FromPicture): void => (globalThis as unknown as Worker).postMessage(message);

/** One picture at work: its own canvas, its own pace, its own reading of the frames. It needs no window to be healthy. */
class Picture {
  readonly #canvas: OffscreenCanvas;
  readonly #preview: boolean;
  #renderer: WebGLRenderer;
  #scene = new PictureScene();
  #reader: FrameReader | null = null;
  #control: Control | null = null;
  #blocks: Blocks | null = null;
  #figures: readonly Figure[] = [];
  #size: readonly [number, number];
  #lost = false;
  #frames = 0;
  #since = performance.now();
  #busy = 0;
  #next = 0;
  #shown = true;

  /** @param preview - the control window's own picture, which shows what is tried unseen too */
  constructor(canvas: OffscreenCanvas, width: number, height: number, preview: boolean) {
    this.#canvas = canvas;
    this.#preview = preview;
    this.#size = [width, height];
    this.#renderer = this.#make();
    canvas.addEventListener('webglcontextlost', (e) => { e.preventDefault(); this.#lost = true; post({ type: 'trouble', what: 'The graphics device was lost. The picture comes back by itself.' }); });
    canvas.addEventListener('webglcontextrestored', () => {
      this.#lost = false;
      this.#scene.dispose();
      this.#scene = new PictureScene();
      this.#renderer = this.#make();
      this.#apply();
      post({ type: 'well' });
    });
    requestAnimationFrame(this.#draw);
  }

  #make(): WebGLRenderer {
    const renderer = new WebGLRenderer({ canvas: this.#canvas, antialias: true, alpha: false, powerPreference: 'high-performance' });
    renderer.setClearColor(0x000000, 1);
    renderer.setSize(this.#size[0], this.#size[1], false);
    return renderer;
  }

  size(width: number, height: number): void {
    this.#size = [width, height];
    this.#renderer.setSize(width, height, false);
  }

  /** Nobody sees it: it draws nothing until it is shown again. */
  show(shown: boolean): void { this.#shown = shown; }

  listen(port: MessagePort): void {
    port.onmessage = (e: MessageEvent<ToReader>) => {
      if (e.data.type === 'blocks') {
        const { blocks } = e.data;
        if (this.#blocks?.frames.buffer !== blocks.frames.buffer) this.#reader = new FrameReader(blocks.frames);
        if (this.#blocks?.control.words !== blocks.control.words) this.#control = new Control(blocks.control);
        const moved = JSON.stringify(this.#blocks?.map.parameters) !== JSON.stringify(blocks.map.parameters);
        this.#blocks = blocks;
        if (moved) this.#apply();
      } else if (e.data.show.figures !== this.#figures) {
        this.#figures = e.data.show.figures;
        this.#apply();
      }
    };
  }
  #apply(): void {
    if (this.#blocks) this.#scene.set(this.#figures, this.#blocks.map.parameters);
  }

  readonly #draw = (): void => {
    requestAnimationFrame(this.#draw);
    const now = performance.now();
    // On a machine without a graphics processor drawing takes the sound's own time: after each picture it rests as long.
    if (this.#lost || !this.#shown || now < this.#next) return;
    const reader = this.#reader;
    if (!reader || !this.#control) return;
    reader.read();
    if (reader.tick < 0) return;
    this.#scene.render(this.#renderer, this.#preview ? reader.preview : reader.parameters, reader.pictureTime, reader.darkness);
    this.#busy += 0.1 * (performance.now() - now - this.#busy);
    if (this.#busy > 12) this.#next = now + this.#busy * 1.6;
    this.#frames++;
    if (now - this.#since >= 1000) {
      const age = performance.timeOrigin + now - this.#control.reals[Real.Heartbeat]!;
      post({ type: 'rate', framesPerSecond: (this.#frames * 1000) / (now - this.#since), age });
      this.#frames = 0;
      this.#since = now;
    }
  };
}

let picture: Picture | null = null;
let waiting: MessagePort | null = null;
self.onmessage = (e: MessageEvent<ToPicture>) => {
  const message = e.data;
  try {
    switch (message.type) {
      case 'canvas':
        picture = new Picture(message.canvas, message.width, message.height, message.preview);
        if (waiting) { picture.listen(waiting); waiting = null; }
        return;
      case 'size': picture?.size(message.width, message.height); return;
      case 'shown': picture?.show(message.shown); return;
      case 'conductor': if (picture) picture.listen(message.port); else waiting = message.port; return;
    }
  } catch (error) {
    post({ type: 'trouble', what: `The picture cannot be drawn: ${error instanceof Error ? error.message : String(error)}` });
  }
};
