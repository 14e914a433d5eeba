'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import { useState } from 'react';
import { CopyAddress } from '../controls/CopyAddress';
import { QrCode } from '../controls/QrCode';
import { useSession } from '../state/session';

/** A phone's page that lights one lamp after the other: its address, to scan. */
export function WalkWithPhone() {
  const [open, setOpen] = useState(false);
  const key = useSession((s) => s.outlets?.phoneKey ?? null),
    here = useSession((s) => s.outlets?.address ?? null),
    elsewhere = useSession((s) => s.outlets?.elsewhere ?? NONE);
  const base = elsewhere[0] ?? here,
    address = key && base ? `${base}/phone?key=${key}` : null;
  return (
    <>
      <Button variant="text" onClick={() => setOpen(true)}>
        Walk with a phone …
      </Button>
      <Dialog
        open={open}
        onClose={() => setOpen(false)}
        aria-labelledby="walk-title"
        slotProps={{ paper: { sx: { p: 3, width: 560 } } }}
      >
        <Typography id="walk-title" variant="h2">
          Walk with a phone
        </Typography>
        <Box sx={{ my: 1 }}>
          Scan this: the phone lights one lamp after the other, full and white, and says which it is.
        </Box>
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
