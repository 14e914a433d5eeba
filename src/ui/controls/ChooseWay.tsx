'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import type { ReactNode } from 'react';

/** Asks which of a few ways it shall be; the first is at hand. */
export function ChooseWay({
  id,
  title,
  about,
  ways,
  children,
  onClose,
}: {
  readonly id: string;
  readonly title: string;
  readonly about: ReactNode;
  readonly ways: readonly { readonly name: string; readonly help: string; readonly choose: () => void }[];
  readonly children?: ReactNode;
  readonly onClose: () => void;
}) {
  return (
    <Dialog
      open
      onClose={onClose}
      aria-labelledby={id}
      slotProps={{ paper: { sx: { p: 2.5, width: 'min(560px, 94vw)' } } }}
    >
      <Typography id={id} variant="h2">
        {title}
      </Typography>
      <Box sx={(t) => ({ color: t.ink.paperFaint, fontSize: '0.92rem', mt: 0.5, overflowWrap: 'anywhere' })}>
        {about}
      </Box>
      <Box component="dl" sx={{ display: 'grid', gap: 1.5, mt: 2, mb: 0 }}>
        {ways.map(({ name, help, choose }, i) => (
          <Box key={name}>
            <Box component="dt">
              <Button variant="contained" autoFocus={i === 0} onClick={choose}>
                {name}
              </Button>
            </Box>
            <Box component="dd" sx={{ m: 0, mt: 0.5, fontSize: '0.92rem' }}>
              {help}
            </Box>
          </Box>
        ))}
      </Box>
      {children}
    </Dialog>
  );
}
