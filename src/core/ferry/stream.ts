import { newEdgeForm } from '../show/overlayStarts';
import { newFigure } from '../show/pictureCommands';
import { newOverlay } from '../show/overlayStarts';
import type { Figure, FigureGroup, Finish, Overlay } from '../show/types';

/** The crossing's stream: a frame round the host's camera that breathes, the lantern as a badge, a bell meter, a caption, and a lower third. */

export const STREAM = 'frame';
export const STREAM_OVERLAY: Overlay = newOverlay(STREAM, 'Host frame');

const on = (
  id: string,
  name: string,
  form: Figure['form'],
  x: number,
  y: number,
  rest: Figure['rest'] = {},
  more: Partial<Figure> = {},
): Figure => ({ ...newFigure(id, name, form, { x, y }, rest, STREAM), ...more });
const letters = { kind: 'letters', of: null, wide: 0, align: 'middle', outline: 0 } as const;
const THIRD = 'host-third';

/** Back to front. @param badge - hash of the image in the corner */
export const streamFigures = (badge: string): readonly Figure[] => [
  on('frame-edge', 'Edge', newEdgeForm(STREAM_OVERLAY), 640, 360),
  on(
    'frame-badge',
    'Badge',
    { kind: 'image', media: badge, fileName: 'lantern.svg', flipX: false, flipY: false },
    118,
    118,
    { size: 0.3125 },
  ),
  on('bell-meter', 'Bell meter', { kind: 'meter', segments: 10, upright: true }, 1206, 232, {
    size: 0.6,
    ink: '#f0b53c',
    top: '#f2e9d4',
  }),
  on(
    'host-plate',
    'Plate',
    {
      ...newEdgeForm({ width: 470, height: 96 }),
      corner: 8,
      way: 'outward',
      bulge: 'even',
      line: false,
    },
    452,
    118,
    { thick: 300, ink: '#14110f' },
    { group: THIRD },
  ),
  on(
    'host-name',
    'Name',
    { ...letters, text: 'Inês, at the rail', face: 'heading' },
    452,
    138,
    { size: 0.6 },
    { group: THIRD },
  ),
  on(
    'host-line',
    'Line',
    { ...letters, text: 'your host on the last crossing', face: 'plain' },
    452,
    96,
    { size: 0.38, ink: '#f0b53c' },
    { group: THIRD },
  ),
  on('caption', 'Caption', { ...letters, text: 'Night Ferry', face: 'heading', outline: 4 }, 640, 634, {
    size: 0.92,
  }),
];
export const STREAM_GROUPS: readonly FigureGroup[] = [
  {
    id: THIRD,
    name: 'Lower third',
    hidden: false,
    locked: false,
    surface: STREAM,
    pivot: { x: 452, y: 118 },
    blend: 'over',
    rest: {},
  },
];
export const STREAM_FINISHES: readonly Finish[] = [
  {
    id: 'third-appears',
    name: 'Appears',
    form: { kind: 'appear', way: 'slide' },
    on: THIRD,
    off: false,
    rest: { middleX: 35, middleY: 16 },
  },
];
