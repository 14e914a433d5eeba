'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { useSession } from '../state/session';
import { goTo, look, PLACES } from '../state/view';
import { doorsOf } from './doors';
import { useMachine } from './machine';

const MARKS = { good: 'good', mind: 'mind', wrong: 'mend' } as const;

/** Before the doors open: everything that the night depends on, looked at anew every second. */
export function BeforeDoors() {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)}>
        Before the doors …
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        aria-labelledby="doors-title"
        slotProps={{ paper: { sx: { p: 3, width: 720, maxWidth: '96vw' } } }}
      >
        {open && <Lines close={() => setOpen(false)} />}
      </Dialog>
    </>
  );
}

function Lines({ close }: { readonly close: () => void }) {
  const session = useSession(),
    machine = useMachine(),
    lines = doorsOf(session, machine),
    open = lines.filter((l) => l.state !== 'good').length;
  return (
    <>
      <Typography id="doors-title" variant="h2">
        Before the doors
      </Typography>
      <Box role="status" sx={{ my: 1 }}>
        {open === 0
          ? 'All is well.'
          : `${open === 1 ? 'One thing' : `${open} things`} to look at; ${lines.length - open} are well.`}
      </Box>
      <Box
        component="ul"
        aria-label="What the night depends on"
        sx={{
          listStyle: 'none',
          p: 0,
          m: 0,
          display: 'grid',
          gap: 0.5,
          overflowY: 'auto',
          maxHeight: '62vh',
        }}
      >
        {lines.map((l, i) => (
          <Box
            component="li"
            key={`${l.what} ${i}`}
            sx={(t) => ({
              display: 'grid',
              gridTemplateColumns: '64px 150px minmax(0, 1fr) auto',
              gap: 1.5,
              alignItems: 'center',
              p: 1,
              background: l.state === 'good' ? 'transparent' : t.ink.paperShade,
              clipPath:
                l.state === 'wrong'
                  ? 'polygon(0 0,calc(100% - 16px) 0,100% 16px,100% 100%,0 100%)'
                  : undefined,
            })}
          >
            <Box component="span" sx={{ fontWeight: 700 }}>
              {MARKS[l.state]}
            </Box>
            <Box component="span" sx={{ fontWeight: 700, overflowWrap: 'anywhere' }}>
              {l.what}
            </Box>
            <Box component="span">
              {l.words} {l.remedy}
            </Box>
            {l.place && l.state !== 'good' ? (
              <Button
                variant="text"
                onClick={() => {
                  close();
                  goTo(l.place!);
                  if (l.place === 'tonight') look({ preparing: true });
                }}
              >
                to {PLACES.find((p) => p.name === l.place)!.label}
              </Button>
            ) : (
              <span />
            )}
          </Box>
        ))}
      </Box>
      <Box sx={{ mt: 2 }}>
        <Button variant="contained" onClick={close}>
          Done
        </Button>
      </Box>
    </>
  );
}
