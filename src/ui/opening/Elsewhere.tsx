'use client';
import { Box, Button, Typography } from '@mui/material';
import { cutEdge } from '../theme/cutEdge';
import { start, type Phase } from '../state/session';
import { OPENING_STILL } from './still';

/** While there is no show in this window: it is starting, runs in another window, or cannot run at all. */
export function Elsewhere({ phase }: { readonly phase: Phase }) {
  return (
    <Box
      component="main"
      sx={{
        height: '100vh',
        display: 'grid',
        placeContent: 'center',
        gap: 2,
        p: 4,
        maxWidth: phase === 'starting' ? 'none' : 620,
        mx: 'auto',
      }}
    >
      {phase === 'starting' && (
        <>
          <Box
            sx={{
              width: 'min(720px, 80vw)',
              aspectRatio: '16 / 9',
              background: `#000 url(${OPENING_STILL}) center / cover`,
              clipPath: cutEdge(5, 5, 16),
            }}
          />
          <Typography role="status" variant="h2" component="h1">
            Getting the deck ready …
          </Typography>
        </>
      )}
      {phase === 'elsewhere' && (
        <>
          <Typography variant="h1">The show runs in another window</Typography>
          <Typography>
            Only one window can run it, so that sound and lamps have one master. Go to that window, or take
            the show over: it stops there and goes on here.
          </Typography>
          <Box>
            <Button variant="contained" size="large" onClick={() => start(false, true)}>
              Take it over here
            </Button>
          </Box>
        </>
      )}
      {phase === 'broken' && (
        <>
          <Typography variant="h1">This address cannot run a show</Typography>
          <Typography>
            Browsers share memory between threads only on a safe address. Open Batucada on the computer that
            it runs on, at the address that its terminal printed.
          </Typography>
        </>
      )}
    </Box>
  );
}
