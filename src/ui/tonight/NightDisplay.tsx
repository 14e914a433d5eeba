'use client';
import createCache from '@emotion/cache';
import { CacheProvider } from '@emotion/react';
import { Box, Button, ScopedCssBaseline } from '@mui/material';
import { useEffect } from 'react';
import { createPortal } from 'react-dom';
import { create } from 'zustand';
import { placeInNight } from '../../core/stage';
import { perform, setDark, setFreeze, currentShow, useSession } from '../state/session';
import { say } from '../state/notices';
import { DarkFreeze } from '../frame/DarkFreeze';
import { Cord } from './Cord';
import { FadeStrip } from './FadeStrip';
import { GoCard } from './GoCard';
import { LooseLooks } from './LooseLooks';
import { MasterRow } from './MasterRow';
import { SongHeading } from './SongHeading';

/** The window that shows the night beside this one, and where in it; null while there is none. */
interface Displayed {
  readonly at: Window;
  readonly root: HTMLElement;
  readonly cache: ReturnType<typeof createCache>;
}
const useDisplayed = create<{ readonly shown: Displayed | null }>(() => ({ shown: null }));
const NAME = 'batucada-night';

/** Opens the night in a window of its own, to be put on another display; or brings it to the front. */
function openNight(): void {
  const { shown } = useDisplayed.getState();
  if (shown && !shown.at.closed) {
    shown.at.focus();
    return;
  }
  const at = window.open('', NAME, 'popup,width=1280,height=720');
  if (!at) {
    say(
      'warning',
      'The browser did not open a window. Allow pop-up windows for this address, and try again.',
    );
    return;
  }
  const { document: page } = at;
  page.title = 'Tonight';
  page.documentElement.lang = 'en';
  page.head.replaceChildren();
  page.body.replaceChildren();
  page.body.style.margin = '0';
  // Letters and their faces; what components look like is made anew there.
  for (const sheet of document.querySelectorAll('link[rel=stylesheet], style:not([data-emotion])'))
    page.head.append(page.importNode(sheet, true));
  const root = page.createElement('div');
  page.body.append(root);
  const cache = createCache({ key: 'night', container: page.head });
  at.addEventListener('keydown', hear);
  at.addEventListener('keyup', pass);
  useDisplayed.setState({ shown: { at, root, cache } });
}

export function NightDisplayButton() {
  const { shown } = useDisplayed();
  return (
    <Button variant="outlined" aria-pressed={shown !== null} onClick={openNight}>
      On another display
    </Button>
  );
}

/** Keys mean there what they mean in Tonight; what only this window knows is passed on to it. */
function hear(e: KeyboardEvent): void {
  if (e.repeat || e.ctrlKey || e.metaKey || e.altKey) return;
  const { dark, freeze } = useSession.getState(),
    key = e.key.toLowerCase(),
    look = currentShow().looks.find((l) => l.key === key);
  const onSlider = e.target instanceof Element && e.target.closest('[role=slider]') !== null;
  if (e.key === ' ') perform({ do: 'go' });
  else if (e.key === 'Backspace') perform({ do: 'back' });
  else if (e.key === 'Home' && !onSlider) perform({ do: 'home' });
  else if (e.key === '0') setDark(!dark);
  else if (e.key === '9') setFreeze(!freeze);
  else if (look) perform({ do: 'look', look: look.id });
  else {
    pass(e);
    return;
  }
  e.preventDefault();
}
/** Letters and digits alone: what moves the focus or presses something is of that window. */
function pass(e: KeyboardEvent): void {
  if (e.key.length !== 1) return;
  document.dispatchEvent(new KeyboardEvent(e.type, e));
}

/** What that window shows, for as long as it is open. It goes with this one: it is a part of it. */
export function NightDisplay() {
  const { shown } = useDisplayed();
  useEffect(() => {
    if (!shown) return;
    const closed = setInterval(() => {
      if (shown.at.closed) useDisplayed.setState({ shown: null });
    }, 500);
    const close = (): void => shown.at.close();
    window.addEventListener('pagehide', close);
    return () => {
      clearInterval(closed);
      window.removeEventListener('pagehide', close);
    };
  }, [shown]);
  if (!shown) return null;
  return createPortal(
    <CacheProvider value={shown.cache}>
      <ScopedCssBaseline>
        <Night />
      </ScopedCssBaseline>
    </CacheProvider>,
    shown.root,
  );
}

function Night() {
  const show = useSession((s) => s.history.show),
    stage = useSession((s) => s.stage);
  const { song, words } = placeInNight(show, stage);
  return (
    <Box
      component="main"
      sx={(t) => ({
        height: '100vh',
        boxSizing: 'border-box',
        background: t.ink.ground,
        color: t.ink.paper,
        display: 'grid',
        gridTemplateRows: 'auto auto minmax(0, 1fr) auto',
        gap: 1,
        p: 1,
        overflow: 'hidden',
      })}
    >
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', minWidth: 0, minHeight: 84 }}>
        <SongHeading song={song} show={show} level="h1" />
        <FadeStrip show={show} stage={stage} where={words} />
        <Box sx={{ alignSelf: 'stretch', display: 'flex' }}>
          <DarkFreeze />
        </Box>
      </Box>
      {show.cues.length > 0 ? <Cord show={show} cue={stage.cue} next={stage.next} /> : <Box />}
      <Box
        sx={{
          minHeight: 0,
          display: 'grid',
          gap: 1,
          gridTemplateColumns: 'minmax(0, 1fr) minmax(0, 1fr)',
        }}
      >
        <GoCard show={show} next={stage.next} />
        <LooseLooks show={show} look={stage.look} />
      </Box>
      <MasterRow show={show} />
    </Box>
  );
}
