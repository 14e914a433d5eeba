import { afterEach, beforeEach, describe, expect, it } from '@jest/globals';
import type { Texture } from 'three';
import { PictureMedia, type MediaAsk } from './media';

/** Frames and bitmaps as a browser hands them out: each is held until it is closed. */
const held = { frames: 0, bitmaps: 0, made: 0 };
interface Frame {
  readonly displayWidth: number;
  readonly displayHeight: number;
  close(): void;
}
function frame(width = 64): Frame {
  held.frames++;
  let open = true;
  return {
    displayWidth: width,
    displayHeight: 36,
    close: () => {
      if (open) held.frames--;
      open = false;
    },
  };
}
let slow: (() => void)[] | null = null;

const world = globalThis as unknown as { createImageBitmap: unknown };
let before: unknown;
beforeEach(() => {
  before = world.createImageBitmap;
  Object.assign(held, { frames: 0, bitmaps: 0, made: 0 });
  slow = null;
  world.createImageBitmap = async (f: Frame) => {
    if (slow) await new Promise<void>((r) => slow!.push(r));
    held.bitmaps++;
    held.made++;
    return {
      width: f.displayWidth,
      height: 36,
      close: () => {
        held.bitmaps--;
      },
    };
  };
});
afterEach(() => {
  world.createImageBitmap = before;
});
/** Lets everything that waits for a promise go on. */
const turn = async (): Promise<void> => {
  for (let i = 0; i < 20; i++) await Promise.resolve();
  await new Promise((r) => setTimeout(r, 0));
};

function film(flows = true): {
  asks: MediaAsk[];
  got: { texture: Texture; width: number }[];
  push(f: Frame): void;
  canceled(): boolean;
  flow: ReturnType<PictureMedia['film']>;
} {
  const asks: MediaAsk[] = [],
    got: { texture: Texture; width: number }[] = [];
  const media = new PictureMedia(
    (a) => asks.push(a),
    (why) => {
      throw new Error(why);
    },
  );
  const flow = media.film('a'.repeat(64), (texture, width) => got.push({ texture, width }));
  let put!: ReadableStreamDefaultController<Frame>,
    over = false;
  const frames = new ReadableStream<Frame>(
    {
      start: (c) => {
        put = c;
      },
      cancel: () => {
        over = true;
      },
    },
    { highWaterMark: 1 },
  );
  media.take({ type: 'media', id: asks[0]!.id, frames: frames as unknown as ReadableStream<VideoFrame> });
  if (flows) media.take({ type: 'media', id: asks[0]!.id, flows: true });
  return { asks, got, flow, push: (f) => put.enqueue(f), canceled: () => over };
}

describe('the frames of a film', () => {
  it('are not read before the window has let them go', async () => {
    const { push, asks, flow } = film(false);
    push(frame());
    await turn();
    flow.pace(1, 0);
    await turn();
    expect(held.made).toBe(0);
    expect(asks.at(-1)).toEqual({ type: 'taken', id: asks[0]!.id });
  });
  it('are let go when nobody draws them, but the newest', async () => {
    const { push } = film();
    for (let i = 0; i < 50; i++) {
      push(frame());
      await turn();
    }
    expect(held).toEqual({ frames: 1, bitmaps: 0, made: 0 });
  });
  it('are made ready when a picture is drawn, one at a time, and never twice', async () => {
    const { push, flow, got } = film();
    push(frame());
    await turn();
    slow = [];
    flow.pace(1, 0);
    for (let i = 0; i < 5; i++) {
      push(frame());
      await turn();
      flow.pace(1, 0);
    }
    // The first is still being made: only it and the newest are held.
    expect([slow.length, held.frames]).toEqual([1, 2]);
    slow.shift()!();
    await turn();
    expect([got.length, held.frames, held.bitmaps]).toEqual([1, 1, 1]);
    slow = null;
    flow.pace(1, 0);
    await turn();
    flow.pace(1, 0);
    await turn();
    expect(held).toEqual({ frames: 0, bitmaps: 1, made: 2 });
    // The same texture goes on with the new picture.
    expect(got.length).toBe(1);
    expect(got[0]!.texture.version).toBeGreaterThan(1);
  });
  it('come in another size on a texture of that size', async () => {
    const { push, flow, got } = film();
    for (const width of [64, 128]) {
      push(frame(width));
      await turn();
      flow.pace(1, 0);
      await turn();
    }
    expect(got.map((g) => g.width)).toEqual([64, 128]);
    expect(got[0]!.texture).not.toBe(got[1]!.texture);
  });
  it('are all let go when the figure goes, also one that is just being made', async () => {
    const { push, flow, asks, canceled } = film();
    push(frame());
    await turn();
    slow = [];
    flow.pace(1, 0);
    push(frame());
    await turn();
    flow.close();
    slow.shift()!();
    await turn();
    push(frame());
    await turn();
    expect([held.frames, held.bitmaps, canceled()]).toEqual([0, 0, true]);
    expect(asks.at(-1)).toEqual({ type: 'enough', id: asks[0]!.id });
  });
  it('are asked for at another pace only when it changed by more than nothing', () => {
    const { flow, asks } = film();
    for (const pace of [1, 1.01, 0.5, 0.52, 0]) flow.pace(pace, 0);
    expect(asks.filter((a) => a.type === 'pace').map((a) => (a as { pace: number }).pace)).toEqual([0.5, 0]);
  });
});

describe('what a picture is made of', () => {
  it('comes late, or not at all, without harm', async () => {
    const asks: MediaAsk[] = [],
      troubles: string[] = [],
      got: number[] = [];
    const media = new PictureMedia(
      (a) => asks.push(a),
      (why) => troubles.push(why),
    );
    const close = media.image('b'.repeat(64), (_, width) => got.push(width)),
      other = media.text('NIGHT', 'heading', (_, width) => got.push(width));
    media.take({
      type: 'media',
      id: asks[0]!.id,
      why: 'This image cannot be read. Use PNG, JPEG, WebP, GIF or SVG.',
    });
    expect([troubles.length, got.length]).toEqual([1, 0]);
    close();
    media.take({
      type: 'media',
      id: asks[0]!.id,
      bitmap: { width: 9, height: 9, close: () => undefined } as unknown as ImageBitmap,
    });
    expect(got).toEqual([]);
    media.take({
      type: 'media',
      id: asks[1]!.id,
      bitmap: { width: 300, height: 160, close: () => undefined } as unknown as ImageBitmap,
    });
    expect(got).toEqual([300]);
    other();
    await turn();
    expect(asks.filter((a) => a.type === 'enough').length).toBe(2);
  });
});
