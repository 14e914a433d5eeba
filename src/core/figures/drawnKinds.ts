import { numberParameter as n, type ParameterDescription } from '../parameters/description';
import { type Anchor, anchorPlace } from './anchors';
import { ink, moves, shown, sized, stance, stretched, turned, type KindDescription } from './common';

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

const displaced = (): ParameterDescription[] => [
  n({
    id: 'rough',
    label: 'rough',
    help: 'How far noise pushes its surface in and out.',
    unit: 'px',
    min: 0,
    max: 300,
    step: 1,
    rest: 0,
    reach: 60,
    releaseMs: 240,
  }),
  n({
    id: 'roughSize',
    label: 'rough size',
    help: 'Size of the bumps.',
    unit: 'px',
    min: 8,
    max: 800,
    step: 1,
    rest: 90,
    reach: 50,
  }),
  n({
    id: 'roughDrift',
    label: 'rough drift',
    help: 'How fast the bumps change.',
    unit: '×',
    min: -8,
    max: 8,
    step: 0.05,
    rest: 0.4,
    reach: 2,
    wrap: SUM_WRAP,
  }),
  n({
    id: 'areaAt',
    label: 'soft area at',
    help: 'How high the middle of the soft area lies, from its foot to its top. Noise acts there alone.',
    unit: '%',
    min: -50,
    max: 150,
    step: 1,
    rest: 50,
    reach: 100,
  }),
  n({
    id: 'area',
    label: 'soft area',
    help: 'How far the soft area reaches; at 200 noise acts everywhere.',
    unit: '%',
    min: 0,
    max: 200,
    step: 1,
    rest: 200,
    reach: 60,
  }),
];
const solid = (): ParameterDescription[] => [
  ...moves(24, 40),
  sized('Scales it about its anchor.', 6, 1.12),
  ...stretched(),
  n({
    id: 'deep',
    label: 'deep',
    help: 'Stretches it towards you.',
    unit: '×',
    min: 0,
    max: 8,
    step: 0.01,
    rest: 1,
    reach: 1.5,
  }),
  turned('Turns it in the plane of the picture.'),
  n({
    id: 'lean',
    label: 'lean',
    help: 'Tips it towards you.',
    unit: '°',
    min: -360,
    max: 360,
    step: 0.5,
    rest: 18,
    reach: 60,
  }),
  n({
    id: 'swing',
    label: 'swing',
    help: 'Turns it about its upright axis.',
    unit: '°',
    min: -360,
    max: 360,
    step: 0.5,
    rest: 28,
    reach: 120,
  }),
  n({
    id: 'spin',
    label: 'spin',
    help: 'How fast it goes on turning about its upright axis.',
    unit: '°/s',
    min: -1440,
    max: 1440,
    step: 1,
    rest: 0,
    reach: 180,
    wrap: 360,
  }),
  ...displaced(),
  n({
    id: 'line',
    label: 'line',
    help: 'How thick its lines are.',
    unit: 'px',
    min: 0,
    max: 24,
    step: 0.5,
    rest: 2.5,
    reach: 7,
  }),
  n({
    id: 'bright',
    label: 'brightness',
    help: 'How bright it is.',
    unit: '%',
    min: 0,
    max: 300,
    step: 1,
    rest: 100,
    reach: 200,
  }),
  shown(),
  ink('The colour of its faces.', '#e8572a', '#f0b53c'),
  ink('The colour of its lines.', '#f2e9d4', '#f0b53c', 'lineInk', 'line ink'),
];
const brought = (): ParameterDescription[] => [
  ...stance(),
  ...stretched(),
  n({
    id: 'bright',
    label: 'brightness',
    help: 'Below 100 it darkens, above it lightens.',
    unit: '%',
    min: 0,
    max: 400,
    step: 1,
    rest: 100,
    reach: 160,
  }),
  n({
    id: 'contrast',
    label: 'contrast',
    help: 'Spreads light and shade apart, or draws them together.',
    unit: '%',
    min: 0,
    max: 400,
    step: 1,
    rest: 100,
    reach: 180,
  }),
  n({
    id: 'colour',
    label: 'saturation',
    help: 'At 0 it is grey.',
    unit: '%',
    min: 0,
    max: 400,
    step: 1,
    rest: 100,
    reach: 0,
  }),
  n({
    id: 'shift',
    label: 'sideways shift',
    help: 'Shifts it sideways, line by line when a row is laid over it.',
    unit: 'px',
    min: -640,
    max: 640,
    step: 1,
    rest: 0,
    reach: 80,
    takesRow: true,
  }),
];

export const DRAWN_KINDS: Readonly<Record<DrawnForm['kind'], KindDescription>> = {
  solid: { label: 'solid', parameters: solid() },
  model: { label: 'model', parameters: solid() },
  copies: {
    label: 'copies',
    parameters: [
      ...stance('Scales the whole about its anchor.'),
      n({
        id: 'length',
        label: 'length',
        help: 'How long the line is, or how wide the ring or the grid.',
        unit: 'px',
        min: 0,
        max: 4000,
        step: 1,
        rest: 760,
        reach: 900,
      }),
      n({
        id: 'each',
        label: 'each',
        help: 'Size of each copy.',
        unit: '×',
        min: 0,
        max: 12,
        step: 0.01,
        rest: 1,
        reach: 2,
        takesRow: true,
      }),
      n({
        id: 'stretch',
        label: 'stretch',
        help: 'Stretches each copy away from the line.',
        unit: '×',
        min: 0,
        max: 40,
        step: 0.01,
        rest: 1,
        reach: 6,
        takesRow: true,
      }),
      n({
        id: 'rise',
        label: 'rise',
        help: 'Lifts each copy off the line, outward on a ring.',
        unit: 'px',
        min: -720,
        max: 720,
        step: 1,
        rest: 0,
        reach: 140,
        takesRow: true,
      }),
      n({
        id: 'twist',
        label: 'twist',
        help: 'Turns each copy about itself.',
        unit: '°',
        min: -720,
        max: 720,
        step: 1,
        rest: 0,
        reach: 90,
        takesRow: true,
      }),
      n({
        id: 'tint',
        label: 'tint',
        help: 'How far each copy goes from the first ink to the last.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 100,
        takesRow: true,
      }),
      n({
        id: 'part',
        label: 'part',
        help: 'How many of them are there.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 100,
        reach: 0,
      }),
      ink('The first ink.', '#6db5a9', '#f0b53c', 'ink', 'first ink'),
      ink('The last ink.', '#e8572a', '#f2e9d4', 'top', 'last ink'),
    ],
  },
  light: {
    label: 'light',
    parameters: [
      ...moves(40, 80),
      n({
        id: 'bright',
        label: 'brightness',
        help: 'How strongly it lights what lies beneath it, and the solids around it.',
        unit: '%',
        min: 0,
        max: 400,
        step: 1,
        rest: 60,
        reach: 240,
        attackMs: 2,
        releaseMs: 240,
      }),
      n({
        id: 'reach',
        label: 'reach',
        help: 'How far its light goes.',
        unit: 'px',
        min: 10,
        max: 1600,
        step: 5,
        rest: 300,
        reach: 500,
      }),
      n({
        id: 'halo',
        label: 'halo',
        help: 'How much of it hangs in the air.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 20,
        reach: 60,
      }),
      ink('The colour of its light.', '#f0b53c', '#f2e9d4'),
    ],
  },
  emitter: {
    label: 'emitter',
    parameters: [
      ...moves(60, 120),
      n({
        id: 'rate',
        label: 'rate',
        help: 'How many it gives off.',
        unit: '/s',
        min: 0,
        max: 50000,
        step: 10,
        rest: 40,
        reach: 600,
        wrap: SUM_WRAP,
      }),
      n({
        id: 'burst',
        label: 'burst',
        help: 'How many more at each hit. Takes hits, not levels.',
        unit: '',
        min: 0,
        max: 20000,
        step: 10,
        rest: 0,
        reach: 120,
        takesEvents: true,
        wrap: SUM_WRAP,
      }),
      n({
        id: 'speed',
        label: 'speed',
        help: 'How fast they leave.',
        unit: 'px/s',
        min: 0,
        max: 4000,
        step: 5,
        rest: 220,
        reach: 520,
      }),
      n({
        id: 'way',
        label: 'direction',
        help: 'Where they go: 0 to the right, 90 upward.',
        unit: '°',
        min: -360,
        max: 360,
        step: 1,
        rest: 90,
        reach: 60,
      }),
      n({
        id: 'spread',
        label: 'spread',
        help: 'How wide they fan out; 360 goes everywhere.',
        unit: '°',
        min: 0,
        max: 360,
        step: 1,
        rest: 40,
        reach: 120,
      }),
      n({
        id: 'mouth',
        label: 'mouth',
        help: 'How wide the opening is that they come from.',
        unit: 'px',
        min: 0,
        max: 1600,
        step: 1,
        rest: 10,
        reach: 200,
      }),
      n({
        id: 'fall',
        label: 'force up',
        help: 'Draws them upward; negative lets them fall.',
        unit: 'px/s²',
        min: -4000,
        max: 4000,
        step: 5,
        rest: -260,
        reach: -600,
      }),
      n({
        id: 'wind',
        label: 'force across',
        help: 'Draws them to the right; negative to the left.',
        unit: 'px/s²',
        min: -4000,
        max: 4000,
        step: 5,
        rest: 0,
        reach: 300,
      }),
      n({
        id: 'stir',
        label: 'turbulence',
        help: 'How far eddies carry them off their way.',
        unit: 'px',
        min: 0,
        max: 600,
        step: 1,
        rest: 12,
        reach: 120,
      }),
      n({
        id: 'life',
        label: 'life',
        help: 'How long each lasts.',
        unit: 's',
        min: 0.05,
        max: 20,
        step: 0.05,
        rest: 1.6,
        reach: 3,
      }),
      n({
        id: 'each',
        label: 'each',
        help: 'Size of each as it leaves.',
        unit: '×',
        min: 0,
        max: 12,
        step: 0.01,
        rest: 0.5,
        reach: 1,
      }),
      n({
        id: 'end',
        label: 'end size',
        help: 'Size of each as it ends, against its first.',
        unit: '×',
        min: 0,
        max: 6,
        step: 0.01,
        rest: 0.2,
        reach: 1,
      }),
      n({
        id: 'tumble',
        label: 'tumble',
        help: 'How fast each turns about itself.',
        unit: '°/s',
        min: -1440,
        max: 1440,
        step: 5,
        rest: 60,
        reach: 360,
      }),
      shown(),
      ink('Their colour as they leave.', '#f2e9d4', '#f0b53c', 'ink', 'first ink'),
      ink('Their colour as they end.', '#6db5a9', '#e8572a', 'top', 'last ink'),
    ],
  },
  trace: {
    label: 'trace',
    parameters: [
      ...moves(0, 0),
      n({
        id: 'penX',
        label: 'pen across',
        help: 'Where the pen stands, from its middle.',
        unit: 'px',
        min: -1280,
        max: 1280,
        step: 1,
        rest: 0,
        reach: 200,
        attackMs: 0,
        releaseMs: 20,
      }),
      n({
        id: 'penY',
        label: 'pen up',
        help: 'How high the pen stands, from its middle.',
        unit: 'px',
        min: -720,
        max: 720,
        step: 1,
        rest: 0,
        reach: 160,
        attackMs: 0,
        releaseMs: 20,
      }),
      n({
        id: 'run',
        label: 'paper',
        help: 'How fast the paper is drawn away beneath the pen, to the left.',
        unit: 'px/s',
        min: -4000,
        max: 4000,
        step: 5,
        rest: 180,
        reach: 400,
        wrap: SUM_WRAP,
      }),
      n({
        id: 'thick',
        label: 'thick',
        help: 'How thick the pen is.',
        unit: 'px',
        min: 0.5,
        max: 80,
        step: 0.5,
        rest: 5,
        reach: 14,
      }),
      n({
        id: 'last',
        label: 'last',
        help: 'How long what it drew stays.',
        unit: 's',
        min: 0.1,
        max: 30,
        step: 0.1,
        rest: 5,
        reach: 8,
      }),
      n({
        id: 'taper',
        label: 'taper',
        help: 'How thin it is at its end.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 100,
      }),
      shown(),
      ink('The colour at the pen.', '#f0b53c', '#f2e9d4', 'ink', 'first ink'),
      ink('The colour at its end.', '#6db5a9', '#12212c', 'top', 'last ink'),
    ],
  },
  bars: {
    label: 'bars',
    parameters: [
      ...stance('Scales the whole about its foot.'),
      n({
        id: 'length',
        label: 'length',
        help: 'How wide they stand altogether.',
        unit: 'px',
        min: 10,
        max: 4000,
        step: 1,
        rest: 640,
        reach: 900,
      }),
      n({
        id: 'tall',
        label: 'tall',
        help: 'How high a full bar is.',
        unit: 'px',
        min: 1,
        max: 1440,
        step: 1,
        rest: 240,
        reach: 400,
      }),
      n({
        id: 'gap',
        label: 'gap',
        help: 'How much of each place is left free.',
        unit: '%',
        min: 0,
        max: 95,
        step: 1,
        rest: 26,
        reach: 60,
      }),
      n({
        id: 'level',
        label: 'level',
        help: 'How high each bar is. A row gives each its own.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 2,
        reach: 100,
        attackMs: 4,
        releaseMs: 200,
        takesRow: true,
      }),
      ink('The colour at the foot.', '#6db5a9', '#f0b53c', 'ink', 'first ink'),
      ink('The colour of a full bar’s top.', '#e8572a', '#f2e9d4', 'top', 'last ink'),
    ],
  },
  waveform: {
    label: 'waveform',
    parameters: [
      ...stance('Scales the whole about its middle.'),
      n({
        id: 'length',
        label: 'length',
        help: 'How long the line is, or how wide the ring.',
        unit: 'px',
        min: 10,
        max: 4000,
        step: 1,
        rest: 760,
        reach: 900,
      }),
      n({
        id: 'line',
        label: 'line',
        help: 'How thick the line is.',
        unit: 'px',
        min: 0.5,
        max: 60,
        step: 0.5,
        rest: 5,
        reach: 12,
      }),
      n({
        id: 'level',
        label: 'swing',
        help: 'How far each point is from the line. A row gives each its own.',
        unit: 'px',
        min: -720,
        max: 720,
        step: 1,
        rest: 0,
        reach: 150,
        attackMs: 0,
        releaseMs: 40,
        takesRow: true,
      }),
      ink('The colour of the line.', '#f2e9d4', '#f0b53c'),
    ],
  },
  spectrogram: {
    label: 'spectrogram',
    parameters: [
      ...stance('Scales the whole about its lower left corner.'),
      n({
        id: 'level',
        label: 'level',
        help: 'How much ink each point takes. A row gives each its own, low ones at the foot.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 100,
        attackMs: 0,
        releaseMs: 60,
        takesRow: true,
      }),
      n({
        id: 'inks',
        label: 'steps',
        help: 'Into how many flat steps it is cut; at 0 it runs smoothly.',
        unit: '',
        min: 0,
        max: 16,
        step: 1,
        rest: 6,
        reach: 3,
      }),
      ink('The colour of nothing.', '#12212c', '#1d3340', 'ground', 'ground'),
      ink('The colour of half.', '#6db5a9', '#f0b53c', 'ink', 'middle ink'),
      ink('The colour of all.', '#f2e9d4', '#e8572a', 'top', 'last ink'),
    ],
  },
  image: { label: 'image', parameters: brought() },
  video: {
    label: 'video',
    parameters: [
      ...brought(),
      n({
        id: 'pace',
        label: 'pace',
        help: 'How fast it plays. A film whose sound is an input goes with that, whatever this says.',
        unit: '×',
        min: 0,
        max: 4,
        step: 0.05,
        rest: 1,
        reach: 2,
        film: true,
      }),
    ],
  },
  camera: { label: 'camera picture', parameters: brought() },
  texture: {
    label: 'texture',
    parameters: [
      ...stance(),
      n({
        id: 'scale',
        label: 'scale',
        help: 'Size of its pattern.',
        unit: 'px',
        min: 4,
        max: 4000,
        step: 1,
        rest: 180,
        reach: 80,
      }),
      n({
        id: 'drift',
        label: 'drift',
        help: 'How fast it changes.',
        unit: '×',
        min: -8,
        max: 8,
        step: 0.05,
        rest: 0.2,
        reach: 1.5,
        wrap: SUM_WRAP,
      }),
      n({
        id: 'middle',
        label: 'middle',
        help: 'Where it goes from one ink to the other.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 50,
        reach: 30,
      }),
      n({
        id: 'contrast',
        label: 'contrast',
        help: 'How hard the edge between the inks is.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 70,
        reach: 100,
      }),
      n({
        id: 'inks',
        label: 'steps',
        help: 'Into how many flat steps it is cut; at 0 it runs smoothly.',
        unit: '',
        min: 0,
        max: 16,
        step: 1,
        rest: 0,
        reach: 4,
      }),
      ink('The first ink.', '#12212c', '#1d3340', 'ink', 'first ink'),
      ink('The last ink.', '#6db5a9', '#f0b53c', 'top', 'last ink'),
    ],
  },
  text: {
    label: 'text',
    parameters: [
      ...stance(),
      ...stretched(),
      n({
        id: 'line',
        label: 'line',
        help: 'Which of its lines is shown; 0 shows them all.',
        unit: '',
        min: 0,
        max: 200,
        step: 1,
        rest: 0,
        reach: 1,
      }),
      n({
        id: 'typed',
        label: 'typed',
        help: 'How much of it has been written.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 100,
        reach: 0,
      }),
      ink('The colour of the letters.', '#f2e9d4', '#f0b53c'),
    ],
  },
  switch: {
    label: 'switch',
    parameters: [
      n({
        id: 'which',
        label: 'which',
        help: 'The figure that shows, counted from 1.',
        unit: '',
        min: 1,
        max: 64,
        step: 1,
        rest: 1,
        reach: 2,
        attackMs: 0,
        releaseMs: 0,
      }),
      n({
        id: 'next',
        label: 'next',
        help: 'Goes on to the next figure at each hit. Takes hits, not levels.',
        unit: '',
        min: 0,
        max: 1,
        step: 1,
        rest: 0,
        reach: 1,
        takesEvents: true,
        wrap: SUM_WRAP,
      }),
    ],
  },
};

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
