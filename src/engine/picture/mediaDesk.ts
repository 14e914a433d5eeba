import { TEXT_HEIGHT, type TextFace } from '../../core/figures';
import { drawingTrouble, isPlaylist } from '../../core/media';
import { mediaAddress } from '../memory/pageAddress';
import { LETTER_NUMBERS, layLetters } from './letterLayout';
import type { LettersNeed, MediaAnswer, MediaAsk, MediaNeed } from './media';

/** A worker's picture of a still is at most this wide. */
const WIDEST = 2048;
/** A film that somebody else paused goes on after as long, in milliseconds. */
const FILM_AGAIN = 100;
/** Height of a letter as it is drawn, in pixels: sharp on a large screen. */
const LETTER = 160;
const FACES: Readonly<Record<TextFace, string>> = {
  heading: '800 1px "Bricolage Grotesque Variable", sans-serif',
  plain: '400 1px "Atkinson Hyperlegible", sans-serif',
  numbers: '400 1px "Atkinson Hyperlegible Mono", monospace',
};

/** Where files of the show come from. */
export interface Files {
  /** @param over - whether nobody waits for it any more @returns null where it is not to be had */
  get(hash: string, over: () => boolean): Promise<Blob | null>;
  /** What is said then. */
  readonly missing: string;
  /** Whether the show's cameras are this machine's. */
  readonly cameras: boolean;
}
/** A file may still be on its way to the bridge. */
const AWAITED_MS = 60000,
  ASK_AGAIN_MS = 1000;
/** Files of a show on another machine, by way of its bridge. */
const ELSEWHERE: Omit<Files, 'cameras'> = {
  get: async (hash, over) => {
    for (let end = performance.now() + AWAITED_MS; !over() && performance.now() < end;) {
      const got = await fetch(mediaAddress(hash)).catch(() => null);
      if (got?.ok) return got.blob();
      await new Promise((r) => setTimeout(r, ASK_AGAIN_MS));
    }
    return null;
  },
  missing: 'A file of the picture did not come from the machine that has the show. Open the show there.',
};
export const FILES_ELSEWHERE: Files = { ...ELSEWHERE, cameras: false };
/** The same for a page on a safe address, which may use the cameras of the machine that it is on. */
export const FILES_HERE: Files = { ...ELSEWHERE, cameras: true };

type Sound = Extract<MediaAsk, { type: 'pace' }>['sound'];
type Answer = (what: Omit<MediaAnswer, 'type' | 'id'>, transfer?: Transferable[]) => void;
interface MediaTrack {
  readonly readable: ReadableStream<VideoFrame>;
}
type Processor = new (from: { track: MediaStreamTrack }) => MediaTrack;

/**
 * A window's side of what a picture worker asks for: files of the show, letters, films and cameras. Films and cameras go on while
 * the window is hidden, because their frames are taken from the track itself and handed on as a stream.
 */
export class MediaDesk {
  readonly #worker: Worker;
  readonly #files: Files;
  readonly #open = new Map<
    number,
    { close(): void; pace?(pace: number, sound: Sound): void; taken?(): void }
  >();

  /** @param files - where the show's files come from */
  constructor(worker: Worker, files: Files) {
    this.#worker = worker;
    this.#files = files;
  }

  /** @returns whether it was something that a worker asks for */
  take(ask: { readonly type: string }): ask is MediaAsk {
    const asked = ask as MediaAsk;
    if (asked.type === 'need') void this.#need(asked.id, asked.need);
    else if (asked.type === 'enough') {
      this.#open.get(asked.id)?.close();
      this.#open.delete(asked.id);
    } else if (asked.type === 'pace') this.#open.get(asked.id)?.pace?.(asked.pace, asked.sound);
    else if (asked.type === 'taken') this.#open.get(asked.id)?.taken?.();
    else return false;
    return true;
  }
  close(): void {
    for (const x of this.#open.values()) x.close();
    this.#open.clear();
  }

  async #need(id: number, need: MediaNeed): Promise<void> {
    let over = false;
    this.#open.set(id, {
      close: () => {
        over = true;
      },
    });
    const answer: Answer = (what, transfer = []) => {
      if (!over) this.#worker.postMessage({ type: 'media', id, ...what } satisfies MediaAnswer, transfer);
    };
    try {
      if (need.kind === 'text') {
        const bitmap = await lettered(need.text, need.face);
        answer({ bitmap }, [bitmap]);
        return;
      }
      if (need.kind === 'letters') {
        const { bitmap, table } = await letterSheet(need);
        answer({ bitmap, table }, [bitmap, table.buffer]);
        return;
      }
      if (need.kind === 'camera') {
        if (!this.#files.cameras) {
          answer({ why: 'A camera is seen only on the machine that it is connected to.' });
          return;
        }
        await this.#camera(id, need.deviceId, answer, () => over);
        return;
      }
      const blob = await this.#files.get(need.media, () => over);
      if (!blob) {
        answer({ why: this.#files.missing });
        return;
      }
      if (need.kind === 'model') {
        const bytes = await blob.arrayBuffer();
        answer({ bytes }, [bytes]);
        return;
      }
      if (need.kind === 'film') {
        await this.#film(id, blob, answer, () => over);
        return;
      }
      const bitmap = await stillOf(blob);
      answer({ bitmap }, [bitmap]);
    } catch (error) {
      answer({ why: `${TROUBLE[need.kind]} ${error instanceof Error ? error.message : ''}`.trim() });
    }
  }

  async #film(id: number, blob: Blob, answer: Answer, gone: () => boolean): Promise<void> {
    if (isPlaylist(new Uint8Array(await blob.slice(0, 256).arrayBuffer()), blob.type))
      throw new Error('It is a list of addresses, and has no film in it.');
    const film = document.createElement('video'),
      url = URL.createObjectURL(blob);
    Object.assign(film, { src: url, muted: true, loop: true, playsInline: true });
    await new Promise<void>((done, fail) => {
      film.onloadeddata = () => done();
      film.onerror = () => fail(new Error(film.error?.message ?? ''));
    }).catch((error: unknown) => {
      URL.revokeObjectURL(url);
      throw error;
    });
    if (gone()) {
      film.removeAttribute('src');
      URL.revokeObjectURL(url);
      return;
    }
    const stream = (film as HTMLVideoElement & { captureStream(): MediaStream }).captureStream();
    let rests = false,
      over = false;
    const play = (): void => {
      if (!rests && !over && film.paused) void film.play().catch(() => undefined);
    };
    // A browser may pause a film that begins while its window is hidden; a show wants it to go on.
    film.onpause = () => setTimeout(play, FILM_AGAIN);
    this.#open.set(id, {
      close: () => {
        over = true;
        film.pause();
        film.removeAttribute('src');
        URL.revokeObjectURL(url);
        for (const t of stream.getTracks()) t.stop();
      },
      pace: (pace, sound) => {
        rests = sound ? !sound.moves : pace < 0.07;
        if (rests) film.pause();
        else play();
        if (sound) goWith(film, sound);
        else if (!rests) film.playbackRate = pace;
      },
      taken: () => {
        answer({ flows: true });
        // Also one that rests: its first picture is wanted.
        film.play().then(
          () => {
            if (rests) film.pause();
          },
          (error: unknown) => {
            if (!over && (error as Error).name !== 'AbortError')
              answer({ why: `${TROUBLE.film} ${(error as Error).message}` });
          },
        );
      },
    });
    handOn(stream, answer);
  }
  async #camera(id: number, deviceId: string, answer: Answer, over: () => boolean): Promise<void> {
    const stream = await navigator.mediaDevices.getUserMedia({
      video: { deviceId: { ideal: deviceId }, width: { ideal: 1280 } },
    });
    if (over()) {
      for (const t of stream.getTracks()) t.stop();
      return;
    }
    this.#open.set(id, {
      close: () => {
        for (const t of stream.getTracks()) t.stop();
      },
      taken: () => answer({ flows: true }),
    });
    handOn(stream, answer);
  }
}
/** A film that is so far from its sound leaps to it, in seconds; one that is nearer is played a little faster or slower. */
const LEAP = 0.3;
/** How much of what it is apart is made up in a second, and the most that its pace differs for that. */
const MADE_UP = 4,
  MADE_UP_MOST = 0.5;
/** Nearer than this is together: a quarter of a film's frame. */
const TOGETHER = 0.01;
/** Keeps a film with its own sound: within a frame while both move, and on the same frame where the sound stands. */
function goWith(film: HTMLVideoElement, sound: NonNullable<Sound>): void {
  // A film that does not say how long it is goes with its sound from its beginning.
  const lap = Number.isFinite(film.duration) && film.duration > 0 ? film.duration : 1e9,
    since = sound.moves ? (performance.timeOrigin + performance.now() - sound.on) / 1000 : 0;
  if (film.seeking) return;
  let apart = ((sound.at + since) % lap) - film.currentTime;
  // Round the end the nearer way.
  apart -= Math.round(apart / lap) * lap;
  if (Math.abs(apart) > (sound.moves ? LEAP : TOGETHER)) {
    film.currentTime = (film.currentTime + apart + lap) % lap;
    film.playbackRate = 1;
  } else if (sound.moves)
    film.playbackRate =
      Math.abs(apart) < TOGETHER ? 1 : 1 + Math.max(-MADE_UP_MOST, Math.min(MADE_UP_MOST, apart * MADE_UP));
}
const TROUBLE: Readonly<Record<MediaNeed['kind'], string>> = {
  image: 'This image cannot be read. Use PNG, JPEG, WebP, GIF or SVG.',
  model: 'This model cannot be read.',
  text: 'This text cannot be drawn.',
  letters: 'These letters cannot be drawn.',
  film: 'This film cannot be played. Use MP4 or WebM.',
  camera: 'The camera cannot be used. Allow it for this address, and see that no other program holds it.',
};

/** Made and handed on at once: a frame that comes in between would stay in this window, never closed. */
function handOn(stream: MediaStream, answer: Answer): void {
  const track = stream.getVideoTracks()[0],
    Made = (globalThis as unknown as { MediaStreamTrackProcessor?: Processor }).MediaStreamTrackProcessor;
  if (!track) throw new Error('It has no picture.');
  if (!Made) throw new Error('This browser cannot hand its frames on; use a current Chromium.');
  const frames = new Made({ track }).readable;
  answer({ frames }, [frames]);
}

/** Any image that the browser can show, drawings included, upside down as graphics devices have it. */
async function stillOf(blob: Blob): Promise<ImageBitmap> {
  if (!blob.type.includes('svg')) {
    const plain = await createImageBitmap(blob),
      width = Math.min(plain.width, WIDEST);
    plain.close();
    return createImageBitmap(blob, { imageOrientation: 'flipY', resizeWidth: width, resizeQuality: 'high' });
  }
  const trouble = drawingTrouble(await blob.text());
  if (trouble) throw new Error(trouble);
  // A drawing has no pixels: it is given many.
  const image = new Image(),
    url = URL.createObjectURL(blob);
  try {
    image.src = url;
    await image.decode();
    const w = image.naturalWidth || 600,
      h = image.naturalHeight || 400,
      scale = 1400 / Math.max(w, h),
      canvas = new OffscreenCanvas(Math.max(1, Math.round(w * scale)), Math.max(1, Math.round(h * scale)));
    canvas.getContext('2d')!.drawImage(image, 0, 0, canvas.width, canvas.height);
    return await createImageBitmap(canvas, { imageOrientation: 'flipY' });
  } finally {
    URL.revokeObjectURL(url);
  }
}

async function lettered(text: string, face: TextFace): Promise<ImageBitmap> {
  const lines = text.split('\n'),
    font = FACES[face].replace('1px', `${LETTER * 0.78}px`);
  await document.fonts.load(font, text || 'a').catch(() => undefined);
  const measure = new OffscreenCanvas(1, 1).getContext('2d')!;
  measure.font = font;
  const width = Math.min(
      8192,
      Math.max(8, ...lines.map((l) => Math.ceil(measure.measureText(l).width) + 16)),
    ),
    canvas = new OffscreenCanvas(width, LETTER * Math.max(1, lines.length)),
    g = canvas.getContext('2d')!;
  g.font = font;
  g.fillStyle = '#fff';
  g.textAlign = 'center';
  g.textBaseline = 'middle';
  lines.forEach((l, i) => g.fillText(l, width / 2, LETTER * (i + 0.52)));
  return createImageBitmap(canvas, { imageOrientation: 'flipY' });
}

/** Room about each letter on its sheet, in pixels, beside the line around it. */
const LETTER_ROOM = 8;
const SHEET_WIDTH = 2048;
/** Each letter by itself on one sheet, red as it is, green with the line around it, and where each stands in the text. */
async function letterSheet({
  text,
  face,
  wide,
  align,
  outline,
}: LettersNeed): Promise<{ bitmap: ImageBitmap; table: Float32Array<ArrayBuffer> }> {
  const scale = LETTER / TEXT_HEIGHT,
    font = FACES[face].replace('1px', `${LETTER * 0.78}px`);
  await document.fonts.load(font, text || 'a').catch(() => undefined);
  const measure = new OffscreenCanvas(1, 1).getContext('2d')!;
  measure.font = font;
  const { letters } = layLetters(text, align, wide * scale, LETTER, (t) => measure.measureText(t).width),
    line = outline * scale,
    room = line + LETTER_ROOM;
  let x = 0,
    y = 0,
    row = 0;
  const places = letters.map((l) => {
    const m = measure.measureText(l.text),
      left = Math.ceil(m.actualBoundingBoxLeft + room),
      right = Math.ceil(m.actualBoundingBoxRight + room),
      above = Math.ceil(m.actualBoundingBoxAscent + room),
      below = Math.ceil(m.actualBoundingBoxDescent + room),
      w = left + right,
      h = above + below;
    if (x + w > SHEET_WIDTH) {
      x = 0;
      y += row;
      row = 0;
    }
    const at = { x, y, w, h, left, right, above, below, advance: m.width };
    x += w;
    row = Math.max(row, h);
    return at;
  });
  const width = SHEET_WIDTH,
    height = Math.min(8192, Math.max(1, y + row)),
    canvas = new OffscreenCanvas(width, height),
    g = canvas.getContext('2d')!;
  g.fillStyle = '#000';
  g.fillRect(0, 0, width, height);
  g.font = font;
  g.globalCompositeOperation = 'lighter';
  g.lineJoin = 'round';
  g.lineWidth = 2 * line;
  const table = new Float32Array(letters.length * LETTER_NUMBERS);
  letters.forEach((l, i) => {
    const p = places[i]!,
      foot = p.x + p.left,
      base = p.y + p.above;
    g.fillStyle = g.strokeStyle = '#0f0';
    if (line > 0) g.strokeText(l.text, foot, base);
    g.fillText(l.text, foot, base);
    g.fillStyle = '#f00';
    g.fillText(l.text, foot, base);
    // Its foot is the middle of its advance, on the line that it stands on.
    const half = l.wide / 2;
    table.set(
      [
        p.x / width,
        1 - (p.y + p.h) / height,
        (p.x + p.w) / width,
        1 - p.y / height,
        (l.x + half) / scale,
        l.y / scale,
        l.yAlone / scale,
        l.inAll,
        l.inLine,
        l.ofLine,
        l.line,
        letters.length,
        (-p.left - half) / scale,
        -p.below / scale,
        (p.right - half) / scale,
        p.above / scale,
      ],
      i * LETTER_NUMBERS,
    );
  });
  return { bitmap: await createImageBitmap(canvas, { imageOrientation: 'flipY' }), table };
}
