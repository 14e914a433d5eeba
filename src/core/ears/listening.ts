import type { PhraseBars } from '../beat/barGrid';
import { STROKES, type Stroke } from '../hearing/hitListener';
import { TURNS } from '../hearing/structureListener';
import type { Nth } from '../nth';
import type { Hz, Milliseconds } from '../units';
import type { BandSet } from './bandSet';
import type { Weighting } from './weighting';

export { PHRASES } from '../beat/barGrid';
export type { Weighting } from './weighting';

export const LEVEL_READINGS = ['peak', 'truePeak', 'rms', 'momentary', 'shortTerm', 'integrated'] as const;
export const BAND_READINGS = ['energy', 'strongest', 'frequency'] as const;
export const PITCH_READINGS = ['note', 'confidence'] as const;
export const NOTE_BEGINS_READINGS = ['event', 'note'] as const;
export const BEAT_READINGS = ['beat', 'bar', 'phase', 'barPhase', 'tempo', 'confidence'] as const;
/** What is told of the course of a piece: what happens, how far a build has come, and where in a phrase of bars it is. */
export const STRUCTURE_READINGS = [...TURNS, 'progress', 'phrase', 'phrasePlace'] as const;
export const NOTE_READINGS = ['on', 'chord', 'velocity', 'pitch', 'held', 'keys'] as const;
/** Keys that a row of velocities holds unless it is told otherwise: C2 to C6. */
export const USUAL_KEYS = { low: 36, high: 84 } as const;
/** Keys that may be waited for together. */
export const CHORD_MOST = 10;
/** What a hit ear waits for: a stroke known by its sound, or a leap in a range. */
export const HIT_KINDS = [...STROKES, 'range'] as const;

/** What an ear listens for. Part of the show. */
export type Listening =
  | { readonly kind: 'level'; readonly reading: (typeof LEVEL_READINGS)[number] }
  | {
      readonly kind: 'band';
      readonly low: Hz;
      readonly high: Hz;
      readonly reading: (typeof BAND_READINGS)[number];
      readonly weighting: Weighting;
      readonly gainDb: number;
    }
  | {
      readonly kind: 'bands';
      readonly set: BandSet;
      /** Inner edges of the sets of three and five; empty for the usual ones. */ readonly crossovers: readonly Hz[];
      readonly weighting: Weighting;
      /** One per band, or empty. */ readonly gainsDb: readonly number[];
    }
  | {
      readonly kind: 'hit';
      readonly what: Stroke | 'range';
      /** The range, where `what` is one. */ readonly low: Hz;
      readonly high: Hz;
      /** 0 (only the strongest) to 1 (everything) */ readonly sensitivity: number;
      /** Shortest time from one hit to the next. */ readonly holdOffMs: Milliseconds;
      /** Which of them count; null or absent for each. */ readonly nth?: Nth | null;
    }
  | { readonly kind: 'pitch'; readonly reading: (typeof PITCH_READINGS)[number] }
  | {
      readonly kind: 'noteBegins';
      readonly reading: (typeof NOTE_BEGINS_READINGS)[number];
      /** Which of them count; null or absent for each. */ readonly nth?: Nth | null;
    }
  | { readonly kind: 'brightness' }
  | { readonly kind: 'presence'; readonly what: 'sound' | 'speech' }
  | {
      readonly kind: 'beat';
      readonly reading: (typeof BEAT_READINGS)[number];
      /** Beats of this ear to one of the tempo's: 2 is twice as many. */ readonly multiple: number;
      /** Which of its beats or bars count, the first being a bar's first. */ readonly nth?: Nth | null;
      /** It is heard so much before it falls: for a route with a lead, never in a show. */ readonly leadMs?: Milliseconds;
    }
  | {
      readonly kind: 'structure';
      readonly reading: (typeof STRUCTURE_READINGS)[number];
      /** Length of the phrases that are told, in bars. */ readonly bars: PhraseBars;
      /** Which of its events count; null or absent for each. */ readonly nth?: Nth | null;
    }
  | {
      readonly kind: 'vector';
      readonly of: 'spectrum' | 'waveform';
      readonly scale: 'linear' | 'log' | 'mel';
      readonly points: number;
    }
  | {
      readonly kind: 'notes';
      /** Channels 1–16, and tracks of a file from 1; empty for all. */ readonly channels: readonly number[];
      readonly tracks: readonly number[];
      readonly reading: (typeof NOTE_READINGS)[number];
      /** Of `keys`: the lowest and the highest key of the row, 0–127. */ readonly low?: number;
      readonly high?: number;
      /** Of `chord`: the key, or the keys that must sound together. */ readonly keys?: readonly number[];
      /** Which of its events count. */ readonly nth?: Nth | null;
    };

/** Kind of a signal: a *level* is always there, an *event* happens, a *vector* is a row of levels. None silently becomes another. */
export type SignalKind = 'level' | 'event' | 'vector';

export function signalKindOf(listening: Listening): SignalKind {
  switch (listening.kind) {
    case 'hit':
      return 'event';
    case 'noteBegins':
      return listening.reading === 'event' ? 'event' : 'level';
    case 'beat':
      return listening.reading === 'beat' || listening.reading === 'bar' ? 'event' : 'level';
    case 'structure':
      return listening.reading === 'progress' || listening.reading === 'phrasePlace' ? 'level' : 'event';
    case 'notes':
      return listening.reading === 'on' || listening.reading === 'chord'
        ? 'event'
        : listening.reading === 'keys'
          ? 'vector'
          : 'level';
    case 'bands':
    case 'vector':
      return 'vector';
    default:
      return 'level';
  }
}

/** Which events of an ear count; null where each does. */
export function nthOf(listening: Listening): Nth | null {
  const nth = 'nth' in listening && signalKindOf(listening) === 'event' ? listening.nth : null;
  return nth && nth.every > 1 ? nth : null;
}

/** The keys of a row of velocities. */
export function keysOf({ low, high }: Extract<Listening, { kind: 'notes' }>): {
  readonly low: number;
  readonly high: number;
} {
  return { low: low ?? USUAL_KEYS.low, high: Math.max(low ?? USUAL_KEYS.low, high ?? USUAL_KEYS.high) };
}

/** What a signal's number is, for those who show or fit it. */
export type Measure = 'amplitude' | 'loudness' | 'hz' | 'note' | 'share' | 'bpm' | 'strength' | 'count';

export function measureOf(listening: Listening): Measure {
  switch (listening.kind) {
    case 'level':
      return listening.reading === 'momentary' ||
        listening.reading === 'shortTerm' ||
        listening.reading === 'integrated'
        ? 'loudness'
        : 'amplitude';
    case 'band':
      return listening.reading === 'frequency' ? 'hz' : 'amplitude';
    case 'bands':
      return 'amplitude';
    case 'hit':
      return 'strength';
    case 'pitch':
      return listening.reading === 'note' ? 'note' : 'share';
    case 'noteBegins':
      return listening.reading === 'note' ? 'note' : 'strength';
    case 'brightness':
      return 'hz';
    case 'presence':
      return 'share';
    case 'beat':
      return listening.reading === 'tempo'
        ? 'bpm'
        : signalKindOf(listening) === 'event'
          ? 'strength'
          : 'share';
    case 'structure':
      return signalKindOf(listening) === 'event' ? 'strength' : 'share';
    case 'vector':
      return 'amplitude';
    case 'notes':
      return listening.reading === 'pitch' ? 'note' : listening.reading === 'held' ? 'count' : 'strength';
  }
}

/**
 * What such a signal usually reads when it is loud. An automatic fit never raises a sound by more than 24 dB
 * beyond it, so that hiss is not blown up to a full movement.
 */
export function usualHigh(listening: Listening): number {
  switch (measureOf(listening)) {
    case 'amplitude':
      return listening.kind === 'level' ? 0.25 : 0.08;
    case 'loudness':
      return 0.16;
    case 'hz':
      return listening.kind === 'band' ? listening.high : 6000;
    case 'note':
      return 84;
    case 'bpm':
      return 180;
    case 'count':
      return 4;
    case 'share':
    case 'strength':
      return 1;
  }
}

export const FLAT: Weighting = { kind: 'flat' };
/** A range's energy, unweighted. */
export const bandOf = (low: Hz, high: Hz): Listening => ({
  kind: 'band',
  low,
  high,
  reading: 'energy',
  weighting: FLAT,
  gainDb: 0,
});
export const rangeHit = (low: Hz, high: Hz, sensitivity = 0.5): Listening => ({
  kind: 'hit',
  what: 'range',
  low,
  high,
  sensitivity,
  holdOffMs: 85,
});
export const strokeHit = (what: Stroke, sensitivity = 0.5): Listening => ({
  kind: 'hit',
  what,
  low: 20,
  high: 20000,
  sensitivity,
  holdOffMs: 36,
});
