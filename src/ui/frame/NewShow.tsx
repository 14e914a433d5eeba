'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { startEmpty, startWithDevice } from '../state/session';

const WAYS = [
  ['Empty', 'Nothing in it. Add what you listen to, and what is to move.', startEmpty],
  [
    'With something to look at',
    'The ferry on its river, two lamps and a frame, moved by the microphone.',
    () => startWithDevice(),
  ],
] as const;

/** What a new show begins with. The show that was open is kept in the browser. */
export function NewShow({ onClose }: { readonly onClose: () => void }) {
  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby="new-show"
      slotProps={{ paper: { sx: { p: 2.5, width: 'min(560px, 94vw)' } } }}
    >
      <Typography id="new-show" variant="h2">
        A new show
      </Typography>
      <Box sx={(t) => ({ color: t.ink.paperFaint, fontSize: '0.92rem', mt: 0.5 })}>
        The one that is open stays under “Shows in this browser”.
      </Box>
      <Box component="dl" sx={{ display: 'grid', gap: 1.5, mt: 2, mb: 0 }}>
        {WAYS.map(([name, help, start], i) => (
          <Box key={name}>
            <Box component="dt">
              <Button
                variant="contained"
                autoFocus={i === 0}
                onClick={() => {
                  onClose();
                  void start();
                }}
              >
                {name}
              </Button>
            </Box>
            <Box component="dd" sx={{ m: 0, mt: 0.5, fontSize: '0.92rem' }}>
              {help}
            </Box>
          </Box>
        ))}
      </Box>
    </Dialog>
  );
}
