import type { EdgeForm } from '../figures/edge';
import { OVERLAY_HEIGHT, OVERLAY_WIDTH } from '../overlays/kinds';
import { bandOf } from '../ears/listening';
import { appear, bump, USUAL_BUMP } from './moves';
import { Builder } from './builder';
import { freeName } from './commands';
import { signalsOfEar } from './signals';
import type { Overlay, Show } from './types';

/** An overlay with something on it, ready to be used: what is drawn, what listens, and the routes between. */
export interface OverlayStart {
  readonly id: string;
  readonly name: string;
  readonly help: string;
  /** Adds it to an overlay that is there. @param input - what is listened to @returns the show with it, and the figure to look at first */
  readonly make: (
    show: Show,
    input: string,
    overlay: string,
  ) => { readonly show: Show; readonly figure: string };
}

/** An overlay with nothing on it. */
export function newOverlay(id: string, name: string): Overlay {
  return { id, name, width: OVERLAY_WIDTH, height: OVERLAY_HEIGHT, ground: null, still: null, rest: {} };
}

/** An edge as it is first drawn: a frame of the whole surface. */
export function newEdgeForm({
  width,
  height,
}: {
  readonly width: number;
  readonly height: number;
}): EdgeForm {
  return {
    kind: 'edge',
    outline: 'rectangle',
    width,
    height,
    corner: 0,
    drawing: [],
    way: 'inward',
    bulge: 'middle',
    cuts: false,
    line: true,
  };
}

const voiceBand = bandOf(120, 1000);

export const OVERLAY_STARTS: readonly OverlayStart[] = [
  {
    id: 'frame',
    name: 'A breathing camera frame',
    help: 'A frame round the whole page whose four sides swell with the sound, and glow.',
    make: (show, input, overlay) => {
      const b = new Builder(show, overlay),
        { width, height } = b.surface,
        level = signalsOfEar(b.ear('Level', input, { kind: 'level', reading: 'rms' }))[0]!;
      const edge = b.figure('Edge', newEdgeForm(b.surface), width / 2, height / 2);
      b.route(level, edge, 'swell');
      b.route(level, edge, 'glow');
      return { show: b.show, figure: edge };
    },
  },
  {
    id: 'bump',
    name: 'A bumping picture',
    help: 'An image of your own that grows and shrinks with the voice, from its foot.',
    make: (show, input, overlay) => {
      const b = new Builder(show, overlay),
        voice = signalsOfEar(b.ear('Voice · 120–1000 Hz', input, voiceBand))[0]!;
      const image = b.figure(
        'Picture',
        { kind: 'image', media: null, fileName: '', flipX: false, flipY: false },
        b.surface.width / 2,
        b.surface.height / 2,
        { size: 0.8 },
      );
      b.do(
        bump(b.show, image, voice, { ...USUAL_BUMP, smallest: 0.8, largest: 1.1, anchor: 'foot' }).command,
      );
      return { show: b.show, figure: image };
    },
  },
  {
    id: 'badge',
    name: 'A talking badge',
    help: 'A round badge in the corner whose edge swells while somebody talks, with a face for your own image.',
    make: (show, input, overlay) => {
      const b = new Builder(show, overlay),
        voice = signalsOfEar(b.ear('Voice · 120–1000 Hz', input, voiceBand))[0]!,
        x = 150,
        y = 150;
      const moon = b.figure('Badge', { kind: 'print', form: 'moon' }, x, y, { size: 0.62 });
      const edge = b.figure(
        'Badge edge',
        {
          ...newEdgeForm({ width: 210, height: 210 }),
          outline: 'round',
          bulge: 'even',
          way: 'outward',
          line: false,
        },
        x,
        y,
        { thick: 12, ink: '#e8572a' },
      );
      b.route(voice, edge, 'swell', 26);
      b.route(voice, edge, 'glowOut');
      b.do(bump(b.show, moon, voice, { ...USUAL_BUMP, smallest: 0.62, largest: 0.74 }).command);
      return { show: b.show, figure: edge };
    },
  },
  {
    id: 'third',
    name: 'A lower third',
    help: 'A name and a line under it, which come in while somebody speaks and go after.',
    make: (show, input, overlay) => {
      const b = new Builder(show, overlay),
        speaks = signalsOfEar(b.ear('Somebody speaks', input, { kind: 'presence', what: 'speech' }))[0]!;
      const third = lowerThird(b, 'Your name here', 'what you do on board');
      b.do(appear(b.show, third, speaks, { way: 'slide', inMs: 220, outMs: 900, holdMs: 1200 }).command);
      return { show: b.show, figure: third };
    },
  },
  {
    id: 'meter',
    name: 'A meter',
    help: 'Segments that light whole with the level, along the left side.',
    make: (show, input, overlay) => {
      const b = new Builder(show, overlay),
        level = signalsOfEar(b.ear('Level', input, { kind: 'level', reading: 'rms' }))[0]!;
      const meter = b.figure('Meter', { kind: 'meter', segments: 12, upright: true }, 70, 90, { size: 0.7 });
      b.route(level, meter, 'level');
      return { show: b.show, figure: meter };
    },
  },
];

/** A plate with two lines on it, low at the left, as one group. @returns the group's id */
export function lowerThird(b: Builder, name: string, line: string): string {
  const y = 120,
    letters = { kind: 'letters', of: null, wide: 0, align: 'left', outline: 0 } as const;
  const plate = b.figure(
    'Plate',
    { ...newEdgeForm({ width: 460, height: 104 }), corner: 10, way: 'outward', bulge: 'even', line: false },
    330,
    y,
    { thick: 300, ink: '#14110f' },
  );
  const first = b.figure('Name', { ...letters, text: name, face: 'heading' }, 330, y + 20, { size: 0.66 });
  const second = b.figure('Line', { ...letters, text: line, face: 'plain' }, 330, y - 26, {
    size: 0.42,
    ink: '#f0b53c',
  });
  return b.group(freeName(b.show.figureGroups, 'Lower third'), [plate, first, second], { x: 330, y });
}
