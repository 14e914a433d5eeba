'use client';
import { CssBaseline, ThemeProvider } from '@mui/material';
import { SnackbarProvider } from 'notistack';
import { useEffect, useMemo } from 'react';
import { getSetting } from '../data/database';
import { Frame } from './frame/Frame';
import { Opening } from './opening/Opening';
import { Elsewhere } from './opening/Elsewhere';
import { start, stop, theEngine, useSession } from './state/session';
import { startNightLog } from './state/nightLog';
import { look, PLACES, useView, type PlaceName } from './state/view';
import { makeTheme } from './theme/theme';

/** The control window. @param demo - started by the demo command: the ferry sails at once */
export function App({ demo }: { readonly demo: boolean }) {
  const phase = useSession((s) => s.phase);
  const mode = useView((v) => v.mode);
  const theme = useMemo(() => makeTheme(mode), [mode]);
  useEffect(() => {
    const place = location.hash.slice(1) as PlaceName;
    if (PLACES.some((p) => p.name === place)) look({ place });
    void getSetting<'night' | 'day'>('mode', 'night').then((m) => look({ mode: m }));
    void getSetting('bright', 1).then((bright) => look({ bright }));
    void getSetting('locked', false).then((locked) => look({ locked }));
    start(demo);
    const endLog = startNightLog();
    // Sound may only begin at a press; any press will do.
    const unlock = (): void => {
      if (useSession.getState().phase === 'running') void theEngine()?.unlock();
    };
    window.addEventListener('pointerdown', unlock, true);
    window.addEventListener('keydown', unlock, true);
    return () => {
      window.removeEventListener('pointerdown', unlock, true);
      window.removeEventListener('keydown', unlock, true);
      endLog();
      stop();
    };
  }, [demo]);
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <SnackbarProvider
        maxSnack={3}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'right' }}
        style={{
          background: theme.ink.paper,
          color: theme.ink.paperText,
          fontFamily: theme.typography.fontFamily,
          fontSize: 15,
          maxWidth: 460,
          borderRadius: 0,
          clipPath: 'polygon(0 0,calc(100% - 18px) 0,100% 18px,100% 100%,0 100%)',
        }}
        iconVariant={{ warning: <b>Mind:&nbsp;</b> }}
      >
        {phase === 'running' ? <Frame /> : phase === 'opening' ? <Opening /> : <Elsewhere phase={phase} />}
      </SnackbarProvider>
    </ThemeProvider>
  );
}
