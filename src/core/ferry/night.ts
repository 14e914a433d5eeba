import type { ParameterValue } from '../parameters/description';
import type { Cue, Fade, Look, Route, Show, Song } from '../show/types';

type Values = Readonly<Record<string, ParameterValue>>;

const RAIL = ['left', '2', '3', '4', '5', '6', '7', '8', '9', '10', '11', 'right'].map((n) => `rail-${n}`);
const rail = (dimmer: number, colour?: string): Values =>
  Object.fromEntries(
    RAIL.flatMap((lamp): [string, ParameterValue][] => [
      [`${lamp}/dimmer`, dimmer],
      ...(colour ? ([[`${lamp}/colour`, colour]] as [string, ParameterValue][]) : []),
    ]),
  );
const mast = (dimmer: number, colour: string): Values => ({
  'mast-left/dimmer': dimmer,
  'mast-left/colour': colour,
  'mast-right/dimmer': dimmer,
  'mast-right/colour': colour,
});

/** What is drawn in nearly no ink: what shines alone is left. */
const UNLIT: Values = {
  'night/ink': '#050608',
  'stars/ink': '#0d0d0c',
  'moon/ink': '#181612',
  'gulls/ink': '#0d0d0c',
  'hills/ink': '#030304',
  'smoke/ink': '#0d0c0b',
  'ferry/ink': '#1d1310',
  'river/ink': '#0c191b',
  'spray/ink': '#1a2a2a',
};

interface Prepared {
  readonly id: string;
  readonly name: string;
  readonly values: Values;
  /** How much of their amount routes to the picture and the lamps have. */
  readonly moves?: number;
  readonly key?: string;
}
const PREPARED: readonly Prepared[] = [
  {
    id: 'look-quay',
    name: 'At the quay',
    values: {
      'night/ink': '#0b1620',
      'river/ink': '#2f5f6b',
      'river/swell': 4,
      'river/chop': 0.4,
      'ferry/ink': '#9c4a2b',
      'moon/glow': 8,
      'stars/glow': 20,
      ...rail(4),
      ...mast(0, '#f0b53c'),
    },
    moves: 0.3,
  },
  {
    id: 'look-out',
    name: 'Setting out',
    values: { 'camera/zoom': 1.25, 'camera/height': -30, 'ferry/ink': '#e8572a', ...rail(6, '#f0b53c') },
  },
  {
    id: 'look-midstream',
    name: 'Midstream',
    values: { 'stars/glow': 70, 'river/swell': 16, 'river/drift': 60, ...mast(20, '#6db5a9') },
  },
  {
    id: 'look-host',
    name: 'The host speaks',
    values: {
      'night/ink': '#0a1c1a',
      'river/ink': '#3f7a55',
      'river/swell': 3,
      'ferry/ink': '#b2456e',
      'stars/glow': 14,
      ...rail(3, '#b2456e'),
      ...mast(46, '#f2e9d4'),
    },
    moves: 0.4,
  },
  {
    id: 'look-rests',
    name: 'All rests',
    values: {
      'night/ink': '#080f16',
      'river/ink': '#27454c',
      'river/swell': 2,
      'river/chop': 0.2,
      'ferry/ink': '#6b3320',
      'moon/ink': '#cdbfa2',
      'stars/glow': 8,
      'beam-river/brightness': 30,
      ...rail(2, '#6b3320'),
      ...mast(0, '#6db5a9'),
    },
    moves: 0.15,
  },
  {
    id: 'look-fill',
    name: 'Fill, lights',
    values: {
      'night/ink': '#241838',
      'river/ink': '#7b8fd6',
      'ferry/ink': '#8fc24a',
      'stars/glow': 95,
      'glimmer/bright': 30,
      ...rail(20, '#7b8fd6'),
      ...mast(70, '#8fc24a'),
    },
    moves: 1.3,
  },
  {
    id: 'look-bank',
    name: 'The far bank',
    values: {
      'hills/height': 50,
      'hills/ink': '#1d140c',
      'night/ink': '#2b1a1c',
      'moon/ink': '#f0b53c',
      'moon/glow': 60,
      'river/ink': '#9c8a5e',
      'river/swell': 6,
      ...rail(12, '#f0b53c'),
      ...mast(30, '#f0b53c'),
    },
    moves: 0.7,
  },
  {
    id: 'look-lanterns',
    name: 'Lanterns only',
    values: { ...UNLIT, 'lanterns/glow': 70, ...rail(0), ...mast(0, '#f0b53c') },
    key: 'q',
  },
  {
    id: 'look-storm',
    name: 'Storm',
    values: {
      'night/ink': '#05060a',
      'river/ink': '#c9506b',
      'river/swell': 34,
      'river/chop': 2.4,
      'river/drift': 140,
      'ferry/ink': '#f2e9d4',
      'ferry/tilt': 6,
      'smoke/wind': 180,
      'stars/glow': 0,
      ...rail(10, '#c9506b'),
      ...mast(80, '#f2e9d4'),
    },
    moves: 1.6,
    key: 'w',
  },
  {
    id: 'look-lamps',
    name: 'Lamps alone',
    values: { ...UNLIT, ...rail(24), ...mast(50, '#f0b53c') },
    key: 'e',
  },
];

const bars = (length: number, from: Fade['from'] = 'bar'): Fade => ({ unit: 'bars', length, from });

const SONGS: readonly Song[] = [
  {
    id: 'song-crossing',
    name: 'The crossing',
    note: 'Drums on the upper deck. Bell from the third act on.',
    bpm: null,
    inputs: null,
  },
  { id: 'song-landing', name: 'The landing', note: 'Slow down with the engine.', bpm: null, inputs: null },
];
const CUES: readonly (Pick<Cue, 'number' | 'name' | 'note' | 'look' | 'fade'> &
  Partial<Pick<Cue, 'song' | 'delay' | 'follow' | 'leaveOut'>>)[] = [
  {
    number: 1,
    name: 'At the quay',
    note: 'House lights down first.',
    look: 'look-quay',
    fade: { unit: 'seconds', length: 3, from: 'now' },
  },
  { number: 2, name: 'Setting out', note: 'With the first low drum.', look: 'look-out', fade: bars(2) },
  {
    number: 3,
    name: 'Midstream',
    note: 'All hands. Wait for the shaker.',
    look: 'look-midstream',
    fade: bars(4),
  },
  {
    number: 4,
    name: 'The host speaks',
    note: '“Wait for her hand; bell on.”',
    look: 'look-host',
    fade: bars(4),
  },
  {
    number: 5,
    name: 'All rests',
    note: 'Silence. Nobody moves.',
    look: 'look-rests',
    fade: { unit: 'seconds', length: 2, from: 'now' },
    follow: { kind: 'bars', after: 2 },
  },
  {
    number: 5.5,
    name: 'Breath',
    note: 'Comes by itself, two bars later.',
    look: 'look-quay',
    fade: bars(1),
    leaveOut: ['laser'],
  },
  {
    number: 6,
    name: 'Fill, lights',
    note: 'On the fill. Eyes on the snare.',
    look: 'look-fill',
    fade: bars(0.5, 'beat'),
  },
  {
    number: 7,
    name: 'The far bank',
    note: 'Last one. Let it ring.',
    look: 'look-bank',
    fade: bars(8),
    song: 'song-landing',
  },
];

/** The crossing as it is performed: looks, the cues that take them in their order, two songs, and the safe look. */
export function ferryNight(routes: readonly Route[]): Pick<Show, 'looks' | 'cues' | 'songs' | 'home'> {
  return {
    looks: PREPARED.map(({ id, name, values, moves = 1, key = null }): Look => ({
      id,
      name,
      values,
      routes: moves === 1 ? {} : Object.fromEntries(routes.map((r) => [r.id, moves])),
      key,
    })),
    cues: CUES.map(
      ({
        number,
        name,
        note,
        look,
        fade,
        song = 'song-crossing',
        delay = 0,
        follow = null,
        leaveOut = [],
      }): Cue => ({
        id: `cue-${String(number).replace('.', '-')}`,
        number,
        name,
        note,
        look,
        leaveOut,
        fade,
        delay,
        follow,
        song,
      }),
    ),
    songs: SONGS,
    home: 'look-quay',
  };
}
