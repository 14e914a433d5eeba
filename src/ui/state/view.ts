'use client';
import { create } from 'zustand';
import type { Ear, Target } from '../../core/show';
import { setSetting } from '../../data/database';

export type PlaceName = 'listen' | 'route' | 'picture' | 'rig' | 'overlays' | 'tonight' | 'bank';
/** In the order of the work; the keys are their numbers. */
export const PLACES: readonly { readonly name: PlaceName; readonly label: string }[] = [
  { name: 'listen', label: 'Listen' },
  { name: 'route', label: 'Route' },
  { name: 'picture', label: 'Picture' },
  { name: 'rig', label: 'Rig' },
  { name: 'overlays', label: 'Overlays' },
  { name: 'tonight', label: 'Tonight' },
  { name: 'bank', label: 'Far bank' },
];

export interface View {
  readonly place: PlaceName;
  readonly mode: 'night' | 'day';
  readonly input: string | null;
  readonly signal: string | null;
  readonly route: string | null;
  /** A figure, a group of figures, the whole picture or the camera. */
  readonly figure: string | null;
  /** The overlay that is worked on. */
  readonly overlay: string | null;
  /** Figures that are selected together. */
  readonly also: readonly string[];
  /** A figure that was just made by duplicating another: it asks what differs. */
  readonly copied: string | null;
  /** The finish that is open. */
  readonly finish: string | null;
  readonly ear: string | null;
  /** An ear that is being tried on the sound. */
  readonly trying: Ear | null;
  /** The parameter that a new route is being made for. */
  readonly moving: Target | null;
  /** A signal that was just kept and waits for something to move. */
  readonly aiming: string | null;
  readonly keys: boolean;
  /** How bright the whole interface is: 1, or less for dark rooms. No output knows of it. */
  readonly bright: number;
  /** What is performed goes on; nothing of the show can be edited. */
  readonly locked: boolean;
  /** Tonight is prepared, not performed. */
  readonly preparing: boolean;
  /** The look whose values are in view while it is prepared. */
  readonly openLook: string | null;
  /** A row of numbers that is being fanned out from the thing it was dropped on. */
  readonly fanning: {
    readonly signal: string;
    readonly target: Target;
    /** The things that are asked for, in their order; absent: all that are like the target's. */
    readonly only?: readonly string[];
  } | null;
  /** New routes are tried unseen. */
  readonly unseen: boolean;
  /** Numbers of the selected figure are written on the picture, in this window only. */
  readonly numbers: boolean;
  /** How the rig is seen: the room, or the laser's field. */
  readonly rig: 'front' | 'above' | 'laser';
  /** A figure of the laser. */
  readonly laser: string | null;
  /** Routes as a list in place of ribbons. */
  readonly list: boolean;
}
const NOTHING = {
  input: null,
  signal: null,
  route: null,
  figure: null,
  overlay: null,
  also: [],
  copied: null,
  finish: null,
  laser: null,
  ear: null,
  trying: null,
  moving: null,
  aiming: null,
  fanning: null,
  openLook: null,
} satisfies Partial<View>;
export const useView = create<View>(() => ({
  ...NOTHING,
  place: 'listen',
  mode: 'night',
  keys: false,
  bright: 1,
  locked: false,
  preparing: false,
  unseen: false,
  numbers: false,
  list: false,
  rig: 'front',
}));

export const look = (change: Partial<View>): void => useView.setState(change);

/** Another show: what was selected in the one before means nothing in it. */
export const selectNothing = (): void => look(NOTHING);

export function goTo(place: PlaceName): void {
  look({ place, moving: null });
  history.replaceState(null, '', `#${place}`);
}
export function setMode(mode: 'night' | 'day'): void {
  look({ mode });
  void setSetting('mode', mode).catch(() => undefined);
}
/** Kept: a reload on stage opens nothing to edits. */
export function setLocked(locked: boolean): void {
  look({ locked, ...(locked && { preparing: false }) });
  void setSetting('locked', locked).catch(() => undefined);
}

const BRIGHT = [1, 0.65, 0.4];
/** The next of three brightnesses, round and round. */
export function nextBright(): void {
  const { bright } = useView.getState(),
    next = BRIGHT[(BRIGHT.indexOf(bright) + 1) % BRIGHT.length]!;
  look({ bright: next });
  void setSetting('bright', next).catch(() => undefined);
}
