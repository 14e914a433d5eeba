'use client';
import { Box, Button, Typography } from '@mui/material';
import { useState } from 'react';
import { followSignal, findSignal, type Route } from '../../core/show';
import { SignalMenu } from '../route/SignalMenu';
import { currentShow, edit, useSession } from '../state/session';
import { heardOf } from './fitToHeard';

/** The signal that moves a route, as the bench's title; pressed, another is chosen in its place, and what shapes it stays. */
export function SignalOfRoute({ route }: { readonly route: Route }) {
  const [at, setAt] = useState<HTMLElement | null>(null);
  const name = useSession((s) => findSignal(s.history.show, route.signal)?.name) ?? 'Lost signal';
  return (
    <>
      <Typography variant="h2" sx={{ minWidth: 0 }}>
        <Button
          variant="text"
          aria-haspopup="menu"
          aria-label={`${name}: choose another signal`}
          title="Choose another signal; what shapes it stays."
          onClick={(e) => setAt(e.currentTarget)}
          sx={{
            font: 'inherit',
            color: 'inherit',
            px: 0.75,
            ml: -0.75,
            textAlign: 'left',
            '&:hover': { background: 'var(--bed)' },
          }}
        >
          {name}
          <Box component="span" aria-hidden sx={{ ml: 1, fontSize: '0.7em' }}>
            ▾
          </Box>
        </Button>
      </Typography>
      <SignalMenu
        at={at}
        target={route.target}
        label="Signals for this route"
        chosen={route.signal}
        onlyOne
        onClose={() => setAt(null)}
        onChoose={(signal) => {
          edit(`follow ${signal.name}`, followSignal(currentShow(), [route.id], signal, heardOf));
        }}
      />
    </>
  );
}
