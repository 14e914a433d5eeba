import { colourParameter, numberParameter, type ParameterDescription } from '../parameters/description';
import { moves, sized, type KindDescription } from './common';
import { drawnBox, type DrawnForm } from './drawnForms';
import { DRAWN_KINDS } from './drawnKinds';
import { SURFACE_KINDS, surfaceBox, type SurfaceForm } from './surfaceKinds';

export * from './drawnForms';

/** Size of the picture in its own pixels; screens scale it. The origin is its lower left corner, y points up. */
export const PICTURE_WIDTH = 1280;
export const PICTURE_HEIGHT = 720;
/** What figures are drawn on, in its own pixels. */
export interface SurfaceSize {
  readonly width: number;
  readonly height: number;
}
export const PICTURE_SIZE: SurfaceSize = { width: PICTURE_WIDTH, height: PICTURE_HEIGHT };
/** What covers the whole picture is so much larger than it, or a camera that shivers or turns would look past its edge. */
export const OVERHANG = 1.5;

/** Every wave length divides this, so that the water has no seam when its way starts over. */
export const WAVE_WRAP = 64000;

/** A dial's radius at rest, in picture pixels, and over how many degrees its needle goes. */
export const DIAL_RADIUS = 110;
export const DIAL_SWEEP = 240;
/** From one segment of a meter to the next, and how wide each is, in picture pixels. */
export const METER_PITCH = 26;
export const METER_WIDTH = 64;

export const PRINT_FORMS = ['ferry', 'hills', 'moon', 'sail', 'block', 'triangle'] as const;
export type PrintForm = (typeof PRINT_FORMS)[number];

/** What is fixed about a figure, as opposed to its parameters, which signals can move. */
export type FigureForm =
  | { readonly kind: 'ground' }
  | { readonly kind: 'print'; readonly form: PrintForm }
  | { readonly kind: 'waves'; readonly rows: number }
  | { readonly kind: 'lanterns'; readonly count: number; readonly width: number }
  | { readonly kind: 'stars'; readonly count: number }
  | { readonly kind: 'dial'; /** Strokes on its face. */ readonly marks: number }
  | {
      readonly kind: 'meter';
      readonly segments: number;
      /** Grows upward; otherwise to the right. */ readonly upright: boolean;
    }
  | DrawnForm
  | SurfaceForm;
export type FigureKind = FigureForm['kind'];

const KINDS: Readonly<Record<FigureKind, KindDescription>> = {
  ...DRAWN_KINDS,
  ...SURFACE_KINDS,
  ground: {
    label: 'printed ground',
    parameters: [
      colourParameter({
        id: 'ink',
        label: 'ink',
        help: 'The colour of the paper behind everything.',
        rest: '#12212c',
        reach: '#34506a',
      }),
      numberParameter({
        id: 'lines',
        label: 'cut lines',
        help: 'How clearly the lines cut into the ground show.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 40,
        reach: 100,
      }),
    ],
  },
  print: {
    label: 'printed shape',
    parameters: [
      ...moves(18, 40),
      numberParameter({
        id: 'tilt',
        label: 'tilt',
        help: 'Turns it about its anchor.',
        unit: '°',
        min: -180,
        max: 180,
        step: 0.5,
        rest: 0,
        reach: 4,
      }),
      sized('Scales it about its anchor.', 4, 1.06),
      numberParameter({
        id: 'grow',
        label: 'grow',
        help: 'Stretches it upward from its anchor; its foot stays.',
        unit: '×',
        min: 0,
        max: 4,
        step: 0.01,
        rest: 1,
        reach: 1.25,
      }),
      numberParameter({
        id: 'glow',
        label: 'glow',
        help: 'Brightens what is lit in it: windows, rays, rims.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 20,
        reach: 100,
        attackMs: 4,
        releaseMs: 220,
      }),
      colourParameter({
        id: 'ink',
        label: 'ink',
        help: 'The colour of its main block.',
        rest: '#e8572a',
        reach: '#f0b53c',
      }),
    ],
  },
  waves: {
    label: 'wave lines',
    parameters: [
      numberParameter({
        id: 'swell',
        label: 'swell',
        help: 'How high the waves stand.',
        unit: 'px',
        min: 0,
        max: 120,
        step: 1,
        rest: 9,
        reach: 40,
        releaseMs: 320,
      }),
      numberParameter({
        id: 'chop',
        label: 'chop',
        help: 'Small quick waves upon the large ones.',
        unit: 'px',
        min: 0,
        max: 40,
        step: 0.5,
        rest: 1,
        reach: 10,
        releaseMs: 90,
      }),
      numberParameter({
        id: 'drift',
        label: 'drift',
        help: 'How fast the waves travel; negative goes left.',
        unit: 'px/s',
        min: -400,
        max: 400,
        step: 1,
        rest: 26,
        reach: 160,
        attackMs: 120,
        releaseMs: 600,
        wrap: WAVE_WRAP,
      }),
      numberParameter({
        id: 'height',
        label: 'height',
        help: 'How far the water is lifted.',
        unit: 'px',
        min: -360,
        max: 360,
        step: 1,
        rest: 0,
        reach: 30,
      }),
      colourParameter({
        id: 'ink',
        label: 'ink',
        help: 'The colour of the wave crests.',
        rest: '#6db5a9',
        reach: '#f2e9d4',
      }),
    ],
  },
  lanterns: {
    label: 'glowing lanterns',
    parameters: [
      numberParameter({
        id: 'glow',
        label: 'glow',
        help: 'How brightly they burn.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 8,
        reach: 100,
        attackMs: 2,
        releaseMs: 260,
      }),
      sized('Scales each lantern.', 4, 1.5),
      numberParameter({
        id: 'sway',
        label: 'sway',
        help: 'How far they swing on their hooks.',
        unit: '°',
        min: -90,
        max: 90,
        step: 0.5,
        rest: 0,
        reach: 24,
      }),
      ...moves(12, 30),
      colourParameter({
        id: 'ink',
        label: 'ink',
        help: 'The colour of their light.',
        rest: '#f0b53c',
        reach: '#f2e9d4',
      }),
    ],
  },
  stars: {
    label: 'cut stars',
    parameters: [
      numberParameter({
        id: 'glow',
        label: 'glow',
        help: 'How brightly they shine.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 45,
        reach: 100,
        attackMs: 2,
        releaseMs: 180,
      }),
      sized('Scales each star.', 6, 2),
      numberParameter({
        id: 'turn',
        label: 'turn',
        help: 'Turns each star.',
        unit: '°',
        min: -180,
        max: 180,
        step: 1,
        rest: 0,
        reach: 45,
      }),
      colourParameter({ id: 'ink', label: 'ink', help: 'Their colour.', rest: '#f2e9d4', reach: '#f0b53c' }),
    ],
  },
  dial: {
    label: 'needle dial',
    parameters: [
      numberParameter({
        id: 'reading',
        label: 'reading',
        help: 'Where the needle points: from the first mark to the last.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 90,
        attackMs: 30,
        releaseMs: 340,
      }),
      sized('Scales it about its middle.', 6, 1.1),
      numberParameter({
        id: 'glow',
        label: 'glow',
        help: 'How brightly its face is lit.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 70,
        reach: 100,
        attackMs: 4,
        releaseMs: 220,
      }),
      ...moves(12, 30),
      colourParameter({
        id: 'ink',
        label: 'ink',
        help: 'The colour of the needle.',
        rest: '#0b0a0a',
        reach: '#e8572a',
      }),
    ],
  },
  meter: {
    label: 'segmented meter',
    parameters: [
      numberParameter({
        id: 'level',
        label: 'level',
        help: 'How much of it is lit. Its segments light whole.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 100,
        attackMs: 4,
        releaseMs: 260,
      }),
      sized('Scales it about its foot.', 6, 1.1),
      ...moves(12, 30),
      colourParameter({
        id: 'ink',
        label: 'first ink',
        help: 'The colour of the first segment.',
        rest: '#6db5a9',
        reach: '#f0b53c',
      }),
      colourParameter({
        id: 'top',
        label: 'last ink',
        help: 'The colour of the last segment; those between lie between.',
        rest: '#e8572a',
        reach: '#f2e9d4',
      }),
    ],
  },
};

/** Of what is printed in inks that run into each other: those inks, from the first to the last; none for all others. */
export function rampInks(kind: FigureKind): readonly string[] {
  switch (kind) {
    case 'copies':
    case 'emitter':
    case 'trace':
    case 'bars':
    case 'texture':
    case 'meter':
    case 'letters':
      return ['ink', 'top'];
    case 'spectrogram':
      return ['ground', 'ink', 'top'];
    default:
      return [];
  }
}
export function figureKindLabel(kind: FigureKind): string {
  return KINDS[kind].label;
}
export function figureParameters(kind: FigureKind): readonly ParameterDescription[] {
  return KINDS[kind].parameters;
}

/** Width and height of a figure at rest, in picture pixels, and where its anchor lies in that box (0–1 from its lower left). */
export interface FigureBox {
  readonly width: number;
  readonly height: number;
  readonly anchorX: number;
  readonly anchorY: number;
}

const PRINT_BOXES: Readonly<Record<PrintForm, FigureBox>> = {
  ferry: { width: 700, height: 420, anchorX: 0.5, anchorY: 0 },
  hills: { width: PICTURE_WIDTH, height: 190, anchorX: 0.5, anchorY: 0 },
  moon: { width: 250, height: 250, anchorX: 0.5, anchorY: 0.5 },
  sail: { width: 240, height: 210, anchorX: 0.1, anchorY: 0 },
  block: { width: 120, height: 120, anchorX: 0.5, anchorY: 0 },
  triangle: { width: 120, height: 104, anchorX: 0.5, anchorY: 0 },
};

/** @param surface - what it is drawn on, for what covers the whole of it */
export function figureBox(form: FigureForm, surface: SurfaceSize = PICTURE_SIZE): FigureBox {
  switch (form.kind) {
    case 'ground':
      return { ...surface, anchorX: 0, anchorY: 0 };
    case 'waves':
      return { width: surface.width, height: form.rows * 34 + 20, anchorX: 0, anchorY: 0 };
    case 'lanterns':
      return { width: form.width, height: 70, anchorX: 0.5, anchorY: 1 };
    case 'stars':
      return { width: surface.width, height: 340, anchorX: 0, anchorY: 0 };
    case 'dial':
      return { width: 2 * DIAL_RADIUS, height: 2 * DIAL_RADIUS, anchorX: 0.5, anchorY: 0.5 };
    case 'meter':
      return form.upright
        ? { width: METER_WIDTH, height: form.segments * METER_PITCH, anchorX: 0.5, anchorY: 0 }
        : { width: form.segments * METER_PITCH, height: METER_WIDTH, anchorX: 0, anchorY: 0.5 };
    case 'print':
      return PRINT_BOXES[form.form];
    case 'edge':
    case 'letters':
      return surfaceBox(form);
    default:
      return drawnBox(form, surface);
  }
}
