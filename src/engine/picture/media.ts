import {
  BufferGeometry,
  CanvasTexture,
  DataTexture,
  Float32BufferAttribute,
  LinearFilter,
  LinearMipmapLinearFilter,
  Mesh,
  NoColorSpace,
  SRGBColorSpace,
  Texture,
  type Color,
  type MeshStandardMaterial,
} from 'three';

import { type LettersForm, SOLID_EDGE, type TextFace } from '../../core/figures';
import { modelAddress } from '../../core/media';
import { drawStandIn } from './standIn';

/** What a picture worker asks its window for: only a window can open a camera, play a film, or letter a text. */
export type MediaNeed =
  | { readonly kind: 'image' | 'model' | 'film'; readonly media: string }
  | { readonly kind: 'text'; readonly text: string; readonly face: TextFace }
  | LettersNeed
  | { readonly kind: 'camera'; readonly deviceId: string };
/** Letters one by one. */
export type LettersNeed = { readonly kind: 'letters' } & Pick<
  LettersForm,
  'text' | 'face' | 'wide' | 'align' | 'outline'
>;
export type MediaAsk =
  | { readonly type: 'need'; readonly id: number; readonly need: MediaNeed }
  | { readonly type: 'enough'; readonly id: number }
  | {
      readonly type: 'pace';
      readonly id: number;
      readonly pace: number;
      /** Where the film's own sound is, in seconds, whether it moves, and when that was so, in ms since 1970; null where it has none. */
      readonly sound: { readonly at: number; readonly moves: boolean; readonly on: number } | null;
    }
  | { /** The stream of frames has arrived. */ readonly type: 'taken'; readonly id: number };
export type MediaAnswer = {
  readonly type: 'media';
  readonly id: number;
  readonly bitmap?: ImageBitmap;
  readonly bytes?: ArrayBuffer;
  /** Where each letter is on its sheet and in its text. */
  readonly table?: Float32Array<ArrayBuffer>;
  readonly frames?: ReadableStream<VideoFrame>;
  /** The frames may be read. */ readonly flows?: true;
  readonly why?: string;
};

export type GotTexture = (texture: Texture, width: number, height: number) => void;
export interface Flow {
  readonly close: () => void;
  /** Called before every drawing. @param film - where its own sound is, in seconds; less than 0 for none */
  readonly pace: (pace: number, time: number, film?: number) => void;
}

/** How often a film is told where its own sound is. */
const SOUND_TOLD_MS = 120;

/** A texture for as long as the picture that belongs there is not known. */
export function emptyTexture(): DataTexture {
  const t = new DataTexture(new Uint8Array([30, 60, 75, 255]), 1, 1);
  t.needsUpdate = true;
  return t;
}

function textureOf(bitmap: ImageBitmap): Texture {
  const t = new Texture(bitmap);
  t.colorSpace = SRGBColorSpace;
  t.minFilter = t.magFilter = LinearFilter;
  t.generateMipmaps = false;
  t.needsUpdate = true;
  return t;
}

/** A worker's side of everything that figures are made of and that is not in the show itself. */
export class PictureMedia {
  readonly #ask: (ask: MediaAsk) => void;
  readonly #trouble: (why: string) => void;
  readonly #waiting = new Map<number, (answer: MediaAnswer) => void>();
  #next = 1;

  constructor(ask: (ask: MediaAsk) => void, trouble: (why: string) => void) {
    this.#ask = ask;
    this.#trouble = trouble;
  }

  take(answer: MediaAnswer): void {
    // What nobody waits for any more belongs to a picture that is gone.
    if (answer.why && this.#waiting.has(answer.id)) this.#trouble(answer.why);
    this.#waiting.get(answer.id)?.(answer);
  }
  #need(
    need: MediaNeed,
    got: (answer: MediaAnswer) => void,
  ): { readonly id: number; readonly close: () => void } {
    const id = this.#next++;
    this.#waiting.set(id, got);
    this.#ask({ type: 'need', id, need });
    return {
      id,
      close: () => {
        if (this.#waiting.delete(id)) this.#ask({ type: 'enough', id });
      },
    };
  }
  #still(need: MediaNeed, got: GotTexture): () => void {
    let texture: Texture | null = null;
    const { close } = this.#need(need, ({ bitmap }) => {
      if (bitmap) got((texture = textureOf(bitmap)), bitmap.width, bitmap.height);
    });
    return () => {
      close();
      texture?.dispose();
    };
  }
  image(media: string, got: GotTexture): () => void {
    return this.#still({ kind: 'image', media }, got);
  }
  text(text: string, face: TextFace, got: GotTexture): () => void {
    return this.#still({ kind: 'text', text, face }, got);
  }
  letters(
    { text, face, wide, align, outline }: LettersForm,
    got: (texture: Texture, table: Float32Array) => void,
  ): () => void {
    let texture: Texture | null = null;
    const { close } = this.#need(
      { kind: 'letters', text, face, wide, align, outline },
      ({ bitmap, table }) => {
        if (!bitmap || !table) return;
        texture = textureOf(bitmap);
        // How much of a letter is there, and no colour.
        texture.colorSpace = NoColorSpace;
        // Small ones are made of several of its pixels.
        texture.generateMipmaps = true;
        texture.minFilter = LinearMipmapLinearFilter;
        got(texture, table);
      },
    );
    return () => {
      close();
      texture?.dispose();
    };
  }

  model(media: string, got: (geometry: BufferGeometry) => void): () => void {
    return this.#need({ kind: 'model', media }, ({ bytes }) => {
      if (bytes)
        void readModel(bytes).then(got, (e: unknown) =>
          this.#trouble(
            `This model cannot be read: ${e instanceof Error ? e.message : String(e)}. Export it as glTF binary (.glb).`,
          ),
        );
    }).close;
  }

  film(media: string, got: GotTexture): Flow {
    return this.#flow({ kind: 'film', media }, got);
  }
  /** @param deviceId - '' for the drawn stand-in */
  camera(deviceId: string, got: GotTexture): Flow {
    if (deviceId === '') return this.#standIn(got);
    // Where it cannot be seen, as on another machine, its stand-in is.
    let flow: Flow = this.#flow({ kind: 'camera', deviceId }, got, () => {
      flow.close();
      flow = this.#standIn(got);
    });
    return { close: () => flow.close(), pace: (...told) => flow.pace(...told) };
  }
  #standIn(got: GotTexture): Flow {
    const canvas = new OffscreenCanvas(384, 216),
      g = canvas.getContext('2d')!,
      texture = new CanvasTexture(canvas as unknown as HTMLCanvasElement);
    texture.colorSpace = SRGBColorSpace;
    texture.generateMipmaps = false;
    texture.minFilter = LinearFilter;
    drawStandIn(g, 0);
    got(texture, canvas.width, canvas.height);
    let drawn = -1;
    return {
      close: () => texture.dispose(),
      // Its frames come 30 times a second, as a camera's do.
      pace: (_, time) => {
        const n = Math.floor(time * 30);
        if (n === drawn) return;
        drawn = n;
        drawStandIn(g, n / 30);
        texture.needsUpdate = true;
      },
    };
  }
  /**
   * Of the frames that come, only the newest is kept, and it is made ready only when a picture is drawn: what nobody draws costs nothing.
   * The stream is read when the window has let it go: read sooner, the browser may take a frame in the window, copy it, and never close the first.
   */
  #flow(need: MediaNeed, got: GotTexture, failed?: () => void): Flow {
    let texture: Texture | null = null,
      newest: VideoFrame | null = null,
      making = false,
      over = false,
      told = 1,
      place = -1,
      toldAt = -Infinity,
      taken: ReadableStream<VideoFrame> | null = null;
    const { id, close } = this.#need(need, ({ frames, flows, why }) => {
      if (why) failed?.();
      if (frames) {
        taken = frames;
        this.#ask({ type: 'taken', id });
      }
      if (flows && taken) void pump(taken).catch(() => undefined);
    });
    const pump = async (frames: ReadableStream<VideoFrame>): Promise<void> => {
      const reader = frames.getReader();
      for (;;) {
        const { value: frame, done } = await reader.read();
        if (done) return;
        if (over) {
          frame.close();
          void reader.cancel();
          return;
        }
        newest?.close();
        newest = frame;
      }
    };
    const make = async (frame: VideoFrame): Promise<void> => {
      try {
        const bitmap = await createImageBitmap(frame, {
          imageOrientation: 'flipY',
          ...(frame.displayWidth > 1280 && { resizeWidth: 1280 }),
        });
        const before = texture?.image as ImageBitmap | undefined;
        if (over) bitmap.close();
        else if (texture && before?.width === bitmap.width && before.height === bitmap.height) {
          texture.image = bitmap;
          texture.needsUpdate = true;
          before.close();
        } else {
          texture?.dispose();
          got((texture = textureOf(bitmap)), bitmap.width, bitmap.height);
        }
      } finally {
        frame.close();
        making = false;
      }
    };
    return {
      close: () => {
        over = true;
        newest?.close();
        newest = null;
        close();
        texture?.dispose();
      },
      pace: (pace, _, film = -1) => {
        if (newest && !making) {
          const frame = newest;
          newest = null;
          making = true;
          void make(frame).catch(() => undefined);
        }
        const p = Math.round(pace * 20) / 20,
          now = performance.now();
        // With its sound it is told where that is a few times a second: where it stands still, it says so by being the same twice.
        if (film >= 0 ? now - toldAt > SOUND_TOLD_MS : p !== told || place >= 0) {
          const moves = film !== place;
          toldAt = now;
          told = p;
          place = film;
          this.#ask({
            type: 'pace',
            id,
            pace: p,
            sound: film < 0 ? null : { at: film, moves, on: performance.timeOrigin + now },
          });
        }
      },
    };
  }
}

/** A glTF file's triangles in one, with its materials' colours, as large as a solid. Its textures are left out: it is printed in inks. */
export async function readModel(bytes: ArrayBuffer): Promise<BufferGeometry> {
  const address = modelAddress(bytes);
  if (address !== null)
    throw new Error(
      `it names something outside itself (${address.slice(0, 60)}), which a show never fetches`,
    );
  const { GLTFLoader } = await import('three/examples/jsm/loaders/GLTFLoader.js');
  const { scene } = await new GLTFLoader().parseAsync(bytes, '');
  scene.updateMatrixWorld(true);
  const position: number[] = [],
    colour: number[] = [];
  scene.traverse((o) => {
    if (!(o as Mesh).isMesh) return;
    const mesh = o as Mesh,
      g = mesh.geometry.index ? mesh.geometry.toNonIndexed() : mesh.geometry.clone();
    g.applyMatrix4(mesh.matrixWorld);
    const p = g.attributes.position!,
      materials = Array.isArray(mesh.material) ? mesh.material : [mesh.material],
      ink = (materials[0] as MeshStandardMaterial | undefined)?.color as Color | undefined;
    for (let i = 0; i < p.count; i++) {
      position.push(p.getX(i), p.getY(i), p.getZ(i));
      colour.push(ink?.r ?? 1, ink?.g ?? 1, ink?.b ?? 1);
    }
  });
  if (position.length === 0) throw new Error('it has no surfaces');
  if (position.length > 3 * 600_000) throw new Error('it has more than 200,000 triangles; reduce it first');
  const g = new BufferGeometry();
  g.setAttribute('position', new Float32BufferAttribute(position, 3));
  g.setAttribute('color', new Float32BufferAttribute(colour, 3));
  g.computeBoundingBox();
  const { min, max } = g.boundingBox!,
    scale = SOLID_EDGE / Math.max(1e-6, max.x - min.x, max.y - min.y, max.z - min.z);
  g.translate(-(min.x + max.x) / 2, -(min.y + max.y) / 2, -(min.z + max.z) / 2);
  g.scale(scale, scale, scale);
  return g;
}
