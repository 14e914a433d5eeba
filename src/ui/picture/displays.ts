'use client';
import { create } from 'zustand';
import { type Display, findDisplay } from '../../core/screens';
import { getSetting, setSetting } from '../../data/database';
import { say } from '../state/notices';

/** The browser's list of displays; types for it are not in TypeScript's library yet. */
interface DisplayDetails extends EventTarget {
  readonly screens: readonly (globalThis.Screen &
    Display & { readonly availLeft: number; readonly availTop: number })[];
}
type Asks = { getScreenDetails?: () => Promise<DisplayDetails> };
/** Which display each screen fills, on this machine: shows travel, displays do not. */
const SETTING = 'displays';

export const useDisplays = create<{
  readonly state: 'no' | 'unasked' | 'refused' | 'known';
  readonly connected: readonly Display[];
  readonly chosen: Readonly<Record<string, Display>>;
}>(() => ({ state: 'no', connected: [], chosen: {} }));
let details: DisplayDetails | null = null;

/** Reads what was chosen; the list of displays, too, if the browser was allowed to tell it before. */
export async function recallDisplays(): Promise<void> {
  useDisplays.setState({ chosen: await getSetting<Record<string, Display>>(SETTING, {}) });
  if (details || !(window as Asks).getScreenDetails) return;
  const allowed = await navigator.permissions.query({ name: 'window-management' as PermissionName }).then(
    (p) => p.state,
    () => 'prompt',
  );
  if (allowed === 'granted') await askDisplays();
  else useDisplays.setState({ state: allowed === 'denied' ? 'refused' : 'unasked' });
}

/** Asks the browser for its displays; it asks the user the first time. */
export async function askDisplays(): Promise<void> {
  try {
    details = await (window as Asks).getScreenDetails!();
    details.addEventListener('screenschange', look);
    look();
  } catch {
    useDisplays.setState({ state: 'refused' });
  }
}
function look(): void {
  useDisplays.setState({
    state: 'known',
    connected: (details?.screens ?? []).map(({ label, left, top, width, height }) => ({
      label,
      left,
      top,
      width,
      height,
    })),
  });
}

/** @param display - null for none: it fills the display that its window is on */
export async function chooseDisplay(screenId: string, display: Display | null): Promise<void> {
  const chosen = { ...useDisplays.getState().chosen };
  if (display) chosen[screenId] = display;
  else delete chosen[screenId];
  useDisplays.setState({ chosen });
  await setSetting(SETTING, chosen).catch(() =>
    say('warning', 'The browser would not keep which display it is; choose it again the next time.'),
  );
}

/** Where the window of a screen opens, as window.open takes it; '' where the browser likes. */
export function windowPlace(screenId: string): string {
  const { chosen, connected } = useDisplays.getState(),
    wanted = chosen[screenId],
    i = wanted ? findDisplay(wanted, connected) : -1,
    d = details?.screens[i];
  return d ? `,left=${d.availLeft},top=${d.availTop}` : '';
}

/**
 * Fills the chosen display with this window, else the one that it is on. Needs a gesture, or one lent by the window that has it.
 * @throws when the browser does not let it
 */
export async function fillDisplay(screenId: string): Promise<void> {
  const wanted = (await getSetting<Record<string, Display>>(SETTING, {}))[screenId];
  // Only asked for when one was chosen, which the browser has allowed then.
  const connected = wanted
    ? ((await (window as Asks).getScreenDetails?.().then(
        (d) => d.screens,
        () => [],
      )) ?? [])
    : [];
  const screen = wanted && connected[findDisplay(wanted, connected)];
  await document.documentElement.requestFullscreen({
    navigationUI: 'hide',
    ...(screen && { screen }),
  } as FullscreenOptions);
}
