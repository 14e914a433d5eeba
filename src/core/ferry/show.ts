import { ferryNight } from './night';
import { FERRY_BEAMS } from './beams';
import { bandOf, rangeHit, strokeHit } from '../ears/listening';
import { newRoute } from '../show/commands';
import { signalsOfEar } from '../show/signals';
import { findParameter } from '../show/things';
import { newInput } from '../show/inputs';
import { USUAL_BUDGET } from '../figures/governor';
import { USUAL_ROOM } from '../lights/room';
import { newScreen } from '../screens/screen';
import { newEdgeForm, newOverlay } from '../show/overlayStarts';
import { newFigure } from '../show/pictureCommands';
import {
  CAMERA_ID,
  SHOW_FORMAT,
  WHOLE_PICTURE,
  SHOW_VERSION,
  type Ear,
  type Figure,
  type Route,
  type Show,
  type Wire,
} from '../show/types';
import type { LearnedFit } from '../shaping/learnFit';
import { FERRY_BPM, STEM_NAMES } from './demo';
import { ferryKinds } from './fixtures';
import { FERRY_SPOTS, ferryLamps, ferryWires, RAIL_LAMPS, railId } from './rig';
import type { Instrument } from './score';
import { STREAM_FINISHES, STREAM_GROUPS, STREAM_OVERLAY, streamFigures } from './stream';

/** Media hashes of the demo's files, made with them. */
export interface FerryMedia {
  readonly stems: Readonly<Record<Instrument | 'voice', string>>;
  readonly badge: string;
  readonly tune: string;
}

export const SIMULATED_WIRE: Wire = {
  id: 'wire-1',
  name: 'Rails',
  protocol: 'artnet',
  universes: null,
  priority: 100,
  sync: false,
  target: { kind: 'simulated' },
  rate: 40,
  keepAlive: 800,
  safe: { then: 'hold' },
};

/** No finishes, one screen, and flashes held back. */
export function bareStage(): Pick<
  Show,
  'figureGroups' | 'finishes' | 'camera' | 'screens' | 'flashLimit' | 'budget'
> {
  return {
    figureGroups: [],
    finishes: [],
    camera: { id: CAMERA_ID, name: 'Camera', rest: {} },
    screens: [newScreen('screen-main', 'Screen')],
    flashLimit: 3,
    budget: USUAL_BUDGET,
  };
}

/** A night with nothing prepared. */
export function bareNight(): Pick<
  Show,
  'looks' | 'cues' | 'songs' | 'home' | 'darkOver' | 'freezeOver' | 'grips' | 'phone'
> {
  return { looks: [], cues: [], songs: [], home: null, darkOver: 0, freezeOver: 0, grips: [], phone: [] };
}

/** A room of the usual size with nothing read and no spots. */
export function bareRoom(): Pick<Show, 'kinds' | 'room' | 'spots' | 'messages' | 'merges' | 'laserFigures'> {
  return { kinds: [], room: USUAL_ROOM, spots: [], messages: [], merges: [], laserFigures: [] };
}

/** The picture of the crossing, back to front. Every show starts with it until it has a picture of its own. */
export const FERRY_FIGURES: readonly Figure[] = [
  {
    id: 'night',
    name: 'Night',
    form: { kind: 'ground' },
    at: { x: 0, y: 0 },
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest: {},
  },
  {
    id: 'stars',
    name: 'Stars',
    form: { kind: 'stars', count: 34 },
    at: { x: 0, y: 360 },
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest: {},
  },
  {
    id: 'moon',
    name: 'Moon',
    form: { kind: 'print', form: 'moon' },
    at: { x: 1010, y: 560 },
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest: { ink: '#f2e9d4', size: 0.92 },
  },
  {
    id: 'hills',
    name: 'Far bank',
    form: { kind: 'print', form: 'hills' },
    at: { x: 640, y: 250 },
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest: { ink: '#0b0a0a' },
  },
  {
    id: 'ferry',
    name: 'Ferry',
    form: { kind: 'print', form: 'ferry' },
    at: { x: 600, y: 148 },
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest: {},
  },
  {
    id: 'lanterns',
    name: 'Lanterns',
    form: { kind: 'lanterns', count: 12, width: 620 },
    at: { x: 600, y: 268 },
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest: {},
  },
  {
    id: 'river',
    name: 'River',
    form: { kind: 'waves', rows: 6 },
    at: { x: 0, y: 0 },
    hidden: false,
    locked: false,
    group: null,
    blend: 'over',
    twin: null,
    rest: {},
  },
];

/** What the crossing wears on its last night: the same picture, with smoke, spray, gulls and a lamp. */
const DRESS: readonly (readonly [before: string, figure: Figure])[] = [
  [
    'hills',
    newFigure(
      'gulls',
      'Gulls',
      { kind: 'copies', shape: 'bird', count: 7, along: 'line', of: null, fromMiddle: false },
      { x: 330, y: 560 },
      { length: 420, each: 0.9, ink: '#f2e9d4', top: '#f0b53c', turn: 6 },
    ),
  ],
  [
    'ferry',
    newFigure(
      'smoke',
      'Smoke',
      { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 1500 },
      { x: 780, y: 512 },
      {
        rate: 9,
        speed: 60,
        way: 100,
        spread: 26,
        mouth: 26,
        fall: 14,
        wind: 26,
        stir: 40,
        life: 4,
        each: 0.62,
        end: 2.6,
        ink: '#9c9080',
        top: '#1d3340',
        shown: 62,
        tumble: 20,
      },
    ),
  ],
  [
    'river',
    newFigure(
      'spray',
      'Spray',
      { kind: 'emitter', shape: 'drop', media: null, fileName: '', most: 4000 },
      { x: 908, y: 176 },
      {
        rate: 30,
        speed: 250,
        way: 64,
        spread: 50,
        mouth: 40,
        fall: -520,
        wind: -40,
        stir: 14,
        life: 1.1,
        each: 0.3,
        end: 0.3,
        ink: '#f2e9d4',
        top: '#6db5a9',
      },
    ),
  ],
  [
    'river',
    newFigure(
      'glimmer',
      'Glimmer',
      { kind: 'light' },
      { x: 600, y: 250 },
      { bright: 6, reach: 430, halo: 3 },
    ),
  ],
];
export const DRESSED_FIGURES: readonly Figure[] = FERRY_FIGURES.flatMap((f) => [
  ...DRESS.filter(([before]) => before === f.id).map(([, figure]) => figure),
  f,
]);

const EARS: readonly Ear[] = (
  [
    { id: 'low-hit', name: 'Low drum · hit', input: 'deck', listening: rangeHit(40, 160, 0.6) },
    { id: 'low-band', name: 'Low drum · 40–110 Hz', input: 'deck', listening: bandOf(40, 110) },
    { id: 'snare-band', name: 'Snare · 1.2–3 kHz', input: 'deck', listening: bandOf(1200, 3000) },
    { id: 'shaker-band', name: 'Shaker · 5–12 kHz', input: 'deck', listening: bandOf(5000, 12000) },
    { id: 'deck-level', name: 'Deck · level', input: 'deck', listening: { kind: 'level', reading: 'rms' } },
    { id: 'voice-level', name: 'Voice · level', input: 'host', listening: { kind: 'level', reading: 'rms' } },
    { id: 'speaks', name: 'The host speaks', input: 'host', listening: { kind: 'presence', what: 'speech' } },
    {
      id: 'eight',
      name: 'Deck · eight bands',
      input: 'deck',
      listening: {
        kind: 'bands',
        set: 'mel',
        crossovers: [],
        weighting: { kind: 'tilt', dbPerOctave: 3 },
        gainsDb: [],
      },
    },
    {
      id: 'spectrum',
      name: 'Deck · spectrum',
      input: 'deck',
      listening: { kind: 'vector', of: 'spectrum', scale: 'log', points: 32 },
    },
    {
      id: 'bell-strike',
      name: 'Bell · how hard',
      input: 'tune',
      listening: { kind: 'notes', channels: [], tracks: [], reading: 'velocity' },
    },
    {
      id: 'bell-note',
      name: 'Bell · each note',
      input: 'tune',
      listening: { kind: 'notes', channels: [], tracks: [], reading: 'on' },
    },
  ] satisfies Omit<Ear, 'channel'>[]
).map((e) => ({ ...e, channel: 'sum' }));

// Where the demo's signals move, measured over one lap; the fits that a hand would have pressed.
export const HEARD: Readonly<Record<string, LearnedFit>> = {
  'low-band': { low: 0.012, high: 0.2 },
  'snare-band': { low: 0.003, high: 0.06 },
  'shaker-band': { low: 0.002, high: 0.035 },
  'deck-level': { low: 0.012, high: 0.22 },
  'voice-level': { low: 0.008, high: 0.08 },
  spectrum: { low: 0.002, high: 0.06 },
};

const RAIL_GROUP = 'group-1';
/** What moves the lamps between the outermost, from the middle on. */
const RAIL_BANDS = ['low-band', 'low-band', 'snare-band', 'shaker-band', 'shaker-band'] as const;

type Differs = Partial<Pick<Route, 'reach' | 'group'>> & {
  /** Milliseconds in which it falls: sixteenths on a lamp would flash as often as can hurt. */
  readonly fall?: number;
};
/** Signal, thing, parameter, and what differs from a route as it is first made. */
const ROUTES: readonly (readonly [string, string, string, Differs?])[] = [
  ['low-band', 'ferry', 'height', { reach: 20 }],
  ['low-hit', 'ferry', 'size'],
  ['low-band', 'river', 'swell'],
  ['shaker-band', 'river', 'chop'],
  ['deck-level', 'river', 'drift'],
  ['snare-band', 'lanterns', 'glow'],
  ['low-hit', 'lanterns', 'size', { reach: 1.3 }],
  ['shaker-band', 'stars', 'glow'],
  ['deck-level', 'moon', 'glow'],
  ['voice-level', 'ferry', 'glow'],
  ['low-hit', 'rail-left', 'dimmer'],
  ['snare-band', 'rail-right', 'dimmer', { fall: 1400 }],
  ['voice-level', 'rail-left', 'colour', { reach: '#6db5a9' }],
  ['voice-level', 'frame-edge', 'swell'],
  ['voice-level', 'frame-edge', 'glow', { reach: 45 }],
  ['low-hit', 'frame-badge', 'size', { reach: 0.39 }],
  ['low-hit', 'frame-edge', 'spark'],
  ['voice-level', 'caption', 'size', { reach: 1.08 }],
  ['bell-strike', 'bell-meter', 'level'],
  ['speaks', 'third-appears', 'in'],
  ['bell-note', 'moon', 'size', { reach: 1 }],
  ['spectrum', 'gulls', 'rise', { reach: 60 }],
  ['low-hit', 'smoke', 'burst', { reach: 6 }],
  ['low-hit', 'spray', 'burst', { reach: 60 }],
  ['snare-band', 'glimmer', 'bright', { reach: 55 }],
  ['spectrum', 'rail-bar', 'cells', { reach: 100 }],
  ['low-band', 'mast-left', 'dimmer', { reach: 90 }],
  ['snare-band', 'mast-right', 'dimmer', { reach: 90, fall: 1400 }],
  ['deck-level', 'mast-left', 'tilt', { reach: 62 }],
  ['deck-level', 'mast-right', 'tilt', { reach: 62 }],
  ['low-hit', 'mast-left', 'zoom', { reach: 24 }],
  ['low-hit', 'mast-right', 'zoom', { reach: 24 }],
  ['voice-level', 'mast-left', 'pan', { reach: 96 }],
  ...Array.from({ length: RAIL_LAMPS - 2 }, (_, i): (typeof ROUTES)[number] => [
    RAIL_BANDS[Math.floor(Math.abs(i - 4.5))]!,
    railId(i + 2),
    'dimmer',
    { reach: 92, group: RAIL_GROUP, fall: 1400 },
  ]),
  ['shaker-band', 'beam-gulls', 'size', { reach: 17 }],
  ['snare-band', 'beam-gulls', 'lean', { reach: 55 }],
  ['spectrum', 'beam-river', 'rise', { reach: 24 }],
  ['low-band', 'beam-name', 'size', { reach: 66 }],
  ['low-hit', 'beam-name', 'far'],
  ['voice-level', 'beam-gulls', 'height', { reach: 46 }],
];

/** The demo show, whole: what `npm run demo` opens with. */
export function ferryShow(media: FerryMedia): Show {
  const kinds = ferryKinds();
  const bare: Show = {
    format: SHOW_FORMAT,
    version: SHOW_VERSION,
    id: 'night-ferry',
    name: 'Night Ferry',
    tempo: { source: 'known', bpm: FERRY_BPM, beatsPerBar: 4, anchor: 0, input: null, multiple: 1 },
    inputs: [
      {
        ...newInput('deck', 'Deck stems', true),
        kind: 'files',
        loop: true,
        part: null,
        stems: (Object.keys(STEM_NAMES) as Instrument[]).map((i) => ({
          name: STEM_NAMES[i],
          media: media.stems[i],
          gainDb: 0,
        })),
      },
      {
        ...newInput('host', 'Host’s voice', true),
        kind: 'files',
        loop: true,
        part: null,
        stems: [{ name: 'voice', media: media.stems.voice, gainDb: 0 }],
      },
      {
        ...newInput('tune', 'Bell tune', false),
        kind: 'notes',
        from: { kind: 'file', media: media.tune, fileName: 'bell.mid', loop: true, beside: 'deck' },
      },
    ],
    ears: EARS,
    routes: [],
    figures: [...DRESSED_FIGURES, ...streamFigures(media.badge)],
    overlays: [STREAM_OVERLAY],
    fixtures: ferryLamps(...(kinds.map((k) => k.id) as [string, string, string])),
    wires: ferryWires(SIMULATED_WIRE),
    makers: [],
    groups: [
      {
        id: RAIL_GROUP,
        name: 'Rail by the drums',
        muted: false,
        soloed: false,
        bypassed: false,
        folded: true,
      },
    ],
    shapes: [],
    ramps: [],
    ...bareRoom(),
    laserFigures: FERRY_BEAMS,
    kinds,
    spots: FERRY_SPOTS,
    ...bareStage(),
    ...bareNight(),
    figureGroups: STREAM_GROUPS,
    finishes: [
      ...STREAM_FINISHES,
      {
        id: 'grain-1',
        name: 'Grain',
        form: { kind: 'grain' },
        on: WHOLE_PICTURE,
        off: false,
        rest: { amount: 8, size: 2 },
      },
    ],
  };
  const routes = ROUTES.map(([signal, thing, parameter, { fall, ...change } = {}], i): Route => {
    const target = { thing, parameter };
    const end = findParameter(bare, target);
    if (!end) throw new Error(`ferryShow: no parameter ${thing}/${parameter}`);
    const route = newRoute(
      `route-${i + 1}`,
      signalsOfEar(EARS.find((e) => e.id === signal)!)[0]!,
      target,
      end.parameter,
      HEARD[signal] ?? null,
    );
    const slow = fall !== undefined && {
      shaping: { ...route.shaping, smooth: { attackMs: 30, releaseMs: fall } },
    };
    return { ...route, ...slow, ...change };
  });
  return { ...bare, routes, ...ferryNight(routes) };
}

/** A new show with nothing in it. */
export function emptyShow(id: string, name: string): Show {
  return {
    format: SHOW_FORMAT,
    version: SHOW_VERSION,
    id,
    name,
    tempo: { source: 'found', bpm: 112, beatsPerBar: 4, anchor: 0, input: null, multiple: 1 },
    inputs: [],
    ears: [],
    routes: [],
    figures: [],
    overlays: [],
    fixtures: [],
    wires: [SIMULATED_WIRE],
    makers: [],
    groups: [],
    shapes: [],
    ramps: [],
    ...bareRoom(),
    ...bareStage(),
    ...bareNight(),
  };
}

/** A new show: one input, a level, a low and a hit ear, already aimed at the picture, so that the first clap moves it. */
export function newShow(id: string, name: string, input: Show['inputs'][number]): Show {
  const ears = (
    [
      { id: 'level', name: 'Level', input: input.id, listening: { kind: 'level', reading: 'rms' } },
      { id: 'low', name: 'Low · 40–160 Hz', input: input.id, listening: bandOf(40, 160) },
      { id: 'hit', name: 'Hit', input: input.id, listening: strokeHit('any') },
    ] satisfies Omit<Ear, 'channel'>[]
  ).map((e): Ear => ({ ...e, channel: 'sum' }));
  const overlay = newOverlay('frame', 'Frame');
  const bare: Show = {
    ...emptyShow(id, name),
    inputs: [input],
    ears,
    figures: [
      ...FERRY_FIGURES,
      newFigure('frame-edge', 'Edge', newEdgeForm(overlay), { x: 640, y: 360 }, {}, overlay.id),
    ],
    overlays: [overlay],
    fixtures: [
      { id: 'lamp-1', name: 'Lamp 1', mode: 'rgb', universe: 0, address: 1, rest: {} },
      { id: 'lamp-2', name: 'Lamp 2', mode: 'rgb', universe: 0, address: 4, rest: {} },
    ],
  };
  const aims = [
    ['level', 'river', 'swell'],
    ['low', 'ferry', 'height'],
    ['hit', 'lanterns', 'glow'],
    ['hit', 'lamp-1', 'dimmer'],
    ['level', 'lamp-2', 'dimmer'],
    ['level', 'frame-edge', 'swell'],
  ] as const;
  const routes = aims.map(([signal, thing, parameter], i): Route => {
    const target = { thing, parameter };
    return newRoute(
      `route-${i + 1}`,
      signalsOfEar(ears.find((e) => e.id === signal)!)[0]!,
      target,
      findParameter(bare, target)!.parameter,
      null,
    );
  });
  return { ...bare, routes };
}
