import type { Blend, FinishForm } from '../finishes/kinds';
import type { FigureForm } from '../figures/kinds';
import type { Making } from '../makers/making';
import type { ParameterValue } from '../parameters/description';
import { newRoute } from '../show/commands';
import { newEdgeForm, newOverlay } from '../show/overlayStarts';
import { newFigure } from '../show/pictureCommands';
import { signalOfMaker, signalsOfEar, type Signal } from '../show/signals';
import { findParameter } from '../show/things';
import {
  WHOLE_PICTURE,
  type Ear,
  type Figure,
  type FigureGroup,
  type Finish,
  type Maker,
  type Overlay,
  type Route,
  type Show,
} from '../show/types';
import { ferryShow, HEARD, type FerryMedia } from './show';

/** Small shows from the ferry's own world; between them they use every kind of figure and finish. All play on the crossing's sound. */
export interface Example {
  readonly id: string;
  readonly name: string;
  readonly help: string;
  readonly make: (media: ExampleMedia) => Show;
}
export interface ExampleMedia extends FerryMedia {
  readonly buoy: string;
  readonly film: string;
}

type Rest = Readonly<Record<string, ParameterValue>>;

/** Builds an example upon the crossing's inputs and ears. */
class Sheet {
  readonly #base: Show;
  readonly #ears: Ear[];
  readonly #makers: Maker[] = [];
  readonly #figures: Figure[] = [];
  readonly #groups: FigureGroup[] = [];
  readonly #finishes: Finish[] = [];
  readonly #aims: {
    signal: string;
    thing: string;
    parameter: string;
    reach?: ParameterValue;
    change?: Partial<Route>;
  }[] = [];
  #camera: Rest = {};
  readonly #overlays: Overlay[] = [];

  constructor(id: string, name: string, media: ExampleMedia) {
    const ferry = ferryShow(media);
    this.#base = {
      ...ferry,
      id,
      name,
      routes: [],
      figures: [],
      figureGroups: [],
      finishes: [],
      makers: [],
      overlays: [],
    };
    this.#ears = ferry.ears.filter((e) => e.id !== 'spectrum');
    this.ear('spectrum', 'Deck · spectrum', { kind: 'vector', of: 'spectrum', scale: 'log', points: 64 });
    this.ear('wave', 'Deck · waveform', { kind: 'vector', of: 'waveform', scale: 'linear', points: 128 });
    this.ear('snare-hit', 'Snare · hit', {
      kind: 'hit',
      what: 'snare',
      low: 1200,
      high: 5000,
      sensitivity: 0.6,
      holdOffMs: 90,
    });
    this.ear('beat', 'Each beat', { kind: 'beat', reading: 'beat', multiple: 1 });
  }
  ear(id: string, name: string, listening: Ear['listening']): string {
    this.#ears.push({ id, name, input: 'deck', channel: 'sum', listening });
    return id;
  }
  maker(id: string, name: string, making: Making): string {
    this.#makers.push({ id, name, making });
    return id;
  }
  figure(
    id: string,
    name: string,
    form: FigureForm,
    x: number,
    y: number,
    rest: Rest = {},
    more: Partial<Pick<Figure, 'blend' | 'hidden' | 'group'>> = {},
  ): this {
    this.#figures.push({ ...newFigure(id, name, form, { x, y }, rest, this.#overlays.at(-1)?.id), ...more });
    return this;
  }
  group(id: string, name: string, rest: Rest = {}, blend: Blend = 'over'): this {
    this.#groups.push({ id, name, hidden: false, locked: false, blend, rest });
    return this;
  }
  finish(id: string, on: string, form: FinishForm, rest: Rest = {}): this {
    this.#finishes.push({
      id,
      name: form.kind[0]!.toUpperCase() + form.kind.slice(1),
      form,
      on,
      off: false,
      rest,
    });
    return this;
  }
  /** What is added from now on is drawn on an overlay. */
  overlay(id: string, name: string): this {
    this.#overlays.push(newOverlay(id, name));
    return this;
  }
  camera(rest: Rest): this {
    this.#camera = rest;
    return this;
  }
  route(
    signal: string,
    thing: string,
    parameter: string,
    reach?: ParameterValue,
    change?: Partial<Route>,
  ): this {
    this.#aims.push({
      signal,
      thing,
      parameter,
      ...(reach !== undefined && { reach }),
      ...(change && { change }),
    });
    return this;
  }

  show(): Show {
    const bare: Show = {
      ...this.#base,
      ears: this.#ears,
      makers: this.#makers,
      figures: this.#figures,
      figureGroups: this.#groups,
      finishes: this.#finishes,
      overlays: this.#overlays,
      camera: { ...this.#base.camera, rest: this.#camera },
    };
    const signals = new Map<string, Signal>(
      [...this.#ears.flatMap(signalsOfEar), ...this.#makers.map(signalOfMaker)].map((s) => [s.id, s]),
    );
    const routes = this.#aims.map(({ signal, thing, parameter, reach, change }, i): Route => {
      const found = signals.get(signal),
        target = { thing, parameter },
        end = findParameter(bare, target);
      if (!found || !end) throw new Error(`examples: nothing like ${signal} → ${thing}/${parameter}`);
      return {
        ...newRoute(`route-${i + 1}`, found, target, end.parameter, HEARD[signal] ?? null),
        ...(reach !== undefined && { reach }),
        ...change,
      };
    });
    return { ...bare, routes };
  }
}

/** Fits of rows as a hand would have pressed them, from one lap of the crossing. */
const SPECTRUM_FIT = {
  fit: { mode: 'hand', low: 0.0015, high: 0.05 },
  clamp: { low: 0, high: 1 },
  curve: {
    points: [
      [0, 0],
      [0.3, 0.5],
      [1, 1],
    ],
  },
  smooth: { attackMs: 6, releaseMs: 160 },
  amount: 1,
} as const satisfies Route['shaping'];
const laid = (over: Partial<Route['shaping']> = {}): Partial<Route> => ({
  shaping: { ...SPECTRUM_FIT, ...over },
});
const WAVE: Partial<Route> = {
  shaping: { fit: { mode: 'hand', low: 0, high: 0.3 }, clamp: { low: -1, high: 1 }, amount: 1 },
};
const straight = (fallMs: number): Partial<Route> => ({
  shaping: { strike: { holdMs: 0, fallMs }, clamp: { low: 0, high: 1 }, amount: 1 },
});
const NIGHT = { first: '#0d1a22', last: '#1d3340' } as const;

function engineRoom(media: ExampleMedia): Show {
  const s = new Sheet('example-engine', 'Engine room', media);
  s.figure('plates', 'Plates', { kind: 'texture', pattern: 'noise', whole: true }, 640, 360, {
    ink: '#16130f',
    top: '#2a2119',
    scale: 260,
    contrast: 82,
    inks: 4,
    drift: 0.05,
  });
  s.figure('pipes', 'Pipes', { kind: 'texture', pattern: 'ramp', whole: false }, 640, 672, {
    ink: '#0b0a0a',
    top: '#4a3a26',
    scale: 60,
    contrast: 90,
    size: 2.7,
  });
  s.figure(
    'steam',
    'Steam',
    { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 4000 },
    640,
    230,
    {
      rate: 20,
      speed: 150,
      spread: 40,
      mouth: 170,
      fall: 60,
      stir: 90,
      life: 2.6,
      each: 0.7,
      end: 3.2,
      ink: '#8c7d63',
      top: '#2a2119',
      shown: 26,
    },
  );
  // Behind the pistons a wheel of eight spokes, which turns on by one in every two beats.
  s.group('wheel', 'Flywheel');
  s.figure(
    'spokes',
    'Spokes',
    { kind: 'copies', shape: 'block', count: 8, along: 'ring', of: null, fromMiddle: false },
    640,
    178,
    { length: 44, each: 0.4, stretch: 9.6, ink: '#93381b', top: '#e8572a' },
    { group: 'wheel' },
  );
  s.figure(
    'teeth',
    'Teeth',
    { kind: 'copies', shape: 'block', count: 32, along: 'ring', of: null, fromMiddle: false },
    640,
    178,
    { length: 306, each: 0.5, stretch: 1.3, ink: '#b98d4e', top: '#efd6a4' },
    { group: 'wheel' },
  );
  s.figure(
    'rim',
    'Rim',
    { kind: 'waveform', round: true },
    640,
    178,
    { length: 296, line: 20, ink: '#b98d4e' },
    { group: 'wheel' },
  );
  s.figure(
    'hub',
    'Hub',
    { kind: 'solid', shape: 'disc', look: 'outlined', anchor: 'middle' },
    640,
    178,
    { size: 0.3, lean: 0, swing: 0, ink: '#b98d4e', lineInk: '#efd6a4', line: 1.5 },
    { group: 'wheel' },
  );
  for (const [i, x] of [212, 388, 892, 1068].entries()) {
    s.figure(
      `piston-${i + 1}`,
      `Piston ${i + 1}`,
      { kind: 'solid', shape: 'tube', look: 'outlined', anchor: 'foot' },
      x,
      70,
      {
        wide: 0.5,
        tall: 0.66,
        deep: 0.5,
        lean: 10,
        ink: i % 2 ? '#b98d4e' : '#93381b',
        lineInk: '#efd6a4',
        line: 2,
      },
    );
    s.route(i % 2 ? 'snare-band' : 'low-band', `piston-${i + 1}`, 'tall', 1.5);
  }
  for (const [i, x] of [212, 388, 892, 1068].entries()) {
    s.figure(`casing-${i + 1}`, `Casing ${i + 1}`, { kind: 'print', form: 'block' }, x, -10, {
      size: 1.06,
      grow: 1.32,
      ink: '#3f2d1c',
    });
    s.figure(`lip-${i + 1}`, `Lip ${i + 1}`, { kind: 'print', form: 'block' }, x, 148, {
      size: 1.26,
      grow: 0.11,
      ink: '#6f5a38',
    });
  }
  s.figure('glim', 'Glim', { kind: 'light' }, 640, 520, { bright: 50, reach: 560, halo: 6 });
  for (const [i, x] of [300, 640, 980].entries())
    s.figure(
      `dial-${i + 1}`,
      ['Revolutions', 'Steam', 'Water'][i]!,
      { kind: 'dial', marks: 11 },
      x,
      i === 1 ? 520 : 496,
      { size: i === 1 ? 1.28 : 1, glow: 55, ink: '#0b0a0a' },
    );
  for (let i = 0; i < 4; i++)
    s.figure(
      `meter-${i + 1}`,
      `Cylinder ${i + 1}`,
      { kind: 'meter', segments: 12, upright: true },
      70 + (i > 1 ? 1074 : 0) + (i % 2) * 64,
      372,
      { size: 0.72, ink: '#6db5a9', top: '#e8572a' },
    );
  s.figure(
    'label',
    'Order',
    { kind: 'text', text: 'FULL AHEAD\nHALF AHEAD\nSTAND BY', face: 'heading' },
    640,
    372,
    { size: 0.6, line: 1, ink: '#efd6a4' },
  );
  s.route('low-band', 'dial-1', 'reading')
    .route('deck-level', 'dial-2', 'reading')
    .route('shaker-band', 'dial-3', 'reading');
  for (let i = 0; i < 4; i++)
    s.route(`eight/${i * 2}`, `meter-${i + 1}`, 'level', undefined, {
      shaping: {
        fit: { mode: 'hand', low: 0.002, high: 0.08 },
        clamp: { low: 0, high: 1 },
        smooth: { attackMs: 4, releaseMs: 240 },
        amount: 1,
      },
    });
  s.route('low-hit', 'glim', 'bright', 150)
    .route('low-hit', 'steam', 'burst', 26)
    .route('voice-level', 'label', 'size', 0.8);
  s.maker('order', 'Order', { kind: 'list', on: 'beat', values: [1, 1, 1, 1, 2, 2, 2, 2], order: 'onward' });
  s.maker('shaft', 'Shaft', {
    kind: 'oscillator',
    shape: 'ramp',
    every: { unit: 'beats', value: 2 },
    phase: 0,
  });
  for (const part of ['spokes', 'teeth']) s.route('shaft', part, 'turn', -45, { shaping: { amount: 1 } });
  s.route('low-band', 'spokes', 'tint', 100).route('wave', 'rim', 'level', 9, WAVE);
  s.route('order', 'label', 'line', 2, { shaping: { fit: { mode: 'hand', low: 1, high: 2 }, amount: 1 } });
  s.finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 16, size: 2 }).finish(
    'glow-1',
    WHOLE_PICTURE,
    { kind: 'glow' },
    { strength: 26, radius: 26, from: 62 },
  );
  s.camera({ pace: 13 }).route('low-hit', 'camera', 'shiver', 5);
  return s.show();
}

function depthSounder(media: ExampleMedia): Show {
  const s = new Sheet('example-sounder', 'Depth sounder', media);
  s.figure('paper', 'Paper', { kind: 'ground' }, 0, 0, { ink: '#0e2530', lines: 26 });
  s.figure('echo', 'Echo', { kind: 'spectrogram', seconds: 8 }, 60, 60, {
    size: 2.02,
    ground: '#0e2530',
    ink: '#1f5560',
    top: '#6db5a9',
    inks: 5,
    shown: 92,
  });
  s.figure(
    'bed',
    'River bed',
    { kind: 'copies', shape: 'block', count: 96, along: 'line', of: null, fromMiddle: false },
    545,
    70,
    { length: 970, each: 0.32, stretch: 1, ink: '#b98d4e', top: '#93381b' },
  );
  s.figure('sounding', 'Sounding', { kind: 'trace' }, 1000, 420, {
    thick: 6,
    run: 150,
    last: 8,
    ink: '#f0b53c',
    top: '#e8572a',
    taper: 30,
  });
  s.figure('sounding-2', 'Second sounding', { kind: 'trace' }, 1000, 300, {
    thick: 2.5,
    run: 150,
    last: 8,
    ink: '#f2e9d4',
    top: '#6db5a9',
  });
  s.figure(
    'sparks',
    'Sparks',
    { kind: 'emitter', shape: 'star', media: null, fileName: '', most: 6000 },
    1000,
    420,
    {
      rate: 0,
      speed: 210,
      spread: 150,
      way: 180,
      fall: 0,
      stir: 30,
      life: 0.9,
      each: 0.5,
      end: 0.1,
      ink: '#f2e9d4',
      top: '#e8572a',
    },
  );
  s.figure('window', 'Window', { kind: 'waveform', round: true }, 1150, 540, {
    length: 150,
    line: 4,
    ink: '#6db5a9',
  });
  s.figure('fathoms', 'Fathoms', { kind: 'text', text: '0\n4\n8\n12\n16\n20', face: 'numbers' }, 1226, 262, {
    size: 0.54,
    ink: '#6db5a9',
  });
  s.figure('legend', 'Legend', { kind: 'text', text: 'KEEL  2.4 m', face: 'heading' }, 1120, 84, {
    size: 0.5,
    ink: '#f0b53c',
  });
  s.route('spectrum', 'echo', 'level', 100, laid())
    .route('spectrum', 'bed', 'stretch', 7, laid())
    .route('spectrum', 'bed', 'tint', 100, laid());
  s.route('low-band', 'sounding', 'penY', 150, {
    shaping: {
      fit: { mode: 'hand', low: 0.005, high: 0.25 },
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 0, releaseMs: 60 },
      amount: 1,
    },
  });
  s.route('shaker-band', 'sounding-2', 'penY', -120, {
    shaping: {
      fit: { mode: 'hand', low: 0.002, high: 0.05 },
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 0, releaseMs: 40 },
      amount: 1,
    },
  });
  s.route('low-band', 'sparks', 'height', 150, {
    shaping: {
      fit: { mode: 'hand', low: 0.005, high: 0.25 },
      clamp: { low: 0, high: 1 },
      smooth: { attackMs: 0, releaseMs: 60 },
      amount: 1,
    },
  });
  s.route('low-hit', 'sparks', 'burst', 90)
    .route('low-hit', 'sounding', 'thick', 14)
    .route('wave', 'window', 'level', 46, WAVE)
    .route('deck-level', 'legend', 'size', 0.58);
  s.finish('glow-1', 'sounding', { kind: 'glow' }, { strength: 120, radius: 20, from: 30 }).finish(
    'glow-2',
    'window',
    { kind: 'glow' },
    { strength: 80, radius: 14, from: 30 },
  );
  s.finish('bend-1', WHOLE_PICTURE, { kind: 'bend' }, { bend: 22, reach: 120 }).finish(
    'grain-1',
    WHOLE_PICTURE,
    { kind: 'grain' },
    { amount: 9, size: 2 },
  );
  return s.show();
}

function spray(media: ExampleMedia): Show {
  const s = new Sheet('example-spray', 'Spray at the bow', media);
  s.figure('night', 'Night', { kind: 'texture', pattern: 'ramp', whole: true }, 640, 360, {
    ink: NIGHT.first,
    top: '#2b4a55',
    scale: 1440,
    contrast: 12,
    inks: 7,
    drift: 0,
  });
  s.figure('moon', 'Moon', { kind: 'print', form: 'moon' }, 1040, 560, {
    ink: '#f2e9d4',
    size: 0.8,
    glow: 30,
  });
  s.figure(
    'gulls',
    'Gulls',
    { kind: 'copies', shape: 'bird', count: 9, along: 'line', of: null, fromMiddle: false },
    420,
    560,
    { length: 560, each: 1.1, ink: '#f2e9d4', turn: 8 },
  );
  s.figure('far', 'Far water', { kind: 'waves', rows: 3 }, 0, 196, { ink: '#2f6a70', swell: 6, drift: -40 });
  s.figure('bow', 'Bow', { kind: 'print', form: 'ferry' }, 380, 120, { size: 1.42, tilt: 2 });
  s.figure(
    'spray',
    'Spray',
    { kind: 'emitter', shape: 'drop', media: null, fileName: '', most: 30000 },
    850,
    168,
    {
      rate: 420,
      speed: 430,
      way: 72,
      spread: 56,
      mouth: 120,
      fall: -720,
      wind: -60,
      stir: 26,
      life: 1.5,
      each: 0.5,
      end: 0.3,
      ink: '#f2e9d4',
      top: '#6db5a9',
    },
  );
  s.figure(
    'foam',
    'Foam',
    { kind: 'emitter', shape: 'disc', media: null, fileName: '', most: 12000 },
    870,
    96,
    {
      rate: 160,
      speed: 130,
      way: 180,
      spread: 26,
      mouth: 160,
      fall: -20,
      stir: 60,
      life: 3.4,
      each: 0.5,
      end: 1.6,
      ink: '#f2e9d4',
      top: '#2f6a70',
      shown: 70,
    },
  );
  s.figure('near', 'Near water', { kind: 'waves', rows: 4 }, 0, 14, {
    ink: '#6db5a9',
    swell: 14,
    drift: -120,
  });
  s.figure(
    'badges',
    'Pennants',
    { kind: 'emitter', shape: 'picture', media: media.badge, fileName: 'badge.svg', most: 400 },
    760,
    250,
    {
      rate: 0,
      burst: 0,
      speed: 420,
      way: 80,
      spread: 70,
      fall: -520,
      life: 2.2,
      each: 0.9,
      end: 0.6,
      tumble: 300,
    },
  );
  s.figure('bow-light', 'Bow light', { kind: 'light' }, 690, 330, { bright: 60, reach: 360, halo: 26 });
  s.route('low-hit', 'spray', 'burst', 900)
    .route('deck-level', 'spray', 'rate', 2600)
    .route('low-band', 'spray', 'speed', 760)
    .route('low-hit', 'foam', 'burst', 120);
  s.route('low-band', 'bow', 'tilt', 6)
    .route('low-band', 'bow', 'height', 26)
    .route('low-band', 'near', 'swell', 48)
    .route('shaker-band', 'near', 'chop')
    .route('shaker-band', 'far', 'chop', 6);
  s.route('spectrum', 'gulls', 'rise', 60, laid())
    .route('spectrum', 'gulls', 'stretch', 1.7, laid())
    .route('bell-note', 'badges', 'burst', 3)
    .route('snare-band', 'bow-light', 'bright', 320)
    .route('voice-level', 'bow', 'glow');
  s.finish('ripple-1', 'moon', { kind: 'ripple' }, { length: 46, middleX: 81, middleY: 78, speed: 90 }).route(
    'deck-level',
    'ripple-1',
    'depth',
    10,
  );
  s.finish('blur-1', 'far', { kind: 'blur' }, { radius: 3 }).finish(
    'grain-1',
    WHOLE_PICTURE,
    { kind: 'grain' },
    { amount: 11 },
  );
  s.route('low-hit', 'camera', 'shiverUp', 9).route('low-hit', 'camera', 'turn', 0.8);
  return s.show();
}

function whirlpool(media: ExampleMedia): Show {
  const s = new Sheet('example-whirlpool', 'Whirlpool astern', media);
  s.figure('deep', 'Deep', { kind: 'ground' }, 0, 0, { ink: '#081319', lines: 0 });
  s.group('eddy', 'Eddy');
  s.figure(
    'rim',
    'Rim',
    { kind: 'copies', shape: 'drop', count: 72, along: 'ring', of: null, fromMiddle: true },
    640,
    360,
    { length: 520, each: 0.7, ink: '#6db5a9', top: '#f0b53c' },
    { group: 'eddy' },
  );
  s.figure(
    'mouth',
    'Mouth',
    { kind: 'waveform', round: true },
    640,
    360,
    { length: 250, line: 7, ink: '#f2e9d4' },
    { group: 'eddy' },
  );
  s.figure(
    'lamps',
    'Lamps in it',
    { kind: 'copies', shape: 'lantern', count: 7, along: 'ring', of: null, fromMiddle: false },
    640,
    360,
    { length: 380, each: 1.4, ink: '#e8572a', top: '#f0b53c' },
    { group: 'eddy' },
  );
  s.figure(
    'driftwood',
    'Driftwood',
    { kind: 'solid', shape: 'box', look: 'wire', anchor: 'middle' },
    640,
    360,
    { size: 0.5, line: 3, lineInk: '#b98d4e', rough: 4 },
  );
  s.finish('trails-1', 'eddy', { kind: 'trails' }, { last: 2.2, zoom: 0.5, turn: 34, mix: 100 });
  s.finish('mirror-1', 'driftwood', { kind: 'mirror', way: 'into four' });
  s.route('spectrum', 'rim', 'rise', 70, laid())
    .route('spectrum', 'rim', 'tint', 100, laid())
    .route('spectrum', 'rim', 'twist', 80, laid())
    .route('wave', 'mouth', 'level', 70, WAVE);
  s.route('deck-level', 'trails-1', 'zoom', 1.5)
    .route('beat', 'trails-1', 'turn', 190, straight(420))
    .route('beat', 'trails-1', 'clear', 1, { muted: true })
    .route('low-hit', 'lamps', 'each', 2.6)
    .route('low-band', 'lamps', 'turn', 60);
  s.route('deck-level', 'driftwood', 'spin', 160)
    .route('low-band', 'driftwood', 'rough', 70)
    .route('low-band', 'driftwood', 'size', 0.8);
  s.finish(
    'ramp-1',
    WHOLE_PICTURE,
    { kind: 'ramp' },
    { dark: '#081319', half: '#6db5a9', light: '#f2e9d4', inks: 0, mix: 0 },
  ).route('voice-level', 'ramp-1', 'mix', 80);
  s.finish('bend-1', WHOLE_PICTURE, { kind: 'bend' }, { bend: 0, reach: 95 }).route(
    'low-hit',
    'bend-1',
    'bend',
    42,
  );
  s.finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 10 });
  return s.show();
}

function lookout(media: ExampleMedia): Show {
  const s = new Sheet('example-lookout', 'The lookout’s glass', media);
  s.figure('dark', 'Dark', { kind: 'texture', pattern: 'noise', whole: true }, 640, 360, {
    ink: '#0a1117',
    top: '#152832',
    scale: 320,
    contrast: 40,
    inks: 5,
    drift: 0.12,
  });
  s.figure(
    'rail',
    'Rail',
    { kind: 'copies', shape: 'block', count: 14, along: 'line', of: null, fromMiddle: false },
    640,
    30,
    { length: 1240, each: 2, stretch: 2.6, ink: '#b98d4e', top: '#efd6a4' },
  );
  s.figure(
    'film',
    'Wake, filmed',
    { kind: 'video', media: media.film, fileName: 'wake.webm', flipX: false, flipY: false },
    196,
    540,
    { size: 0.56, turn: -5, contrast: 120 },
  );
  s.figure(
    'glass',
    'Glass',
    { kind: 'camera', deviceId: '', deviceName: '', flipX: false, flipY: false },
    700,
    380,
    { size: 1.9 },
  );
  s.figure(
    'lens',
    'Lens',
    { kind: 'solid', shape: 'disc', look: 'filled', anchor: 'middle' },
    700,
    380,
    { size: 2.3, lean: 0, swing: 0, ink: '#ffffff' },
    { hidden: true },
  );
  s.figure('hair', 'Hair line', { kind: 'waveform', round: false }, 700, 380, {
    length: 500,
    line: 2.5,
    ink: '#e8572a',
  });
  s.figure(
    'pass',
    'Pass',
    { kind: 'image', media: media.badge, fileName: 'badge.svg', flipX: false, flipY: false },
    1120,
    560,
    { size: 0.34, turn: 6 },
  );
  s.figure(
    'log',
    'Log',
    { kind: 'text', text: 'light on the far bank\nsail to starboard\nnothing to report', face: 'plain' },
    214,
    250,
    { size: 0.42, line: 1, typed: 100 },
  );
  s.finish(
    'mask-1',
    'glass',
    { kind: 'mask', by: 'lens', inverted: false },
    { soft: 4, inner: 22, outer: 10, ink: '#f0b53c' },
  );
  s.finish('key-1', 'pass', { kind: 'key' }, { colour: '#12212c', reach: 14, soft: 8 });
  s.finish(
    'ramp-1',
    'film',
    { kind: 'ramp' },
    { dark: '#12212c', half: '#b8442a', light: '#f2e9d4', inks: 5 },
  );
  s.finish('shove-1', 'rail', { kind: 'shove', by: 'glass' }, { across: 0, height: 12 });
  s.route('spectrum', 'glass', 'shift', 46, laid())
    .route('low-hit', 'mask-1', 'outer', 60)
    .route('deck-level', 'mask-1', 'inner', 60)
    .route('wave', 'hair', 'level', 60, WAVE)
    .route('snare-band', 'glass', 'bright', 118);
  s.route('low-hit', 'lens', 'size', 2.42)
    .route('low-band', 'shove-1', 'height', 60)
    .route('voice-level', 'pass', 'size', 0.46)
    .route('shaker-band', 'film', 'pace', 2);
  s.maker('log-line', 'Log line', { kind: 'list', on: 'low-hit', values: [1, 2, 3], order: 'onward' });
  s.route('log-line', 'log', 'line', 3, { shaping: { fit: { mode: 'hand', low: 1, high: 3 }, amount: 1 } });
  s.finish('flash-1', WHOLE_PICTURE, { kind: 'flash' }, { ink: '#f2e9d4' }).route(
    'low-hit',
    'flash-1',
    'level',
    12,
  );
  s.finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 12, pace: 8 });
  return s.show();
}

function pier(media: ExampleMedia): Show {
  const s = new Sheet('example-pier', 'The pier’s lamps', media);
  s.figure('dusk', 'Dusk', { kind: 'texture', pattern: 'round ramp', whole: true }, 640, 360, {
    ink: '#0d1a22',
    top: '#5a2c22',
    scale: 1500,
    contrast: 14,
    inks: 8,
    drift: 0,
  });
  s.figure('bank', 'Far bank', { kind: 'print', form: 'hills' }, 640, 286, { ink: '#0b0a0a' });
  s.figure(
    'sun',
    'Lantern boat',
    { kind: 'solid', shape: 'ball', look: 'outlined', anchor: 'foot' },
    960,
    126,
    { size: 0.62, tall: 0.8, ink: '#e8572a', lineInk: '#f0b53c', area: 70, areaAt: 100 },
  );
  s.figure('crate', 'Crate', { kind: 'solid', shape: 'box', look: 'outlined', anchor: 'foot' }, 960, 126, {
    size: 0.56,
    ink: '#b98d4e',
    lineInk: '#14110f',
  });
  s.figure('water', 'Water', { kind: 'waves', rows: 5 }, 0, 30, { ink: '#3a7c80', swell: 7, drift: 30 });
  s.figure('posts', 'Posts', { kind: 'bars', count: 25, bothWays: false }, 640, 150, {
    length: 1180,
    tall: 250,
    gap: 78,
    level: 34,
    ink: '#1a120c',
    top: '#b98d4e',
  });
  s.figure(
    'lamps',
    'Lamps',
    { kind: 'copies', shape: 'lantern', count: 25, along: 'line', of: null, fromMiddle: true },
    640,
    306,
    { length: 1132, each: 1.3, rise: -58, ink: '#6f5a38', top: '#f0b53c' },
  );
  s.figure(
    'far-lamps',
    'Lamps of the town',
    { kind: 'copies', shape: 'disc', count: 160, along: 'points', of: 'bank', fromMiddle: false },
    640,
    290,
    { each: 0.16, ink: '#b98d4e', top: '#f0b53c', length: 760 },
  );
  s.figure(
    'buoy',
    'Buoy',
    { kind: 'model', media: media.buoy, fileName: 'buoy.glb', look: 'outlined', anchor: 'foot' },
    270,
    40,
    { size: 0.82, ink: '#ffffff', lineInk: '#14110f', line: 1.5, lean: 12 },
  );
  s.figure('turns', 'Ball or crate', { kind: 'switch', of: ['sun', 'crate'] }, 60, 60);
  s.figure(
    'moths',
    'Moths',
    { kind: 'copies', shape: 'bird', count: 40, along: 'grid', of: null, fromMiddle: false },
    640,
    540,
    { length: 1000, each: 0.34, ink: '#f2e9d4', part: 60 },
  );
  for (const [i, x] of [310, 640, 970].entries())
    s.figure(`light-${i + 1}`, `Light ${i + 1}`, { kind: 'light' }, x, 330, {
      bright: 30,
      reach: 330,
      halo: 16,
    }).route(`eight/${i * 2}`, `light-${i + 1}`, 'bright', 180, {
      shaping: {
        fit: { mode: 'hand', low: 0.002, high: 0.09 },
        clamp: { low: 0, high: 1 },
        smooth: { attackMs: 3, releaseMs: 220 },
        amount: 1,
      },
    });
  s.route('spectrum', 'lamps', 'tint', 100, laid())
    .route('spectrum', 'lamps', 'each', 2, laid())
    .route('spectrum', 'posts', 'level', 62, laid())
    .route('spectrum', 'lamps', 'rise', 12, laid());
  s.route('snare-hit', 'turns', 'next')
    .route('low-band', 'sun', 'tall', 1.5)
    .route('low-band', 'sun', 'rough', 50)
    .route('low-hit', 'crate', 'size', 0.74)
    .route('deck-level', 'buoy', 'swing', 180)
    .route('low-band', 'buoy', 'turn', 9)
    .route('low-band', 'water', 'swell', 26);
  s.route('spectrum', 'moths', 'rise', 60, laid())
    .route('spectrum', 'moths', 'twist', 200, laid())
    .route('shaker-band', 'far-lamps', 'each', 0.34);
  s.finish('shove-1', 'water', { kind: 'shove', by: null }, { across: 6, scale: 90 }).route(
    'deck-level',
    'shove-1',
    'across',
    40,
  );
  s.finish('blur-1', 'moths', { kind: 'blur' }, { radius: 2 })
    .finish('glow-1', WHOLE_PICTURE, { kind: 'glow' }, { strength: 55, radius: 30, from: 50 })
    .finish('grain-1', WHOLE_PICTURE, { kind: 'grain' }, { amount: 10 });
  return s.show();
}

const LETTERS = { kind: 'letters', of: null, wide: 0, align: 'middle', outline: 4 } as const;

/** An overlay that shows the camera itself, in a ring whose border is the sound's own wave, with short instructions under it. */
function pilotHouse(media: ExampleMedia): Show {
  const s = new Sheet('example-pilot', 'Pilot house', media);
  s.figure('night', 'Ground', { kind: 'ground' }, 0, 0).figure(
    'far-stars',
    'Stars',
    { kind: 'stars', count: 24 },
    0,
    360,
  );
  s.route('shaker-band', 'far-stars', 'glow');
  const says = s.maker('says', 'What to do', {
    kind: 'prompter',
    lines: [
      { at: 0, text: 'Say who you are' },
      { at: 12, text: 'Wave to the bank' },
      { at: 24, text: 'And now be still' },
    ],
  });
  s.overlay('wheel', 'Wheel')
    .figure(
      'pilot-camera',
      'Camera',
      { kind: 'camera', deviceId: '', deviceName: '', flipX: true, flipY: false },
      640,
      392,
      { size: 1.5 },
    )
    .figure(
      'ring',
      'Ring',
      {
        ...newEdgeForm({ width: 500, height: 500 }),
        outline: 'round',
        bulge: 'even',
        way: 'both',
        cuts: true,
        line: false,
      },
      640,
      400,
      { thick: 16, ink: '#f0b53c', reach: 60 },
    )
    .figure(
      'orders',
      'Orders',
      {
        ...LETTERS,
        text: 'Say who you are\nWave to the bank\nAnd now be still',
        of: 'says',
        face: 'heading',
        wide: 900,
      },
      640,
      74,
      { size: 0.8 },
    );
  s.route('wave', 'ring', 'swell', 40, laid())
    .route('deck-level', 'ring', 'glow')
    .route('deck-level', 'ring', 'glowOut')
    .route(says, 'orders', 'line', 3);
  return s.show();
}

/** An overlay for somebody who only talks: a lantern that bumps, a name whose letters each follow a band, a meter. */
function lampRoom(media: ExampleMedia): Show {
  const s = new Sheet('example-lamproom', 'Lamp room', media);
  s.figure('night', 'Ground', { kind: 'ground' }, 0, 0).figure(
    'lamps',
    'Lanterns',
    { kind: 'lanterns', count: 8, width: 700 },
    640,
    460,
  );
  s.route('voice-level', 'lamps', 'glow');
  s.overlay('talk', 'Talk')
    .figure(
      'lantern',
      'Lantern',
      { kind: 'image', media: media.badge, fileName: 'lantern.svg', flipX: false, flipY: false },
      200,
      190,
      { size: 0.5 },
    )
    .figure(
      'halo',
      'Halo',
      {
        ...newEdgeForm({ width: 270, height: 270 }),
        outline: 'round',
        bulge: 'even',
        way: 'outward',
        line: false,
      },
      200,
      190,
      { thick: 10, ink: '#e8572a', reach: 70 },
    )
    .figure('title', 'Title', { ...LETTERS, text: 'LAMPROOM', face: 'heading' }, 660, 120, { size: 1.1 })
    .figure('loud', 'Meter', { kind: 'meter', segments: 14, upright: true }, 1200, 90, { size: 0.6 });
  s.route('voice-level', 'lantern', 'size', 0.6)
    .route('voice-level', 'halo', 'swell', 26)
    .route('voice-level', 'halo', 'glowOut')
    .route('spectrum', 'title', 'rise', 44, laid())
    .route('spectrum', 'title', 'tint', 100, laid())
    .route('voice-level', 'loud', 'level');
  return s.show();
}

export const EXAMPLES: readonly Example[] = [
  {
    id: 'example-engine',
    name: 'Engine room',
    help: 'Dials, segmented meters, pistons that grow from their foot.',
    make: engineRoom,
  },
  {
    id: 'example-sounder',
    name: 'Depth sounder',
    help: 'A trace without gaps, sparks at the hits, an echo of the spectrum.',
    make: depthSounder,
  },
  {
    id: 'example-spray',
    name: 'Spray at the bow',
    help: 'Emitters that burst with the low drum.',
    make: spray,
  },
  {
    id: 'example-whirlpool',
    name: 'Whirlpool astern',
    help: 'Trails that zoom and turn on the beat.',
    make: whirlpool,
  },
  {
    id: 'example-lookout',
    name: 'The lookout’s glass',
    help: 'A camera, shifted, masked and glowing.',
    make: lookout,
  },
  {
    id: 'example-pier',
    name: 'The pier’s lamps',
    help: 'Copies with the spectrum over them, lights, a model, and a switch.',
    make: pier,
  },
  {
    id: 'example-pilot',
    name: 'Pilot house',
    help: 'An overlay: the camera itself, cut by a ring that is the sound’s wave, and short instructions.',
    make: pilotHouse,
  },
  {
    id: 'example-lamproom',
    name: 'Lamp room',
    help: 'An overlay for somebody who talks: a badge, a name whose letters move one by one, a meter.',
    make: lampRoom,
  },
];
