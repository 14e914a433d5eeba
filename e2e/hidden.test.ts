import { describe, expect, it } from '@jest/globals';
import type { Page } from 'puppeteer-core';
import { Board, GREEN, openBoard, RED } from './board';
import { withFerry } from './stage';
import { named, press, textOf, until, type Visit } from './support';

let v: Visit, seen: Seen[];
/** A film of red, then green, in the browser's own format. */
async function film(page: Page): Promise<Uint8Array<ArrayBuffer>> {
  return new Uint8Array(
    Buffer.from(
      await page.evaluate(
        async (inks) => {
          const canvas = document.createElement('canvas'),
            g = canvas.getContext('2d')!,
            parts: Blob[] = [];
          canvas.width = 320;
          canvas.height = 180;
          const recorder = new MediaRecorder(canvas.captureStream(20), {
            mimeType: 'video/webm;codecs=vp8',
            videoBitsPerSecond: 400000,
          });
          recorder.ondataavailable = (e) => parts.push(e.data);
          const over = new Promise((r) => {
            recorder.onstop = r;
          });
          recorder.start();
          // By the clock: a machine that is held up makes fewer frames of it, and no longer film.
          const from = performance.now();
          for (let at = 0; at < 2000; at = performance.now() - from) {
            g.fillStyle = inks[at < 1000 ? 0 : 1]!;
            g.fillRect(0, 0, 320, 180);
            await new Promise((r) => setTimeout(r, 50));
          }
          recorder.stop();
          await over;
          let text = '';
          for (const byte of new Uint8Array(await new Blob(parts).arrayBuffer()))
            text += String.fromCharCode(byte);
          return btoa(text);
        },
        [RED, GREEN],
      ),
      'base64',
    ),
  );
}

withFerry(
  async (_, first) => {
    v = first;
    const b = new Board(),
      reel = await b.media('reel.webm', 'video/webm', await film(v.page));
    b.figure(
      'film',
      { kind: 'video', media: reel, fileName: 'reel.webm', flipX: false, flipY: false },
      320,
      360,
      { size: 0.5 },
    );
    // The browser's stand-in for a camera: a disc that fills, over green.
    b.figure(
      'view',
      { kind: 'camera', deviceId: 'any', deviceName: 'Any', flipX: false, flipY: false },
      960,
      360,
      { size: 0.5 },
    );
    b.wave = 0.5;
    b.block('square', 640, 80, 60, RED).move('square', 'height', 90, 'wave');
    await openBoard(v.page, b);
    await press(v.page, 'button', 'Screens …');
    await named(v.page, 'dialog', 'Screens');
    // Some browsers pause a film that begins in a hidden window, once.
    await v.page.evaluate(() => {
      const { play } = HTMLVideoElement.prototype,
        paused = new WeakSet<HTMLVideoElement>();
      HTMLVideoElement.prototype.play = function (): Promise<void> {
        if (this.loop && !paused.has(this)) {
          paused.add(this);
          setTimeout(() => this.pause(), 20);
        }
        return play.call(this);
      };
    });
    const other = await v.browser.newPage();
    await other.bringToFront();
    await until('the control window hidden', () =>
      v.page.evaluate(() => document.visibilityState === 'hidden'),
    );
    // All of it is recorded while nobody sees the window.
    await click('Record');
    await until(
      'eight seconds of it',
      async () =>
        /Recording: 0:(0[89]|[1-5]\d),/.test(
          await textOf(v.page, '[role=dialog] [aria-label="Screen"] [role=status]'),
        ),
      180000,
    );
    await click('Stop recording');
    await until('it kept', async () =>
      (await textOf(v.page, '[role=dialog] [aria-label=Recordings]')).includes('.webm'),
    );
    await v.page.bringToFront();
    // A frame that nobody closed is told on the console once it is collected, while the recording is watched.
    const inside = await v.page.createCDPSession();
    await inside.send('HeapProfiler.collectGarbage');
    seen = await v.page.evaluate(watchRecording);
  },
  undefined,
  { throttleHidden: true },
);
const click = (text: string): Promise<void> =>
  v.page.$$eval(
    '[role=dialog] [aria-label="Screen"] button',
    (all, t) => {
      (all.find((x) => x.textContent === t) as HTMLElement).click();
    },
    text,
  );
type Ink = readonly [number, number, number];
interface Seen {
  readonly time: number;
  readonly film: Ink;
  readonly camera: string;
  readonly up: Ink;
  readonly down: Ink;
}
/** Plays the one recording, in the page, and says what its frames show. */
async function watchRecording(): Promise<Seen[]> {
  const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('recordings');
  let file: File | null = null;
  for await (const entry of (folder as unknown as { values(): AsyncIterable<FileSystemFileHandle> }).values())
    file = await entry.getFile();
  const video = document.createElement('video'),
    seen: Seen[] = [],
    g = new OffscreenCanvas(1280, 720).getContext('2d', { willReadFrequently: true })!;
  video.src = URL.createObjectURL(file!);
  video.muted = true;
  await new Promise((r, fail) => {
    video.onloadeddata = r;
    video.onerror = () => fail(new Error(video.error?.message));
  });
  await video.play();
  while (!video.ended) {
    g.drawImage(video, 0, 0, 1280, 720);
    const at = (x: number, y: number): Ink => {
      const [r, b, c] = g.getImageData(x, 720 - y, 1, 1).data;
      return [r!, b!, c!];
    };
    // A coarse look at the camera's picture, for coding noise is no change.
    const bytes = g.getImageData(840, 300, 240, 120).data;
    let camera = '';
    for (let i = 0; i < bytes.length; i += 4 * 997) camera += Math.round(bytes[i + 1]! / 64);
    seen.push({ time: video.currentTime, film: at(320, 360), camera, up: at(640, 200), down: at(640, 100) });
    await new Promise((r) => setTimeout(r, 40));
  }
  URL.revokeObjectURL(video.src);
  return seen;
}
const red = ([r, g, b]: Ink): boolean => r > 150 && g < 90 && b < 90,
  green = ([r, g, b]: Ink): boolean => g > 150 && r < 90 && b < 90;
/** How often something changes from one to the other. */
const turns = (list: readonly boolean[]): number => list.filter((x, i) => i > 0 && x !== list[i - 1]).length;

describe('what is recorded while the control window is hidden', () => {
  it('is as long as it was said to be', () => {
    expect(seen.at(-1)!.time).toBeGreaterThan(7);
  });
  it('shows a film going on', () => {
    // Two seconds a round, red and then green: in seven it turns at least four times.
    const inks = seen.filter((s) => red(s.film) || green(s.film)).map((s) => red(s.film));
    expect(inks.length).toBeGreaterThan(seen.length / 2);
    expect(turns(inks)).toBeGreaterThanOrEqual(4);
  });
  it('shows a camera going on', () => {
    expect(new Set(seen.map((s) => s.camera)).size).toBeGreaterThan(3);
  });
  it('shows makers and routes going on', () => {
    // Up and down once in two seconds.
    const ups = seen.filter((s) => red(s.up) !== red(s.down)).map((s) => red(s.up));
    expect(turns(ups)).toBeGreaterThanOrEqual(4);
  });
});
