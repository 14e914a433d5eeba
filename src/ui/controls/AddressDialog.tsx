'use client';
import { Box, Button, Dialog, Typography } from '@mui/material';
import type { ReactNode } from 'react';
import { useSession } from '../state/session';
import { CopyAddress } from './CopyAddress';

/** Where others reach this server: its address in the network, or this machine's own; null while there is no bridge. */
export function useBaseAddress(): { readonly base: string | null; readonly onlyHere: boolean } {
  const here = useSession((s) => s.outlets?.address ?? null),
    elsewhere = useSession((s) => s.outlets?.elsewhere[0] ?? null);
  return { base: elsewhere ?? here, onlyHere: elsewhere === null };
}

/** An address for somebody else, to copy; and what to do where nobody else can reach it. */
export function AddressDialog({
  open,
  onClose,
  title,
  text,
  who,
  address,
  what,
  children,
}: {
  readonly open: boolean;
  readonly onClose: () => void;
  readonly title: string;
  readonly text: string;
  /** Who cannot reach it yet, while the server listens on this computer only. */
  readonly who: string;
  readonly address: string | null;
  readonly what: string;
  /** What stands before the address. */
  readonly children?: ReactNode;
}) {
  const { onlyHere } = useBaseAddress();
  return (
    <Dialog
      open={open}
      onClose={onClose}
      aria-labelledby="address-title"
      slotProps={{ paper: { sx: { p: 3, width: 600 } } }}
    >
      <Typography id="address-title" variant="h2">
        {title}
      </Typography>
      <Box sx={{ my: 1 }}>{text}</Box>
      {children}
      <CopyAddress address={address} what={what} />
      {onlyHere && (
        <Box sx={{ mt: 1 }}>
          The server listens on this computer only, so {who} cannot reach it yet. Start it with
          BATUCADA_LISTEN=0.0.0.0.
        </Box>
      )}
      <Box sx={{ mt: 2 }}>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </Box>
    </Dialog>
  );
}
