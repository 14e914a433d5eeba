import type { Nth } from '../nth';
import type { Milliseconds, Seconds } from '../units';

export const WAVE_SHAPES = ['sine', 'triangle', 'ramp', 'square', 'wander'] as const;
export type WaveShape = (typeof WAVE_SHAPES)[number];
export const LIST_ORDERS = ['onward', 'there and back', 'any'] as const;
export const CLOCK_READINGS = ['position', 'sinceOpened', 'beats'] as const;
/** What is made of two signals. A ratio to nothing is nothing. */
export const PAIRINGS = ['sum', 'difference', 'product', 'ratio', 'greatest', 'least'] as const;
export type Pairing = (typeof PAIRINGS)[number];
export const GATE_SHUT = ['rest', 'hold'] as const;
export const WAYS = ['up', 'down', 'both'] as const;
/** What a controller on the table sends, as MIDI names it. */
export const TOUCH_MESSAGES = ['controller', 'note', 'bend', 'pressure'] as const;

/** Names the signal that a maker takes events or a level from; null until one is chosen. */
export type Source = string | null;

/** Of what acts at events: whose, and which of them. */
interface AtEvents {
  readonly on: Source;
  /** Null or absent for each. Beats are counted from a bar's first. */
  readonly nth?: Nth | null;
}
/** Where colours at chance lie: two ends each. A hue may go past 360° from its first end to its second. */
export interface ColourRanges {
  /** Degrees, 0–360. */ readonly hue: readonly [number, number];
  /** 0 black to 1 white. */ readonly lightness: readonly [number, number];
  /** 0 grey to 1, the strongest that a screen shows. */ readonly strength: readonly [number, number];
}
export const USUAL_RANGES: ColourRanges = { hue: [0, 360], lightness: [0.6, 0.85], strength: [0.6, 1] };

/** What a maker gives, and how. Part of the show. All events carry their own time and strength. */
export type Making =
  /** A slow wave. `every` is cycles a second, or beats to a cycle; `wander` goes smoothly from one chance value to the next. */
  | {
      readonly kind: 'oscillator';
      readonly shape: WaveShape;
      readonly every: { readonly unit: 'hz' | 'beats'; readonly value: number };
      /** 0 to 1 of a cycle. */ readonly phase: number;
    }
  /** A new chance value at every event: anywhere between 0 and 1, or one of so many evenly spaced. Never the same choice twice running. */
  | (AtEvents & { readonly kind: 'random'; readonly choices: number | null })
  /** A new colour at every event: of a palette, or at chance within ranges. */
  | (AtEvents & {
      readonly kind: 'colours';
      readonly palette: readonly string[];
      readonly order: (typeof LIST_ORDERS)[number];
      /** Null or absent: of the palette. */
      readonly chance?: ColourRanges | null;
    })
  /** Changes between 0 and 1 at every event. */
  | (AtEvents & { readonly kind: 'flip' })
  /** Rises, stays and falls once at every event, as high as the event is strong. */
  | (AtEvents & {
      readonly kind: 'oneShot';
      readonly attackMs: Milliseconds;
      readonly holdMs: Milliseconds;
      readonly releaseMs: Milliseconds;
    })
  /** Goes to wherever another signal leaps in so many seconds, in a straight line. */
  | { readonly kind: 'glide'; readonly of: Source; readonly seconds: Seconds }
  /** One value further at every event. */
  | (AtEvents & {
      readonly kind: 'list';
      readonly values: readonly number[];
      readonly order: (typeof LIST_ORDERS)[number];
    })
  /** An event, or 0 and 1, when a level goes past a value; it must come back by `back` before it can do so again. */
  | {
      readonly kind: 'crossing';
      readonly of: Source;
      readonly at: number;
      readonly back: number;
      readonly way: (typeof WAYS)[number];
      readonly gives: 'event' | 'switch';
    }
  /** Lets a signal through while another is past a value; shut, it gives nothing or the last that went through. */
  | {
      readonly kind: 'gate';
      readonly of: Source;
      readonly and: Source;
      readonly at: number;
      /** The other must come back by so much before it shuts. */ readonly back: number;
      readonly shut: (typeof GATE_SHUT)[number];
    }
  /** One number of two signals. */
  | { readonly kind: 'pair'; readonly of: Source; readonly and: Source; readonly makes: Pairing }
  /** An event whenever a signal has changed by so much since the last. */
  | { readonly kind: 'change'; readonly of: Source; readonly by: number }
  /** A slider that is moved by hand, by a controller or by a message over the network. */
  | { readonly kind: 'slider'; readonly touch: Touch | null }
  /** A button: an event when it is pressed, and 1 while it is (or, latching, from one press to the next). */
  | {
      readonly kind: 'button';
      readonly latching: boolean;
      readonly key: string | null;
      readonly touch: Touch | null;
    }
  /** Seconds of the show's position or since it was opened, or beats. */
  | { readonly kind: 'clock'; readonly reading: (typeof CLOCK_READINGS)[number] }
  /** Short texts, each at its second of the show's position; an event at each, and the number of the present one. */
  | { readonly kind: 'prompter'; readonly lines: readonly { readonly at: Seconds; readonly text: string }[] };
export type MakingKind = Making['kind'];

/** What of the outside world moves a hand control. */
export type Touch =
  | {
      readonly by: 'midi';
      /** Where it was touched; any of that kind answers when it is not there. */ readonly device: string;
      readonly message: (typeof TOUCH_MESSAGES)[number];
      /** 1–16 */ readonly channel: number;
      /** Controller or note, 0–127. */ readonly number: number;
    }
  | {
      readonly by: 'osc';
      readonly address: string;
      /** Numbers that become 0 and 1. */ readonly low: number;
      readonly high: number;
    };

/** Whether messages of this kind bear a number of their own: which controller, which note. */
export const isNumbered = (message: (typeof TOUCH_MESSAGES)[number]): boolean =>
  message === 'controller' || message === 'note';

export type MakerSignalKind = 'level' | 'event' | 'colour';

export function makerSignalKind(making: Making): MakerSignalKind {
  switch (making.kind) {
    case 'crossing':
      return making.gives === 'event' ? 'event' : 'level';
    case 'change':
      return 'event';
    case 'colours':
      return 'colour';
    default:
      return 'level';
  }
}

/** Whether others may take its events, though it also is a level. */
export function givesEvents(making: Making): boolean {
  return (
    makerSignalKind(making) === 'event' ||
    making.kind === 'button' ||
    making.kind === 'flip' ||
    making.kind === 'oneShot' ||
    making.kind === 'list' ||
    making.kind === 'prompter' ||
    making.kind === 'random' ||
    making.kind === 'colours'
  );
}

/** Which events of its source count; null where each does. */
export function nthOfMaking(making: Making): Nth | null {
  const nth = 'on' in making ? making.nth : null;
  return nth && nth.every > 1 ? nth : null;
}

/** What it takes events or a level from, if it takes any. */
export function sourceOf(making: Making): Source {
  return 'on' in making ? making.on : 'of' in making ? making.of : null;
}

/** The second signal that it takes, if it takes two. */
export function otherSourceOf(making: Making): Source {
  return 'and' in making ? making.and : null;
}
/** All that it takes from. */
export function sourcesOf(making: Making): readonly string[] {
  return [sourceOf(making), otherSourceOf(making)].filter((s) => s !== null);
}

/** What it reads at its highest. */
export function makerUsual(making: Making): number {
  switch (making.kind) {
    case 'list':
      return Math.max(1e-3, ...making.values.map(Math.abs));
    case 'clock':
      return making.reading === 'beats' ? 16 : 60;
    case 'prompter':
      return Math.max(1, making.lines.length);
    default:
      return 1;
  }
}

/** Whether its number is that of another signal, or made of others'. */
export function follows(making: Making): boolean {
  return making.kind === 'glide' || making.kind === 'gate' || making.kind === 'pair';
}

/** Whether its number lies between 0 and 1 by its nature. */
export function isShare(making: Making): boolean {
  return making.kind !== 'list' && making.kind !== 'clock' && making.kind !== 'prompter' && !follows(making);
}

export const MAKING_LABELS: Readonly<Record<MakingKind, string>> = {
  oscillator: 'Oscillator',
  random: 'Random',
  colours: 'Colours',
  flip: 'Flip',
  oneShot: 'One-shot',
  glide: 'Glide',
  list: 'List',
  crossing: 'Crossing',
  gate: 'Gate',
  pair: 'Two signals',
  change: 'Change',
  slider: 'Slider',
  button: 'Button',
  clock: 'Clock',
  prompter: 'Timed text',
};
/** What it does, for the person who chooses. */
export const MAKING_HELP: Readonly<Record<MakingKind, string>> = {
  oscillator: 'A slow wave, in Hz or in beats.',
  random: 'A new chance value at every event.',
  colours: 'Another colour of a palette at every event.',
  flip: 'Between 0 and 1 at every event.',
  oneShot: 'Rises, stays and falls at every event.',
  glide: 'Takes its time to follow another signal.',
  list: 'One value further at every event.',
  crossing: 'An event, or on and off, when a level passes a value.',
  gate: 'Lets a signal through while another is there.',
  pair: 'Sum, difference, product, ratio, greatest or least.',
  change: 'An event whenever a signal has changed.',
  slider: 'Moved by hand or by a controller.',
  button: 'Pressed by hand, by a key or by a controller.',
  clock: 'The seconds or the beats that have gone.',
  prompter: 'Short texts at their times, for whoever stands before the camera.',
};

export function newMaking(kind: MakingKind, source: Source): Making {
  switch (kind) {
    case 'oscillator':
      return { kind, shape: 'sine', every: { unit: 'beats', value: 4 }, phase: 0 };
    case 'random':
      return { kind, on: source, choices: null };
    case 'colours':
      return { kind, on: source, palette: ['#e2452b', '#f2b632', '#2f7f86', '#efe4cd'], order: 'any' };
    case 'flip':
      return { kind, on: source };
    case 'oneShot':
      return { kind, on: source, attackMs: 40, holdMs: 120, releaseMs: 500 };
    case 'glide':
      return { kind, of: source, seconds: 2 };
    case 'list':
      return { kind, on: source, values: [0, 0.25, 0.5, 1], order: 'onward' };
    case 'crossing':
      return { kind, of: source, at: 0.1, back: 0.02, way: 'up', gives: 'event' };
    case 'gate':
      return { kind, of: source, and: null, at: 0.1, back: 0.02, shut: 'rest' };
    case 'pair':
      return { kind, of: source, and: null, makes: 'sum' };
    case 'change':
      return { kind, of: source, by: 0.05 };
    case 'slider':
      return { kind, touch: null };
    case 'button':
      return { kind, latching: false, key: null, touch: null };
    case 'clock':
      return { kind, reading: 'position' };
    case 'prompter':
      return {
        kind,
        lines: [
          { at: 0, text: 'Look up' },
          { at: 10, text: 'Wave to the far bank' },
        ],
      };
  }
}

/**
 * The way by which a maker would come to feed itself if it took its source from `from`: ids from the maker back to itself, or
 * null when it would not.
 */
export function loopThrough(
  makers: readonly { readonly id: string; readonly making: Making }[],
  maker: string,
  from: string,
): readonly string[] | null {
  const byId = new Map(makers.map((m) => [m.id, m.making])),
    cameFrom = new Map<string, string>([[from, maker]]),
    open = [from];
  for (let at = open.pop(); at !== undefined; at = open.pop()) {
    if (at === maker) {
      const back = [maker];
      for (let x = cameFrom.get(maker)!; x !== maker; x = cameFrom.get(x)!) back.unshift(x);
      return [maker, ...back];
    }
    const making = byId.get(at);
    if (!making) continue;
    for (const source of sourcesOf(making)) {
      if (cameFrom.has(source)) continue;
      cameFrom.set(source, at);
      open.push(source);
    }
  }
  return null;
}
