import type { PackedFrames } from './frames';
import { colourParameter, numberParameter, type ParameterDescription } from '../parameters/description';

/** What a laser draws: its fixed settings. */
export type LaserForm =
  | { readonly kind: 'ring' }
  /** @see addPolygon */
  | { readonly kind: 'polygon'; readonly corners: number; readonly star: boolean }
  /** A line that a row bends; straight without one. */
  | { readonly kind: 'wave'; readonly points: number }
  | { readonly kind: 'fan'; readonly beams: number }
  | { readonly kind: 'grid'; readonly across: number; readonly up: number }
  | { readonly kind: 'tunnel'; readonly rings: number }
  | { readonly kind: 'text'; readonly text: string }
  /** Strokes of a drawing, as {@link readDrawing} gives them. */
  | {
      readonly kind: 'drawing';
      readonly strokes: readonly (readonly number[])[];
      readonly fileName: string;
    }
  /** Dots round a ring, each a small loop, so that none stands still. */
  | { readonly kind: 'points'; readonly count: number }
  /** Frames of a file, as {@link packFrames} gives them. */
  | { readonly kind: 'frames'; readonly frames: PackedFrames; readonly fileName: string }
  /** What a figure of the picture is cut along, where that stands. */
  | { readonly kind: 'figure'; readonly of: string };
export const LASER_LABELS: Readonly<Record<LaserForm['kind'], string>> = {
  ring: 'ring',
  polygon: 'polygon or star',
  wave: 'line or wave',
  fan: 'fan of beams',
  grid: 'grid',
  tunnel: 'tunnel',
  text: 'text',
  drawing: 'drawing',
  points: 'points',
  frames: 'frames of a file',
  figure: 'figure of the picture',
};
/** How many of its parts a form may have. */
export const LASER_COUNTS = {
  corners: [3, 12],
  points: [2, 128],
  beams: [1, 24],
  lines: [0, 12],
  rings: [1, 8],
  dots: [1, 48],
} as const;
export const LASER_TEXT_MOST = 40;

/** Places of what one figure is to do, in an array of doubles. Nothing here allocates. */
export const enum Do {
  /** Of the field's half, 0 to 1 and more. */
  Size,
  Across,
  Height,
  /** Degrees. */
  Turn,
  Lean,
  Swing,
  /** 0 to 1. */
  Bright,
  Red,
  Green,
  Blue,
  FarRed,
  FarGreen,
  FarBlue,
  /** How much of it is drawn, from its beginning: 0 to 1. */
  Drawn,
  /** How much of each stretch of a tenth is lit: 0 to 1. */
  Dashes,
  /** How far a row bends it, of its size. */
  Rise,
  Copies,
  /** Between two copies. */
  Apart,
  /** How thick dots and beams are: 0 to 1. */
  Thick,
  /** How far its colour has run over to the far one beside what its way says: 0 to 1. */
  Run,
  /** Copies stand round rather than side by side: 0 to 1. */
  Round,
  Speed,
  /** What its speed has brought: frames, or tenths of its way. */
  Phase,
  /** 1, or −1 for a twin that is mirrored. */
  Mirror,
  Length,
}
/** Which of them a parameter is, and what its unit is divided by. */
export const LASER_VALUES: Readonly<Record<string, readonly [Do, number]>> = {
  size: [Do.Size, 100],
  across: [Do.Across, 100],
  height: [Do.Height, 100],
  turn: [Do.Turn, 1],
  lean: [Do.Lean, 1],
  swing: [Do.Swing, 1],
  brightness: [Do.Bright, 100],
  colour: [Do.Red, 1],
  far: [Do.FarRed, 1],
  drawn: [Do.Drawn, 100],
  dashes: [Do.Dashes, 100],
  rise: [Do.Rise, 100],
  copies: [Do.Copies, 1],
  apart: [Do.Apart, 100],
  round: [Do.Round, 100],
  thick: [Do.Thick, 100],
  run: [Do.Run, 100],
  speed: [Do.Speed, 1],
};
/** What a row may be laid on, in the order in which {@link addFigure} takes them. */
export const LASER_ROWS = ['rise', 'brightness', 'run'] as const;

const share = (
  id: string,
  label: string,
  help: string,
  rest: number,
  reach: number,
  more: { readonly min?: number; readonly max?: number; readonly dark?: 0; readonly takesRow?: true } = {},
): ParameterDescription =>
  numberParameter({
    id,
    label,
    help,
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest,
    reach,
    attackMs: 20,
    releaseMs: 200,
    ...more,
  });
const angle = (id: string, label: string, help: string): ParameterDescription =>
  numberParameter({
    id,
    label,
    help,
    unit: '°',
    min: -180,
    max: 180,
    step: 1,
    rest: 0,
    reach: 45,
    attackMs: 60,
    releaseMs: 300,
  });

const PARAMETERS: readonly ParameterDescription[] = [
  share('size', 'size', 'How large it is; 100 fills the field.', 40, 60),
  share('across', 'across', 'Where its middle stands, from left to right.', 0, 50, { min: -100 }),
  share('height', 'height', 'Where its middle stands, from below to above.', 30, 60, { min: -100 }),
  angle('turn', 'turn', 'How far it is turned in the picture.'),
  angle('lean', 'lean', 'How far it leans back, as if it stood in the room.'),
  angle('swing', 'swing', 'How far it is swung round, as if it hung in the room.'),
  share('brightness', 'brightness', 'How bright it is. What the house allows is less.', 100, 100, {
    dark: 0,
    takesRow: true,
  }),
  colourParameter({
    id: 'colour',
    label: 'colour',
    help: 'The colour at its beginning.',
    rest: '#6df0b0',
    reach: '#f0b53c',
  }),
  colourParameter({
    id: 'far',
    label: 'far colour',
    help: 'The colour at its end; between them it runs over.',
    rest: '#6df0b0',
    reach: '#e8572a',
  }),
  share(
    'run',
    'far share',
    'How far its colour has run over to the far one. A row gives each part its own.',
    0,
    100,
    { takesRow: true },
  ),
  share('drawn', 'drawn', 'How much of it is drawn, from its beginning on.', 100, 0),
  share('dashes', 'dashes', 'How much of each tenth of it is lit; at 100 it is whole.', 100, 40),
  share(
    'rise',
    'rise',
    'How far it is bent outwards. A row of bands or a waveform laid on it bends each part by its own.',
    0,
    30,
    { min: -100, takesRow: true },
  ),
  numberParameter({
    id: 'copies',
    label: 'copies',
    help: 'How many of it stand side by side.',
    unit: '',
    min: 1,
    max: 12,
    step: 1,
    rest: 1,
    reach: 5,
  }),
  share('apart', 'apart', 'How far its copies are from each other.', 40, 80, { max: 200 }),
  share('round', 'round', 'Its copies stand side by side at 0, and round a ring at 100.', 0, 100),
  share('thick', 'thick', 'How thick its dots and beams are.', 40, 100),
  numberParameter({
    id: 'speed',
    label: 'speed',
    help: 'How quickly dashes run along it, in tenths a second; of a file, its frames a second.',
    unit: '/s',
    min: -60,
    max: 60,
    step: 0.1,
    rest: 0,
    reach: 10,
    attackMs: 60,
    releaseMs: 300,
  }),
];
/** What of a figure of a laser can be moved: all of them alike. */
export const laserParameters = (): readonly ParameterDescription[] => PARAMETERS;
