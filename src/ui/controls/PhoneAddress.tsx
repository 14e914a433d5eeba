'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { CopyAddress } from './CopyAddress';
import { QrCode } from './QrCode';
import { useSession } from '../state/session';

/** The phones’ page: its address, to scan. @param at - which side of it opens first */
export function PhoneAddress({
  label,
  title,
  text,
  at = '',
  variant = 'text',
}: {
  readonly label: string;
  readonly title: string;
  readonly text: string;
  readonly at?: '' | '&lamps';
  readonly variant?: 'text' | 'outlined';
}) {
  const [open, setOpen] = useState(false);
  const key = useSession((s) => s.outlets?.phoneKey ?? null),
    here = useSession((s) => s.outlets?.address ?? null),
    elsewhere = useSession((s) => s.outlets?.elsewhere ?? NONE);
  const base = elsewhere[0] ?? here,
    address = key && base ? `${base}/phone?key=${key}${at}` : null;
  return (
    <>
      <Button variant={variant} onClick={() => setOpen(true)}>
        {label}
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        aria-labelledby="phone-title"
        slotProps={{ paper: { sx: { p: 3, width: 560 } } }}
      >
        <Typography id="phone-title" variant="h2">
          {title}
        </Typography>
        <Box sx={{ my: 1 }}>{text}</Box>
        {address && <QrCode text={address} label="the phone’s page" />}
        <CopyAddress address={address} what="the phone’s page" />
        {elsewhere.length === 0 && (
          <Box sx={{ mt: 1 }}>
            The server listens on this computer only, so a phone cannot reach it yet. Start it with
            BATUCADA_LISTEN=0.0.0.0.
          </Box>
        )}
        <Box sx={{ mt: 2 }}>
          <Button variant="contained" onClick={() => setOpen(false)}>
            Done
          </Button>
        </Box>
      </Dialog>
    </>
  );
}
const NONE: readonly string[] = [];
