import { stepped } from '../figures/common';
import {
  colourParameter,
  numberParameter,
  type NumberParameter,
  type ParameterDescription,
} from '../parameters/description';

/** How a figure lies upon what is behind it. `over` as paper does; the others mix light. */
export const BLENDS = ['over', 'add', 'screen', 'multiply', 'lighten', 'darken'] as const;
export type Blend = (typeof BLENDS)[number];

export const MIRROR_WAYS = [
  'flip sideways',
  'flip upside down',
  'left onto right',
  'right onto left',
  'lower onto upper',
  'upper onto lower',
  'into four',
] as const;
export type MirrorWay = (typeof MIRROR_WAYS)[number];

/** How something comes and goes. */
export const APPEAR_WAYS = ['fade', 'rise', 'slide', 'grow', 'wipe'] as const;
export type AppearWay = (typeof APPEAR_WAYS)[number];

/** What is fixed about a finish, as opposed to its parameters. `by` is the figure whose picture is used; null for none yet. */
export type FinishForm =
  | { readonly kind: 'trails' }
  | { readonly kind: 'bend' }
  | { readonly kind: 'ripple' }
  | { readonly kind: 'shove'; readonly by: string | null }
  | { readonly kind: 'blur' }
  | { readonly kind: 'glow' }
  | { readonly kind: 'grain' }
  | { readonly kind: 'ramp' }
  | { readonly kind: 'mirror'; readonly way: MirrorWay }
  | { readonly kind: 'key' }
  | { readonly kind: 'flash' }
  | { readonly kind: 'appear'; readonly way: AppearWay }
  | { readonly kind: 'mask'; readonly by: string | null; readonly inverted: boolean };
export type FinishKind = FinishForm['kind'];

const n = numberParameter;
/** How much of the treated picture takes the place of the untreated. */
const mixed = (): NumberParameter =>
  n({
    id: 'mix',
    label: 'mix',
    help: 'How much of it shows: nothing to all.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 100,
    reach: 100,
  });
const middle = (): NumberParameter[] => [
  n({
    id: 'middleX',
    label: 'middle across',
    help: 'Where its middle lies, from the left edge.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 50,
    reach: 60,
  }),
  n({
    id: 'middleY',
    label: 'middle up',
    help: 'Where its middle lies, from the lower edge.',
    unit: '%',
    min: 0,
    max: 100,
    step: 1,
    rest: 50,
    reach: 60,
  }),
];

/** Where a shift over time starts over: no trail is ever as long. */
export const FINISH_WRAP = 65536;

const KINDS: Readonly<
  Record<
    FinishKind,
    { readonly label: string; readonly help: string; readonly parameters: readonly ParameterDescription[] }
  >
> = {
  trails: {
    label: 'trails',
    help: 'What was there stays for a while, and is drawn out, turned and shifted.',
    parameters: [
      n({
        id: 'last',
        label: 'last',
        help: 'How long a trail lasts until a tenth of it is left.',
        unit: 's',
        min: 0,
        max: 30,
        step: 0.05,
        rest: 1.2,
        reach: 4,
      }),
      n({
        id: 'zoom',
        label: 'zoom',
        help: 'How fast it grows out of the middle, in doublings a second; negative shrinks.',
        unit: '2×/s',
        min: -4,
        max: 4,
        step: 0.01,
        rest: 0.15,
        reach: 1,
      }),
      n({
        id: 'turn',
        label: 'turn',
        help: 'How fast it turns about the middle.',
        unit: '°/s',
        min: -720,
        max: 720,
        step: 1,
        rest: 0,
        reach: 90,
      }),
      n({
        id: 'across',
        label: 'across',
        help: 'How fast it is carried sideways.',
        unit: 'px/s',
        min: -2000,
        max: 2000,
        step: 5,
        rest: 0,
        reach: 200,
      }),
      n({
        id: 'height',
        label: 'height',
        help: 'How fast it is carried upward.',
        unit: 'px/s',
        min: -2000,
        max: 2000,
        step: 5,
        rest: 0,
        reach: 200,
      }),
      n({
        id: 'clear',
        label: 'clear',
        help: 'Wipes the trails at each hit. Takes hits, not levels.',
        unit: '',
        min: 0,
        max: 1,
        step: 1,
        rest: 0,
        reach: 1,
        takesEvents: true,
        wrap: 4096,
      }),
      mixed(),
    ],
  },
  bend: {
    label: 'lens bend',
    help: 'Bulges or pinches the picture about a point, as a lens does.',
    parameters: [
      n({
        id: 'bend',
        label: 'bend',
        help: 'Positive bulges, negative pinches.',
        unit: '%',
        min: -100,
        max: 100,
        step: 1,
        rest: 0,
        reach: 45,
        releaseMs: 240,
      }),
      n({
        id: 'reach',
        label: 'reach',
        help: 'How far it goes from its middle, in shares of the picture’s height.',
        unit: '%',
        min: 5,
        max: 200,
        step: 1,
        rest: 70,
        reach: 110,
      }),
      ...middle(),
    ],
  },
  ripple: {
    label: 'ripple',
    help: 'Waves that run outward and shake what they pass.',
    parameters: [
      n({
        id: 'depth',
        label: 'depth',
        help: 'How far the picture is moved.',
        unit: 'px',
        min: 0,
        max: 120,
        step: 0.5,
        rest: 0,
        reach: 24,
        releaseMs: 320,
      }),
      n({
        id: 'length',
        label: 'wave length',
        help: 'From one crest to the next.',
        unit: 'px',
        min: 8,
        max: 1200,
        step: 1,
        rest: 120,
        reach: 60,
      }),
      n({
        id: 'speed',
        label: 'speed',
        help: 'How fast the waves run outward.',
        unit: 'px/s',
        min: -2000,
        max: 2000,
        step: 5,
        rest: 160,
        reach: 600,
        wrap: FINISH_WRAP,
      }),
      ...middle(),
    ],
  },
  shove: {
    label: 'shove',
    help: 'Moves the picture by the light and shade of another figure; with none, by drifting noise.',
    parameters: [
      n({
        id: 'across',
        label: 'across',
        help: 'How far white moves it sideways; black moves it the other way.',
        unit: 'px',
        min: -400,
        max: 400,
        step: 1,
        rest: 12,
        reach: 80,
      }),
      n({
        id: 'height',
        label: 'height',
        help: 'How far white moves it upward.',
        unit: 'px',
        min: -400,
        max: 400,
        step: 1,
        rest: 0,
        reach: 60,
      }),
      n({
        id: 'scale',
        label: 'noise size',
        help: 'Size of the noise, where no figure moves it.',
        unit: 'px',
        min: 8,
        max: 1200,
        step: 1,
        rest: 160,
        reach: 60,
      }),
      n({
        id: 'drift',
        label: 'noise drift',
        help: 'How fast the noise changes.',
        unit: '×',
        min: -8,
        max: 8,
        step: 0.05,
        rest: 0.4,
        reach: 2,
        wrap: FINISH_WRAP,
      }),
    ],
  },
  blur: {
    label: 'blur',
    help: 'Softens everything.',
    parameters: [
      n({
        id: 'radius',
        label: 'radius',
        help: 'How far each point is spread.',
        unit: 'px',
        min: 0,
        max: 100,
        step: 0.5,
        rest: 4,
        reach: 24,
      }),
      mixed(),
    ],
  },
  glow: {
    label: 'glow',
    help: 'What is bright shines beyond its edge.',
    parameters: [
      n({
        id: 'strength',
        label: 'strength',
        help: 'How strongly it shines.',
        unit: '%',
        min: 0,
        max: 300,
        step: 1,
        rest: 40,
        reach: 160,
        releaseMs: 240,
      }),
      n({
        id: 'radius',
        label: 'radius',
        help: 'How far it shines.',
        unit: 'px',
        min: 1,
        max: 120,
        step: 1,
        rest: 22,
        reach: 60,
      }),
      n({
        id: 'from',
        label: 'from',
        help: 'How bright a point must be to shine.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 55,
        reach: 20,
      }),
    ],
  },
  grain: {
    label: 'grain',
    help: 'Paper and uneven ink.',
    parameters: [
      n({
        id: 'amount',
        label: 'amount',
        help: 'How strongly the grain shows.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 14,
        reach: 50,
      }),
      n({
        id: 'size',
        label: 'size',
        help: 'Size of a speck.',
        unit: 'px',
        min: 1,
        max: 40,
        step: 0.5,
        rest: 2,
        reach: 8,
      }),
      n({
        id: 'pace',
        label: 'pace',
        help: 'New grain so often a second; at 0 it lies still.',
        unit: '/s',
        min: 0,
        max: 30,
        step: 1,
        rest: 0,
        reach: 12,
        wrap: FINISH_WRAP,
      }),
    ],
  },
  ramp: {
    label: 'colour ramp',
    help: 'Prints light and shade with three inks.',
    parameters: [
      colourParameter({
        id: 'dark',
        label: 'dark ink',
        help: 'Takes the place of black.',
        rest: '#0b0a0a',
        reach: '#12212c',
      }),
      colourParameter({
        id: 'half',
        label: 'middle ink',
        help: 'Takes the place of what is half bright.',
        rest: '#b8442a',
        reach: '#6db5a9',
      }),
      colourParameter({
        id: 'light',
        label: 'light ink',
        help: 'Takes the place of white.',
        rest: '#f2e9d4',
        reach: '#f0b53c',
      }),
      stepped(5, 3),
      n({
        id: 'shift',
        label: 'shift',
        help: 'Moves the inks along the ramp.',
        unit: '%',
        min: -100,
        max: 100,
        step: 1,
        rest: 0,
        reach: 40,
      }),
      mixed(),
    ],
  },
  mirror: {
    label: 'flip and mirror',
    help: 'Turns it over, or lays one half onto the other, point for point.',
    parameters: [mixed()],
  },
  key: {
    label: 'key',
    help: 'Takes one colour out.',
    parameters: [
      colourParameter({
        id: 'colour',
        label: 'colour',
        help: 'The colour that goes.',
        rest: '#12212c',
        reach: '#0b0a0a',
      }),
      n({
        id: 'reach',
        label: 'reach',
        help: 'How much like it a colour must be to go.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 12,
        reach: 40,
      }),
      n({
        id: 'soft',
        label: 'softness',
        help: 'How softly it ends.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 6,
        reach: 20,
      }),
    ],
  },
  flash: {
    label: 'flash',
    help: 'Floods it with one ink. On the whole picture the flash limit holds it back.',
    parameters: [
      n({
        id: 'level',
        label: 'level',
        help: 'How much of the flood shows.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 80,
        attackMs: 0,
        releaseMs: 180,
      }),
      colourParameter({
        id: 'ink',
        label: 'ink',
        help: 'The ink it is flooded with.',
        rest: '#f2e9d4',
        reach: '#f0b53c',
      }),
    ],
  },
  appear: {
    label: 'appears',
    help: 'Is there only as far as something lets it in, and comes and goes in a way of its own.',
    parameters: [
      n({
        id: 'in',
        label: 'in',
        help: 'How far it is there: nothing to all. The times in which it comes and goes are those of the route.',
        unit: '%',
        min: 0,
        max: 100,
        step: 1,
        rest: 0,
        reach: 100,
        attackMs: 180,
        releaseMs: 700,
      }),
      n({
        id: 'far',
        label: 'from afar',
        help: 'How far it comes from; of a wipe, how far it reaches from its middle to either side.',
        unit: 'px',
        min: 0,
        max: 2000,
        step: 1,
        rest: 90,
        reach: 300,
      }),
      ...middle(),
    ],
  },
  mask: {
    label: 'mask',
    help: 'Shows it only where another figure is.',
    parameters: [
      n({
        id: 'soft',
        label: 'softness',
        help: 'How softly its edge ends.',
        unit: 'px',
        min: 0,
        max: 120,
        step: 1,
        rest: 2,
        reach: 40,
      }),
      n({
        id: 'inner',
        label: 'inner glow',
        help: 'How far a glow reaches inward from the edge.',
        unit: 'px',
        min: 0,
        max: 120,
        step: 1,
        rest: 0,
        reach: 40,
        releaseMs: 240,
      }),
      n({
        id: 'outer',
        label: 'outer glow',
        help: 'How far a glow reaches outward from the edge.',
        unit: 'px',
        min: 0,
        max: 120,
        step: 1,
        rest: 0,
        reach: 40,
        releaseMs: 240,
      }),
      colourParameter({
        id: 'ink',
        label: 'glow ink',
        help: 'The colour of its glows.',
        rest: '#f0b53c',
        reach: '#f2e9d4',
      }),
    ],
  },
};

export const FINISH_KINDS = Object.keys(KINDS) as FinishKind[];
/** Of a colour ramp: its inks, from dark to light; none for all others. */
export function finishInks(kind: FinishKind): readonly string[] {
  return kind === 'ramp' ? ['dark', 'half', 'light'] : [];
}
export function finishLabel(kind: FinishKind): string {
  return KINDS[kind].label;
}
export function finishHelp(kind: FinishKind): string {
  return KINDS[kind].help;
}
export function finishParameters(kind: FinishKind): readonly ParameterDescription[] {
  return KINDS[kind].parameters;
}

/** A finish as it is first put on. */
export function newFinishForm(kind: FinishKind): FinishForm {
  switch (kind) {
    case 'shove':
      return { kind, by: null };
    case 'mirror':
      return { kind, way: 'left onto right' };
    case 'appear':
      return { kind, way: 'fade' };
    case 'mask':
      return { kind, by: null, inverted: false };
    default:
      return { kind };
  }
}
