import { type Anchor, anchorPlace } from './anchors';

/** Where a way or a count that the conductor sums starts over. */
export const SUM_WRAP = 1048576;
/** A solid's edge at rest, in picture pixels. */
export const SOLID_EDGE = 220;
export const TEXT_HEIGHT = 72;
export const PLATE_WIDTH = 480,
  PLATE_HEIGHT = 270;

export const SOLID_SHAPES = ['box', 'ball', 'cone', 'tube', 'ring', 'disc', 'plate'] as const;
export type SolidShape = (typeof SOLID_SHAPES)[number];
export const SOLID_LOOKS = ['filled', 'outlined', 'wire'] as const;
export type SolidLook = (typeof SOLID_LOOKS)[number];
export const COPY_SHAPES = ['block', 'disc', 'triangle', 'star', 'drop', 'lantern', 'bird'] as const;
export type CopyShape = (typeof COPY_SHAPES)[number];
export const COPY_WAYS = ['line', 'ring', 'grid', 'points'] as const;
export type CopyWay = (typeof COPY_WAYS)[number];
export const COPIES_MOST = 2000;
export const PARTICLES_MOST = 100000;
export const TEXTURE_PATTERNS = ['noise', 'ramp', 'round ramp'] as const;
export type TexturePattern = (typeof TEXTURE_PATTERNS)[number];
export const TEXT_FACES = ['heading', 'plain', 'numbers'] as const;
export type TextFace = (typeof TEXT_FACES)[number];

/** What can be laid over the whole of a picture that is brought along. */
interface Brought {
  /** Its width to its height, once that is known. */
  readonly aspect?: number;
  readonly flipX: boolean;
  readonly flipY: boolean;
}
export type DrawnForm =
  | {
      readonly kind: 'solid';
      readonly shape: SolidShape;
      readonly look: SolidLook;
      readonly anchor: Anchor;
    }
  | {
      readonly kind: 'model';
      readonly media: string | null;
      readonly fileName: string;
      readonly look: SolidLook;
      readonly anchor: Anchor;
    }
  | {
      readonly kind: 'copies';
      readonly shape: CopyShape;
      readonly count: number;
      readonly along: CopyWay;
      /** The figure on whose points they stand. */ readonly of: string | null;
      /** A row is laid from the middle to both ends. */ readonly fromMiddle: boolean;
    }
  | { readonly kind: 'light' }
  | {
      readonly kind: 'emitter';
      readonly shape: CopyShape | 'picture';
      readonly media: string | null;
      readonly fileName: string;
      readonly most: number;
    }
  | { readonly kind: 'trace' }
  | {
      readonly kind: 'bars';
      readonly count: number;
      /** Grows both ways from its middle. */ readonly bothWays: boolean;
    }
  | { readonly kind: 'waveform'; readonly round: boolean }
  | { readonly kind: 'spectrogram'; readonly seconds: number }
  | ({ readonly kind: 'image'; readonly media: string | null; readonly fileName: string } & Brought)
  | ({ readonly kind: 'video'; readonly media: string | null; readonly fileName: string } & Brought)
  /** With no device: the drawn stand-in. */
  | ({ readonly kind: 'camera'; readonly deviceId: string; readonly deviceName: string } & Brought)
  | {
      readonly kind: 'texture';
      readonly pattern: TexturePattern;
      /** Covers the whole picture. */ readonly whole: boolean;
    }
  | { readonly kind: 'text'; readonly text: string; readonly face: TextFace }
  | { readonly kind: 'switch'; /** The figures of which one shows. */ readonly of: readonly string[] };

/** Width and height at rest, in picture pixels, and the anchor in that box. */
export function drawnBox(
  form: DrawnForm,
  whole: { readonly width: number; readonly height: number },
): { width: number; height: number; anchorX: number; anchorY: number } {
  const middle = { anchorX: 0.5, anchorY: 0.5 };
  switch (form.kind) {
    case 'solid':
    case 'model':
      return {
        width: SOLID_EDGE * 1.3,
        height: SOLID_EDGE * 1.15,
        anchorX: anchorPlace(form.anchor)[0],
        anchorY: anchorPlace(form.anchor)[1],
      };
    case 'copies':
      return form.along === 'line'
        ? { width: 760, height: 60, ...middle }
        : form.along === 'ring'
          ? { width: 800, height: 800, ...middle }
          : { width: 780, height: 460, ...middle };
    case 'light':
      return { width: 160, height: 160, ...middle };
    case 'emitter':
      return { width: 120, height: 160, anchorX: 0.5, anchorY: 0.1 };
    case 'trace':
      return { width: 600, height: 320, anchorX: 1, anchorY: 0.5 };
    case 'bars':
      return { width: 640, height: 240, anchorX: 0.5, anchorY: form.bothWays ? 0.5 : 0 };
    case 'waveform':
      return form.round ? { width: 760, height: 760, ...middle } : { width: 760, height: 160, ...middle };
    case 'spectrogram':
      return { width: PLATE_WIDTH, height: PLATE_HEIGHT, anchorX: 0, anchorY: 0 };
    case 'image':
    case 'video':
    case 'camera':
      return {
        width: PLATE_WIDTH,
        height: form.aspect ? PLATE_WIDTH / form.aspect : PLATE_HEIGHT,
        ...middle,
      };
    case 'texture':
      return form.whole ? { ...whole, ...middle } : { width: PLATE_WIDTH, height: PLATE_HEIGHT, ...middle };
    case 'text': {
      const lines = form.text.split('\n');
      return {
        width: Math.max(60, Math.max(...lines.map((l) => l.length)) * TEXT_HEIGHT * 0.5),
        height: TEXT_HEIGHT * Math.max(1, lines.length),
        ...middle,
      };
    }
    case 'switch':
      return { width: 60, height: 60, ...middle };
  }
}
