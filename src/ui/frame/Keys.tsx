'use client';
import { Box, Dialog, Typography } from '@mui/material';
import { useEffect, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { changeRoutes, muteRoute, removeRoutes } from '../../core/show';
import {
  currentShow,
  edit,
  redoEdit,
  seek,
  setDark,
  setFreeze,
  setPlaying,
  undoEdit,
  useSession,
  perform,
} from '../state/session';
import { fitToHeard } from '../bench/fitToHeard';
import { send, tryIt } from '../bench/RouteActs';
import { goTo, look, nextBright, PLACES, useView } from '../state/view';
import { FONT } from '../theme/tokens';
import { nextMultiple } from './TempoMenu';
import { isTyped } from './typing';

const SHORTCUTS: readonly (readonly [string, string])[] = [
  ['1 – 7', 'the places'],
  ['0', 'dark, and back (Alt 0 while typing)'],
  ['9', 'freeze, and back (Alt 9 while typing)'],
  ['Space', 'play or pause; in Tonight: go'],
  ['Home', 'to the start; in Tonight: the safe look'],
  ['Backspace', 'in Tonight: back'],
  ['D', 'the interface dimmer, dimmer still, or bright'],
  ['L', 'in Tonight: lock; held for a second: open it'],
  ['Ctrl Z', 'undo'],
  ['Ctrl Shift Z', 'redo'],
  ['H', 'the tempo half, double, or as it is'],
  ['B', 'the bar begins now'],
  ['M', 'mute the selected route'],
  ['S', 'solo the selected route'],
  ['Y', 'bypass its shaping'],
  ['U', 'try it unseen, in this window only'],
  ['Enter', 'send what is tried unseen'],
  ['L', 'fit the selected route to what was heard'],
  ['Delete', 'delete the selected route'],
  ['Esc', 'let go of what is selected or tried'],
  ['Arrow keys', 'step a number; Shift: ten steps, Alt: a tenth'],
  ['Enter', 'on a number: type it'],
  ['F', 'on a screen: fill the display'],
  ['?', 'this list'],
];

const isInList = (e: KeyboardEvent): boolean =>
  e.target instanceof HTMLElement &&
  e.target.closest('[role=menu],[role=listbox],.MuiPopover-root,[role=combobox][aria-expanded=true]') !==
    null;
/** Everywhere but where text is typed: on a number that is dragged or a switch, a digit means what it means everywhere. */
const NOT_TYPING = { enableOnFormTags: true, ignoreEventWhen: isTyped };
/** Letters and Escape belong to an open menu as long as it has the focus. */
const USUAL = {
  enableOnFormTags: true,
  ignoreEventWhen: (e: KeyboardEvent): boolean => isTyped(e) || isInList(e),
};
/** Dark and freeze come first: nothing that has the focus may keep a key from them. */
const FIRST = { eventListenerOptions: { capture: true } };

/** A number has keys of its own for the ends of its range and its usual value. */
function onNumber(e: KeyboardEvent): boolean {
  return e.target instanceof HTMLElement && e.target.closest('[role=slider]') !== null;
}

function selectedRoute(): string | null {
  const { route } = useView.getState();
  return currentShow().routes.some((r) => r.id === route) ? route : null;
}

/** Keyboard of every place. */
export function Keys() {
  const open = useView((v) => v.keys);
  // How the focus came to where it is; at the key itself it is too late to ask, for a key makes any focus visible.
  const byKeyboard = useRef(false);
  // What was typed since the focus came is undone by the field itself; a field that only has the focus keeps no undo from the show.
  const hasTyped = useRef(false);
  useEffect(() => {
    const focused = (e: FocusEvent): void => {
      byKeyboard.current = e.target instanceof HTMLElement && e.target.matches(':focus-visible');
      hasTyped.current = false;
    };
    const typed = (): void => {
      hasTyped.current = true;
    };
    document.addEventListener('focusin', focused);
    document.addEventListener('input', typed, true);
    return () => {
      document.removeEventListener('focusin', focused);
      document.removeEventListener('input', typed, true);
    };
  }, []);
  const undoing = {
    enableOnFormTags: true,
    preventDefault: true,
    ignoreEventWhen: (e: KeyboardEvent): boolean => isInList(e) || (isTyped(e) && hasTyped.current),
  };
  useHotkeys(
    PLACES.map((_, i) => String(i + 1)),
    (e) => goTo(PLACES[Number(e.key) - 1]!.name),
    NOT_TYPING,
  );
  useHotkeys('0', () => setDark(!useSession.getState().dark), { ...NOT_TYPING, ...FIRST });
  useHotkeys('9', () => setFreeze(!useSession.getState().freeze), { ...NOT_TYPING, ...FIRST });
  useHotkeys('alt+0', () => setDark(!useSession.getState().dark), {
    ...FIRST,
    enableOnFormTags: true,
    preventDefault: true,
  });
  useHotkeys('alt+9', () => setFreeze(!useSession.getState().freeze), {
    ...FIRST,
    enableOnFormTags: true,
    preventDefault: true,
  });
  useHotkeys(
    'space',
    (e) => {
      const control =
        e.target instanceof HTMLElement
          ? e.target.closest<HTMLElement>(
              'button,a,[role=button],[role=switch],[role=radio],[role=tab],input',
            )
          : null;
      // Whoever goes from control to control by keyboard presses them with the space bar. A button that was only clicked lets go.
      if (control && byKeyboard.current) return;
      control?.blur();
      e.preventDefault();
      // On stage the space bar never stops the sound.
      if (useView.getState().place === 'tonight') perform({ do: 'go' });
      else setPlaying(!useSession.getState().playing);
    },
    USUAL,
  );
  useHotkeys(
    'home',
    (e) => {
      if (onNumber(e)) return;
      if (useView.getState().place === 'tonight') perform({ do: 'home' });
      else seek(0);
    },
    USUAL,
  );
  useHotkeys('mod+z', undoEdit, undoing);
  useHotkeys(['mod+shift+z', 'mod+y'], redoEdit, undoing);
  useHotkeys('h', nextMultiple, USUAL);
  useHotkeys('d', nextBright, USUAL);
  useHotkeys('b', () => perform({ do: 'bar now' }), USUAL);
  useHotkeys(
    'm',
    () => {
      const id = selectedRoute();
      if (id)
        edit('mute or unmute a route', muteRoute(id, !currentShow().routes.find((r) => r.id === id)!.muted));
    },
    USUAL,
  );
  useHotkeys(
    's',
    () => {
      const id = selectedRoute();
      if (id)
        edit(
          'solo a route, or not',
          changeRoutes([id], { soloed: !currentShow().routes.find((r) => r.id === id)!.soloed }),
        );
    },
    USUAL,
  );
  useHotkeys(
    'y',
    () => {
      const id = selectedRoute();
      if (id)
        edit(
          'bypass a route, or not',
          changeRoutes([id], { bypassed: !currentShow().routes.find((r) => r.id === id)!.bypassed }),
        );
    },
    USUAL,
  );
  useHotkeys(
    'u',
    () => {
      const id = selectedRoute();
      if (id) tryIt(id);
    },
    USUAL,
  );
  useHotkeys(
    'enter',
    (e) => {
      // Whoever has the focus on a control presses that.
      if (
        e.target instanceof HTMLElement &&
        e.target.closest(
          'button,a,[role=button],[role=slider],[role=switch],[role=combobox],input,[role=gridcell],[role=row],[role=application]',
        )
      )
        return;
      const route = currentShow().routes.find((r) => r.id === selectedRoute());
      if (route?.unseen) send(route);
    },
    USUAL,
  );
  useHotkeys(
    'l',
    () => {
      if (useView.getState().place === 'tonight') return;
      const id = selectedRoute();
      if (id) fitToHeard(id);
    },
    USUAL,
  );
  useHotkeys(
    ['delete', 'backspace'],
    (e) => {
      if (onNumber(e)) return;
      if (useView.getState().place === 'tonight') {
        if (e.key === 'Backspace') perform({ do: 'back' });
        return;
      }
      const id = selectedRoute();
      if (id) {
        edit('delete a route', removeRoutes([id]));
        look({ route: null });
      }
    },
    USUAL,
  );
  useHotkeys(
    'escape',
    () => look({ route: null, signal: null, trying: null, moving: null, aiming: null, keys: false }),
    USUAL,
  );
  useHotkeys('?', () => look({ keys: !useView.getState().keys }), { ...USUAL, useKey: true });
  return (
    <Dialog
      open={open}
      onClose={() => look({ keys: false })}
      aria-labelledby="keys-title"
      slotProps={{ paper: { sx: { p: 3, minWidth: 460 } } }}
    >
      <Typography id="keys-title" variant="h2" sx={{ mb: 1.5 }}>
        Keys
      </Typography>
      <Box
        component="dl"
        sx={{ display: 'grid', gridTemplateColumns: 'auto 1fr', columnGap: 3, rowGap: 0.75, m: 0 }}
      >
        {SHORTCUTS.map(([keys, what]) => (
          <Box key={keys} sx={{ display: 'contents' }}>
            <Box component="dt" sx={{ fontFamily: FONT.number, fontWeight: 700 }}>
              {keys}
            </Box>
            <Box component="dd" sx={{ m: 0 }}>
              {what}
            </Box>
          </Box>
        ))}
      </Box>
    </Dialog>
  );
}
