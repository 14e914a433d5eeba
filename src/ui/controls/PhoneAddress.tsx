'use client';
import { Button } from '@mui/material';
import { useState } from 'react';
import { useSession } from '../state/session';
import { AddressDialog, useBaseAddress } from './AddressDialog';
import { QrCode } from './QrCode';

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
    { base } = useBaseAddress(),
    address = key && base ? `${base}/phone?key=${key}${at}` : null;
  return (
    <>
      <Button variant={variant} onClick={() => setOpen(true)}>
        {label}
      </Button>
      <AddressDialog
        open={open}
        onClose={() => setOpen(false)}
        title={title}
        text={text}
        who="a phone"
        address={address}
        what="the phone’s page"
      >
        {address && <QrCode text={address} label="the phone’s page" />}
      </AddressDialog>
    </>
  );
}
