'use client';
import { create } from 'zustand';
import type { Screen } from '../../core/screens';
import { SCREEN_HELLO } from '../../engine/readers';
import { say } from '../state/notices';
import { windowPlace } from './displays';

/** The screen windows that this window knows: those that it opened, and those that lived on while it was reloaded. */
const windows = new Map<string, Window>();
const NAME = 'batucada-';
/** Screens, by what their windows do now: `open` at all, `full` when they fill a display, `cards` when a test card lies over them. */
export const useScreens = create<Readonly<Record<'open' | 'full' | 'cards', readonly string[]>>>(() => ({
  open: [],
  full: [],
  cards: [],
}));

/** What a control window says to a screen window beside the show itself. */
export const SCREEN_WORD = 'batucada-screen-word';
export type ScreenWord = { readonly type: 'card' | 'fill'; readonly on: boolean };
/** How often windows are looked at: they may be closed, filled or covered from inside. */
const LOOK_MS = 500;
/** A window that was told something has done it by then, if nothing hinders it. */
const TOLD_MS = 80;
/** By then a window that was told to fill its display has done so. */
const FILLED_MS = 2500;

/** Opens a screen's window, or brings the open one to the front. @returns null when the browser does not allow it */
export function openScreen({ id, width, height }: Screen): Window | null {
  const known = windows.get(id);
  if (known && !known.closed) {
    known.focus();
    return known;
  }
  const opened = window.open(
    `/screen?id=${encodeURIComponent(id)}`,
    `${NAME}${id}`,
    `popup,width=${Math.min(width, 1600)},height=${Math.min(height, 900)}${windowPlace(id)}`,
  );
  if (opened) know(id, opened);
  return opened;
}
function know(id: string, opened: Window): void {
  if (windows.get(id) === opened) return;
  windows.set(id, opened);
  look();
  const timer = setInterval(() => {
    look();
    if (windows.get(id) !== opened || opened.closed) clearInterval(timer);
  }, LOOK_MS);
}
/** Screens whose windows were opened before this window was reloaded ask it for the show; so it knows them again. @returns what ends it */
export function knowScreens(): () => void {
  const heard = (e: MessageEvent): void => {
    if (e.origin !== location.origin || e.data !== SCREEN_HELLO) return;
    const { name } = e.source as Window;
    if (name.startsWith(NAME)) know(name.slice(NAME.length), e.source as Window);
  };
  window.addEventListener('message', heard);
  return () => window.removeEventListener('message', heard);
}

function look(): void {
  const open = [...windows.keys()].filter((id) => !windows.get(id)!.closed),
    before = useScreens.getState();
  const now = {
    open,
    full: open.filter((id) => pageOf(id)?.fullscreenElement),
    cards: open.filter((id) => pageOf(id)?.querySelector(':root[data-card=true]')),
  };
  if ((['open', 'full', 'cards'] as const).some((k) => now[k].join() !== before[k].join()))
    useScreens.setState(now);
}
/** Null while it is closed, or not there yet. */
function pageOf(id: string): Document | null {
  try {
    return windows.get(id)?.document ?? null;
  } catch {
    return null;
  }
}

/** Lays a test card over a screen's picture, or takes it away. */
export function showCard(id: string, on: boolean): void {
  tell(id, { type: 'card', on });
}
/** Has a screen's window fill its display, or no longer. Must be called from a gesture, which is lent to that window. */
export function fillScreen({ id, name }: Screen, on: boolean): void {
  tell(id, { type: 'fill', on });
  setTimeout(() => {
    if (on && windows.get(id)?.closed === false && !pageOf(id)?.fullscreenElement)
      say('warning', `The browser did not let ${name} fill its display. Press F in its window.`);
  }, FILLED_MS);
}
function tell(id: string, word: ScreenWord): void {
  const options: WindowPostMessageOptions & { delegate?: string } = {
    targetOrigin: location.origin,
    ...(word.type === 'fill' && word.on && { delegate: 'fullscreen' }),
  };
  windows.get(id)?.postMessage({ about: SCREEN_WORD, ...word }, options);
  setTimeout(look, TOLD_MS);
}
