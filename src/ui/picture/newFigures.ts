import { type FigureForm, PICTURE_HEIGHT, PICTURE_WIDTH } from '../../core/figures';

/** What can be added, in words of what it shows, and where it first stands. */
export interface NewFigure {
  readonly name: string;
  readonly form: FigureForm;
  readonly at: { readonly x: number; readonly y: number };
  readonly help: string;
}
const middle = { x: 640, y: 360 };
const flips = { flipX: false, flipY: false };
const EDGE = {
  kind: 'edge',
  width: PICTURE_WIDTH,
  height: PICTURE_HEIGHT,
  corner: 0,
  drawing: [],
  way: 'inward',
  cuts: false,
  line: false,
} as const;
const LETTERS = { kind: 'letters', of: null, face: 'heading', align: 'middle', outline: 4 } as const;

export const NEW_FIGURES: readonly { readonly title: string; readonly all: readonly NewFigure[] }[] = [
  {
    title: 'Bodies and many',
    all: [
      {
        name: 'Solid',
        form: { kind: 'solid', shape: 'box', look: 'outlined', anchor: 'foot' },
        at: { x: 640, y: 230 },
        help: 'Grows from its foot, turns, is pushed about by noise.',
      },
      {
        name: 'Wire',
        form: { kind: 'solid', shape: 'ball', look: 'wire', anchor: 'middle' },
        at: middle,
        help: 'A body of lines.',
      },
      {
        name: 'Model',
        form: { kind: 'model', media: null, fileName: '', look: 'outlined', anchor: 'foot' },
        at: { x: 640, y: 230 },
        help: 'A glTF file of your own.',
      },
      {
        name: 'Row of copies',
        form: { kind: 'copies', shape: 'block', count: 64, along: 'line', of: null, fromMiddle: false },
        at: middle,
        help: 'Many of one shape; lay a spectrum over them.',
      },
      {
        name: 'Ring of copies',
        form: { kind: 'copies', shape: 'lantern', count: 48, along: 'ring', of: null, fromMiddle: true },
        at: middle,
        help: 'The same, in a ring.',
      },
      {
        name: 'Grid of copies',
        form: { kind: 'copies', shape: 'disc', count: 384, along: 'grid', of: null, fromMiddle: false },
        at: middle,
        help: 'The same, in lines and columns.',
      },
      {
        name: 'Light',
        form: { kind: 'light' },
        at: { x: 640, y: 420 },
        help: 'Lights what lies beneath it.',
      },
      {
        name: 'Emitter',
        form: { kind: 'emitter', shape: 'drop', media: null, fileName: '', most: 8000 },
        at: { x: 640, y: 160 },
        help: 'Gives off particles, and bursts at hits.',
      },
    ],
  },
  {
    title: 'Instruments',
    all: [
      { name: 'Dial', form: { kind: 'dial', marks: 11 }, at: middle, help: 'A needle over a face.' },
      {
        name: 'Meter',
        form: { kind: 'meter', segments: 12, upright: true },
        at: { x: 640, y: 180 },
        help: 'Segments that light whole.',
      },
      {
        name: 'Meter lying',
        form: { kind: 'meter', segments: 20, upright: false },
        at: { x: 380, y: 120 },
        help: 'The same, lying.',
      },
      {
        name: 'Bars',
        form: { kind: 'bars', count: 24, bothWays: false },
        at: { x: 640, y: 220 },
        help: 'A bar for each point of a row.',
      },
      {
        name: 'Waveform',
        form: { kind: 'waveform', round: false },
        at: middle,
        help: 'A line through a row.',
      },
      {
        name: 'Round wave',
        form: { kind: 'waveform', round: true },
        at: middle,
        help: 'The same, closed to a ring.',
      },
      {
        name: 'Spectrogram',
        form: { kind: 'spectrogram', seconds: 8 },
        at: { x: 400, y: 220 },
        help: 'A row over the last seconds.',
      },
      {
        name: 'Trace',
        form: { kind: 'trace' },
        at: { x: 1000, y: 360 },
        help: 'A pen over moving paper, without gaps.',
      },
    ],
  },
  {
    title: 'Frames and letters',
    all: [
      {
        name: 'Edge',
        form: { ...EDGE, outline: 'rectangle', bulge: 'middle', line: true },
        at: middle,
        help: 'A frame whose border swells with the sound, the same on both sides.',
      },
      {
        name: 'Round edge',
        form: { ...EDGE, outline: 'round', width: 420, height: 420, bulge: 'even', way: 'both' },
        at: middle,
        help: 'The same, round; lay a waveform or a spectrum along it.',
      },
      {
        name: 'Drawn edge',
        form: { ...EDGE, outline: 'drawing', width: 480, height: 480, bulge: 'even', way: 'both' },
        at: middle,
        help: 'The same, along an outline of your own.',
      },
      {
        name: 'Letters',
        form: { ...LETTERS, text: 'Letters', wide: 0 },
        at: middle,
        help: 'Words whose letters move one by one.',
      },
      {
        name: 'Caption',
        form: {
          ...LETTERS,
          text: 'What is said, in lines that are broken where they are too long',
          wide: 760,
        },
        at: { x: 640, y: 90 },
        help: 'Letters that wrap, outlined for any background.',
      },
    ],
  },
  {
    title: 'Brought along, and surfaces',
    all: [
      {
        name: 'Image',
        form: { kind: 'image', media: null, fileName: '', ...flips },
        at: middle,
        help: 'PNG, JPEG, WebP, GIF or SVG.',
      },
      {
        name: 'Video',
        form: { kind: 'video', media: null, fileName: '', ...flips },
        at: middle,
        help: 'Plays on while this window is hidden.',
      },
      {
        name: 'Camera',
        form: { kind: 'camera', deviceId: '', deviceName: '', ...flips },
        at: middle,
        help: 'A camera, or the drawn stand-in.',
      },
      {
        name: 'Text',
        form: { kind: 'text', text: 'Night Ferry', face: 'heading' },
        at: middle,
        help: 'Words; one line after the other if you like.',
      },
      {
        name: 'Noise',
        form: { kind: 'texture', pattern: 'noise', whole: true },
        at: middle,
        help: 'Drifting patches of two inks.',
      },
      {
        name: 'Ramp',
        form: { kind: 'texture', pattern: 'ramp', whole: false },
        at: middle,
        help: 'From one ink to the other.',
      },
      {
        name: 'Rings',
        form: { kind: 'texture', pattern: 'round ramp', whole: false },
        at: middle,
        help: 'The same, round.',
      },
      {
        name: 'Switch',
        form: { kind: 'switch', of: [] },
        at: { x: 60, y: 60 },
        help: 'Shows one of several figures, another at each hit.',
      },
    ],
  },
  {
    title: 'Prints of the crossing',
    all: [
      {
        name: 'Block',
        form: { kind: 'print', form: 'block' },
        at: { x: 640, y: 300 },
        help: 'A plain block.',
      },
      {
        name: 'Triangle',
        form: { kind: 'print', form: 'triangle' },
        at: { x: 640, y: 300 },
        help: 'A plain triangle.',
      },
      { name: 'Moon', form: { kind: 'print', form: 'moon' }, at: { x: 320, y: 540 }, help: 'Its rays glow.' },
      {
        name: 'Ferry',
        form: { kind: 'print', form: 'ferry' },
        at: { x: 640, y: 150 },
        help: 'With a band on deck.',
      },
      { name: 'Sail', form: { kind: 'print', form: 'sail' }, at: { x: 520, y: 200 }, help: 'It fills.' },
      {
        name: 'Hills',
        form: { kind: 'print', form: 'hills' },
        at: { x: 640, y: 250 },
        help: 'The far bank.',
      },
      {
        name: 'Waves',
        form: { kind: 'waves', rows: 3 },
        at: { x: 0, y: 60 },
        help: 'Water that swells and drifts.',
      },
      {
        name: 'Lanterns',
        form: { kind: 'lanterns', count: 8, width: 700 },
        at: { x: 640, y: 420 },
        help: 'A row that sways and glows.',
      },
      { name: 'Stars', form: { kind: 'stars', count: 24 }, at: { x: 0, y: 360 }, help: 'Cut stars.' },
      { name: 'Ground', form: { kind: 'ground' }, at: { x: 0, y: 0 }, help: 'The paper behind everything.' },
    ],
  },
];
