import { colourParameter, numberParameter, type ParameterDescription } from '../parameters/description';

/** Size of an overlay page in its own pixels; the page scales to what loads it. */
export const OVERLAY_WIDTH = 1280;
export const OVERLAY_HEIGHT = 720;

/** A frame around a camera whose four sides bulge alike, with a badge from the show in a corner and sparks at hits. Plain in silence and under dark. */
const FRAME: readonly ParameterDescription[] = [
  numberParameter({
    id: 'swell',
    label: 'swell',
    help: 'How far the four sides bulge inward.',
    unit: 'px',
    min: 0,
    max: 120,
    step: 1,
    rest: 0,
    reach: 44,
    releaseMs: 220,
    dark: 'rest',
  }),
  numberParameter({
    id: 'glow',
    label: 'glow',
    help: 'Light along the inner edge.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 0,
    reach: 100,
    releaseMs: 260,
    dark: 'rest',
  }),
  numberParameter({
    id: 'badge',
    label: 'badge size',
    help: 'Scales the badge in the corner.',
    unit: '×',
    min: 0,
    max: 3,
    step: 0.01,
    rest: 1,
    reach: 1.25,
    releaseMs: 180,
    dark: 'rest',
  }),
  colourParameter({
    id: 'ink',
    label: 'ink',
    help: 'The colour of the frame.',
    rest: '#f2e9d4',
    reach: '#f0b53c',
    dark: 'rest',
  }),
  numberParameter({
    id: 'spark',
    label: 'spark',
    help: 'How large a spark each hit leaves on the frame. Takes hits, not levels.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 0,
    reach: 100,
    dark: 'rest',
    takesEvents: true,
  }),
];

export function overlayParameters(): readonly ParameterDescription[] {
  return FRAME;
}
